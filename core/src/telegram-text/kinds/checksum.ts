import { checksum as sumOf, toHex } from '../../frame/index.js';
import { bad, good, type Outcome } from '../../outcome/index.js';
import type { TelegramField } from '../../telegram/index.js';
import type { Around, FieldKind } from './definition.js';

/** What is worked out of other characters of the same telegram. A wrong one says what it should be. */
export const checksum: FieldKind = {
  id: 'checksum',
  label: 'Checksum',
  pad: { side: 'left', with: '0' },
  read(raw, field, around) {
    const wanted = writtenSum(field, around);
    if (!wanted.ok) return wanted;
    const { value, text } = wanted.value;
    const isRight =
      field.checksum!.written === 'decimal' ? /^\d+$/.test(raw.trim()) && Number(raw) === value : raw.toUpperCase() === text.toUpperCase();
    if (isRight) return good(value);
    const shown = (sum: string) =>
      field.checksum!.written === 'raw' ? toHex(Uint8Array.from(sum, (one) => one.charCodeAt(0) & 0xff)) : sum;
    return bad(`is ${shown(raw)}, but the characters that it covers give ${shown(text)}.`);
  },
  // It is worked out when all else is written.
  write: () => good(''),
};

/** The checksum of a text, as a number and as it is written there. */
export function writtenSum({ checksum: rule }: TelegramField, { text, bytes }: Around): Outcome<{ value: number; text: string }> {
  if (!rule) return bad('says of nothing what it covers.');
  const [from, to] = [rule.from, rule.to].map((at) => (at < 0 ? text.length + at : at));
  if (from! < 0 || to! >= text.length || from! > to!)
    return bad(`covers characters ${rule.from} to ${rule.to}; the text has ${text.length}, so there are none of these.`);
  const sum = sumOf(rule.kind, bytes(from!, to! + 1));
  const written = {
    hex: () => toHex(sum.bytes).replaceAll(' ', ''),
    decimal: () => String(sum.value),
    raw: () => String.fromCharCode(...sum.bytes),
  }[rule.written]();
  return good({ value: sum.value, text: written });
}

/** How many characters it takes; null where that depends on its value. */
export function sumLength({ checksum: rule }: TelegramField): number | null {
  const bytes = rule?.kind === 'crc16-modbus' ? 2 : 1;
  return { hex: 2 * bytes, raw: bytes, decimal: null }[rule?.written ?? 'hex'];
}
