import type { TelegramField } from '../../telegram/index.js';
import { checksum } from './checksum.js';
import { code } from './code.js';
import { counter } from './counter.js';
import { decimal } from './decimal.js';
import type { FieldKind } from './definition.js';
import { hex } from './hex.js';
import { integer } from './integer.js';
import { text } from './text.js';

/** Every kind of a field. A new one is a file of its own, its name here, and its id in `FieldKindName`. */
export const fieldKinds: readonly FieldKind[] = [text, integer, decimal, hex, code, counter, checksum];

const byId = new Map(fieldKinds.map((kind) => [kind.id, kind]));

export function kindOf({ kind }: Pick<TelegramField, 'kind'>): FieldKind {
  return byId.get(kind)!;
}
