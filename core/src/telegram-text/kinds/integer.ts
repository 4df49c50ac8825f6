import { bad, good } from '../../outcome/index.js';
import type { FieldKind } from './definition.js';

const WHOLE = /^([+-]?) *(\d+)$/;

export const integer: FieldKind = {
  id: 'integer',
  label: 'Whole number',
  pad: { side: 'left', with: ' ' },
  read(raw) {
    const found = WHOLE.exec(raw.trim());
    if (!found) return bad(raw.trim() === '' ? 'is empty, where a whole number is wanted.' : `is “${raw}”, which is no whole number.`);
    const digits = `${found[1] === '-' ? '-' : ''}${found[2]!}`;
    return good(Number.isSafeInteger(Number(digits)) ? Number(digits) : String(BigInt(digits)));
  },
  write(value) {
    if (typeof value === 'number' && Number.isSafeInteger(value)) return good(String(value === 0 ? 0 : value));
    if (typeof value === 'string' && /^-?\d+$/.test(value)) return good(value);
    return bad(`takes a whole number, not ${told(value)}.`);
  },
};

/** A value as it is told in a sentence. */
export function told(value: unknown): string {
  if (value === undefined) return 'nothing';
  return typeof value === 'string' ? `“${value}”` : JSON.stringify(value);
}
