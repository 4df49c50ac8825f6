import { bad, good } from '../../outcome/index.js';
import type { FieldKind } from './definition.js';

export const text: FieldKind = {
  id: 'text',
  label: 'Text',
  pad: { side: 'right', with: ' ' },
  read: (raw) => good(raw),
  write: (value) => (typeof value === 'string' || typeof value === 'number' ? good(String(value)) : bad('takes a text.')),
};
