import { bad, good } from '../../outcome/index.js';
import type { FieldKind } from './definition.js';
import { told } from './integer.js';

const DECIMAL = /^([+-]?) *(\d*)(?:[.,](\d*))?(?:[eE]([+-]?\d{1,3}))?$/;

/** A number with a point, or with a comma; without either, and with `decimals`, its last figures stand behind a point that is not sent. */
export const decimal: FieldKind = {
  id: 'decimal',
  label: 'Decimal number',
  pad: { side: 'left', with: ' ' },
  read(raw, { decimals }) {
    const trimmed = raw.trim();
    const found = DECIMAL.exec(trimmed);
    const [, sign, whole, part, exponent] = found ?? [];
    if (!found || (!whole && !part))
      return bad(trimmed === '' ? 'is empty, where a number is wanted.' : `is “${raw}”, which is no number.`);
    const isImplied = part === undefined && exponent === undefined && decimals !== undefined;
    const value = Number(isImplied ? `${whole}e-${decimals}` : `${whole || 0}.${part || 0}e${exponent ?? 0}`);
    return Number.isFinite(value)
      ? good(sign === '-' && value !== 0 ? -value : value)
      : bad(`is “${raw}”, which is larger than any number.`);
  },
  write(value, { decimals }) {
    if (typeof value !== 'number' || !Number.isFinite(value)) return bad(`takes a number, not ${told(value)}.`);
    if (decimals === undefined) return good(plain(value));
    const shifted = Number(`${plain(value)}e${decimals}`);
    const whole = Math.round(shifted);
    if (Math.abs(shifted - whole) > Math.max(1e-9, Math.abs(shifted) * 1e-12) || !Number.isSafeInteger(whole))
      return bad(`has ${decimals} decimals; ${plain(value)} has more.`);
    return good(String(whole === 0 ? 0 : whole));
  },
};

/** Without an exponent. */
function plain(value: number): string {
  const text = String(value === 0 ? 0 : value);
  const [figures, exponent] = text.split('e');
  if (exponent === undefined) return text;
  const behind = (figures!.split('.')[1] ?? '').length - Number(exponent);
  return behind > 0 ? value.toFixed(Math.min(100, behind)) : BigInt(value).toString();
}
