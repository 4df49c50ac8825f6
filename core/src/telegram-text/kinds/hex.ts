import { bad, good } from '../../outcome/index.js';
import type { FieldKind } from './definition.js';
import { told } from './integer.js';

export const hex: FieldKind = {
  id: 'hex',
  label: 'Hex number',
  pad: { side: 'left', with: '0' },
  read(raw) {
    const trimmed = raw.trim();
    if (!/^[0-9a-f]+$/i.test(trimmed))
      return bad(trimmed === '' ? 'is empty, where a hex number is wanted.' : `is “${raw}”, which is no hex number.`);
    const value = BigInt(`0x${trimmed}`);
    return good(value <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(value) : value.toString());
  },
  write(value) {
    const whole = typeof value === 'string' && /^\d+$/.test(value) ? BigInt(value) : value;
    if (typeof whole !== 'bigint' && !(typeof whole === 'number' && Number.isSafeInteger(whole) && whole >= 0))
      return bad(`takes a whole number from 0 on, not ${told(value)}.`);
    return good(whole.toString(16).toUpperCase());
  },
};
