import * as z from 'zod';
import type { BitSpan } from './definition.js';

export const number = z.number('A number.');
export const Bit = z.int('A bit is a whole number.').min(0, 'Bits start at 0.').max(31, 'Steps reach bits 0 to 31.');
export const BitCount = z.int('A whole number.').min(1, 'At least one bit.').max(32, 'At most 32 bits.');

export const staysInside = ({ at, count }: BitSpan) => at + count <= 32;
export const pastTheEnd = { message: 'It would end past bit 31.', path: ['count'] };

export function spanText({ at, count }: BitSpan): string {
  return count === 1 ? `bit ${at}` : `bits ${at}…${at + count - 1}`;
}
