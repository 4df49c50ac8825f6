import { integer } from './integer.js';
import type { FieldKind } from './definition.js';

/** A whole number that goes up by one from telegram to telegram, so that a lost one is seen. */
export const counter: FieldKind = { ...integer, id: 'counter', label: 'Counter' };
