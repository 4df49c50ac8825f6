import { joined } from '../common/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import type { Telegram, TelegramField } from '../telegram/index.js';
import { sumLength, writtenSum } from './kinds/checksum.js';
import { kindOf } from './kinds/list.js';
import { aroundOf, bytesIn, Reader } from './parse.js';
import type { LengthField } from '../telegram/index.js';
import { bytesOfText } from '../telegram/index.js';

/** A field with the characters that it gets. */
interface Written {
  field: TelegramField;
  text: string;
}

/**
 * A telegram with these values, as its bytes with start and end, and as text. A value that does not fit its field is a problem at its
 * name. A checksum is worked out; what no field says is filled with blanks.
 */
export function buildTelegram(telegram: Telegram, values: Readonly<Record<string, unknown>>): Outcome<{ bytes: Uint8Array; text: string }> {
  const written: Written[] = [];
  for (const field of telegram.fields) {
    const text = writeField(field, values);
    if (!text.ok) return bad(`${field.name} ${text.problem.message}`, 'values', field.name);
    written.push({ field, text: text.value });
  }
  const unknown = Object.keys(values).find((name) => !telegram.fields.some((field) => field.name === name));
  if (unknown !== undefined) return bad(`There is no field “${unknown}”.`, 'values', unknown);
  const separators = new Set(telegram.fields.flatMap(({ at }) => ('separator' in at ? [at.separator] : [])));
  if (separators.size > 1) return bad('Fields between separators of several kinds are read, but not written.');
  const laid = withSums(telegram, written, [...separators][0] ?? null);
  if (!laid.ok) return laid;
  const text = laid.value;
  const bytes = bytesOfText(text, telegram.encoding);
  if (!bytes.ok && !hasRaw(telegram)) return bytes;
  const own = bytes.ok ? bytes.value : Uint8Array.from(text, (character) => character.charCodeAt(0) & 0xff);
  const wrong = whyNotCut(telegram, own);
  if (wrong) return bad(wrong, 'values');
  const read = new Reader(telegram).read(own);
  if (!read.ok) return bad(`What these values give would not be read again: ${read.problems[0]!}`, 'values');
  const ends = telegram.end ? bytesIn(telegram.end[0]!) : new Uint8Array();
  return good({ bytes: joined([bytesIn(telegram.start ?? ''), own, ends]), text });
}

function hasRaw({ fields }: Telegram): boolean {
  return fields.some(({ checksum }) => checksum?.written === 'raw');
}

function writeField(field: TelegramField, values: Readonly<Record<string, unknown>>): Outcome<string> {
  const { at, name } = field;
  if ('pattern' in at) return bad('is found by a pattern, so nobody knows where it is to be written.');
  if (field.kind === 'checksum') return good('');
  if (!(name in values)) return bad('has no value.');
  const kind = kindOf(field);
  const text = kind.write(values[name], field);
  if (!text.ok) return text;
  if ('separator' in at) {
    if (text.value.includes(at.separator)) return bad(`is “${text.value}”, in which there is the separator “${at.separator}”.`);
    return text;
  }
  return filled(text.value, field, at.length);
}

/** Filled up to a length; a sign stays before zeros. */
function filled(text: string, field: TelegramField, length: number): Outcome<string> {
  if (text.length > length) return bad(`is “${text}”, which has ${text.length} characters; there is room for ${length}.`);
  const kind = kindOf(field);
  const [side, filling] = [field.pad ?? kind.pad.side, field.padWith ?? kind.pad.with];
  if (side === 'right') return good(text.padEnd(length, filling));
  return good(filling === '0' && text.startsWith('-') ? `-${text.slice(1).padStart(length - 1, filling)}` : text.padStart(length, filling));
}

/** The text with its checksums, which may cover each other as long as one does not cover itself. */
function withSums(telegram: Telegram, written: readonly Written[], separator: string | null): Outcome<string> {
  const sums = written.filter(({ field }) => field.kind === 'checksum');
  const lengths = new Map(sums.map(({ field }) => [field, 'length' in field.at ? field.at.length : (sumLength(field) ?? 1)]));
  // A decimal checksum may need more room than was thought, which moves what lies behind it.
  for (let tries = 0; tries < 6; tries++) {
    const holding = written.map(({ field, text }) => ({ field, text: lengths.has(field) ? '0'.repeat(lengths.get(field)!) : text }));
    let text = layOut(telegram, holding, separator);
    if (!text.ok) return text;
    let isLonger = false;
    for (const { field } of sums) {
      const sum = writtenSum(field, aroundOf(text.value, telegram.encoding));
      if (!sum.ok) return bad(`${field.name} ${sum.problem.message}`);
      const room = lengths.get(field)!;
      if (sum.value.text.length > room) {
        if ('length' in field.at)
          return bad(`${field.name} is ${sum.value.text}, which has ${sum.value.text.length} characters; there is room for ${room}.`);
        lengths.set(field, sum.value.text.length);
        isLonger = true;
      }
      holding.find((one) => one.field === field)!.text = sum.value.text.padStart(room, '0');
      text = layOut(telegram, holding, separator);
      if (!text.ok) return text;
    }
    if (!isLonger) return text;
  }
  return bad('Its checksums cover each other, so that none is ever right.');
}

/** The fields at their places; those from the end where the end is, once the others are there. */
function layOut(telegram: Telegram, written: readonly Written[], separator: string | null): Outcome<string> {
  const parts: string[] = [];
  for (const { field, text } of written) if ('separator' in field.at) parts[field.at.number] = text;
  const between = separator === null ? '' : Array.from(parts, (part) => part ?? '').join(separator);
  const placed = written.flatMap(({ field, text }) => ('length' in field.at ? [{ ...field.at, name: field.name, text }] : []));
  const fromEnd = Math.max(0, ...placed.filter(({ from }) => from < 0).map(({ from }) => -from));
  const least = Math.max(between.length, ...placed.filter(({ from }) => from >= 0).map(({ from, length }) => from + length));
  const length = telegram.length ?? least + fromEnd;
  const characters: (string | undefined)[] = Array.from({ length }, (_, at) => between[at]);
  for (const { from: given, text, name } of placed) {
    const from = given < 0 ? length + given : given;
    for (let at = 0; at < text.length; at++) {
      if (from + at >= length || from + at < 0) return bad(`${name} lies outside of the ${length} characters of the telegram.`);
      characters[from + at] = text[at];
    }
  }
  const text = Array.from(characters, (character) => character ?? ' ').join('');
  return good(telegram.lengthField ? withLength(text, telegram.lengthField) : text);
}

function withLength(text: string, { from, length, written, adds }: LengthField): string {
  const value = text.length - adds;
  const own =
    written === 'raw'
      ? String.fromCharCode(...Array.from({ length }, (_, at) => (value >> (8 * (length - 1 - at))) & 0xff))
      : value
          .toString(written === 'hex' ? 16 : 10)
          .toUpperCase()
          .padStart(length, '0');
  return text.slice(0, from) + own + text.slice(from + length);
}

/** Why a receiver would cut this text elsewhere than at its end; null where it would not. */
function whyNotCut(telegram: Telegram, bytes: Uint8Array): string | null {
  if (telegram.length !== undefined && bytes.length !== telegram.length)
    return `It would have ${bytes.length} bytes, not ${telegram.length}.`;
  const marks = (telegram.end ?? []).map(bytesIn);
  for (let at = 0; at < bytes.length; at++)
    for (const mark of marks)
      if (mark.every((byte, index) => bytes[at + index] === byte)) return `Its text would have an end mark at character ${at}.`;
  return null;
}
