import type { TelegramField } from '../../telegram/index.js';
import { checksumIn } from './checksums.js';
import { classOf } from './endings.js';
import { kindOfAll } from './kinds.js';

const separators = [';', ',', '\t', '|', '/'] as const;
/** How many characters at the end of a fixed telegram may be its checksum. */
const sumLengths = [2, 4, 1, 3];

/** What samples are made of: parts between separators where all have as many, else columns. */
export function fieldsOf(texts: readonly string[]): { fields: TelegramField[]; says: string } {
  const separator = separators.find((one) => isEven(texts, one));
  if (separator !== undefined)
    return { fields: byParts(texts, separator), says: `Its parts are separated by ${separator === '\t' ? 'TAB' : `“${separator}”`}.` };
  if (texts.every(({ length }) => length === texts[0]!.length))
    return { fields: byColumns(texts), says: 'Its fields are at fixed places.' };
  const words = isEven(texts, ' ') ? byParts(texts, ' ') : [];
  if (words.some(({ kind }) => kind !== 'text')) return { fields: words, says: 'Its parts are separated by a blank.' };
  return { fields: byNumber(texts), says: 'It has neither separators nor fixed places: the first number in it is looked for.' };
}

/** Whether all have as many parts, and more than one. */
function isEven(texts: readonly string[], separator: string): boolean {
  const count = texts[0]!.split(separator).length;
  return count > 1 && texts.every((text) => text.split(separator).length === count);
}

function byParts(texts: readonly string[], separator: string): TelegramField[] {
  const rows = texts.map((text) => text.split(separator));
  const last = rows[0]!.length - 1;
  const sum = checksumIn(texts, (text) => {
    const from = text.lastIndexOf(separator) + separator.length;
    return { from, to: text.length, before: from - separator.length };
  });
  return rows[0]!.map((_, number): TelegramField => {
    const at = { separator, number };
    if (sum && number === last) return { name: 'check', at, kind: 'checksum', checksum: sum };
    const { padWith: _pad, ...kind } = kindOfAll(rows.map((row) => row[number]!));
    return { name: `field ${number + 1}`, at, ...kind };
  });
}

/** Neighbouring columns of one kind are a field; a point between figures belongs to its number. */
function byColumns(texts: readonly string[]): TelegramField[] {
  const { length } = texts[0]!;
  const found = sumLengths.flatMap((own) => {
    const sum = length > own + 1 ? checksumIn(texts, () => ({ from: length - own, to: length, before: length - own })) : null;
    return sum ? [{ own, sum }] : [];
  })[0];
  const end = length - (found?.own ?? 0);
  const kinds = Array.from({ length: end }, (_, column) => columnKind(texts, column));
  const fields: TelegramField[] = [];
  for (let from = 0; from < end;) {
    let to = from + 1;
    while (to < end && belongs(kinds, texts, to)) to += 1;
    const raw = texts.map((text) => text.slice(from, to));
    // A sign that never changes, such as a unit of per cent, tells nothing.
    const isFiller = kinds[from] === 'other' && new Set(raw).size === 1;
    if (!isFiller && raw.some((text) => text.trim() !== ''))
      fields.push({ name: `field ${fields.length + 1}`, at: { from, length: to - from }, ...kindOfAll(raw) });
    from = to;
  }
  if (found) fields.push({ name: 'check', at: { from: end, length: found.own }, kind: 'checksum', checksum: found.sum });
  return fields;
}

function columnKind(texts: readonly string[], column: number): ReturnType<typeof classOf> | 'mixed' {
  const all = new Set(texts.map((text) => classOf(text[column]!)));
  return all.size === 1 ? [...all][0]! : 'mixed';
}

function belongs(kinds: readonly string[], texts: readonly string[], column: number): boolean {
  const isPoint = (at: number) => kinds[at] === 'other' && texts.every((text) => text[at] === '.' || text[at] === ',');
  if (isPoint(column)) return kinds[column - 1] === 'number' && kinds[column + 1] === 'number';
  if (isPoint(column - 1)) return true;
  if (kinds[column] !== kinds[column - 1]) return false;
  // A sign, or a blank after a figure, begins another number.
  return kinds[column] !== 'number' || !texts.some((text) => /[0-9]/.test(text[column - 1]!) && /[+\- ]/.test(text[column]!));
}

function byNumber(texts: readonly string[]): TelegramField[] {
  const pattern = '[-+]? *[0-9]+(?:[.,][0-9]+)?';
  const isWhole = texts.every((text) => /\d/.test(text) && !/\d[.,]\d/.test(text));
  return [{ name: 'field 1', at: { pattern }, kind: isWhole ? 'integer' : 'decimal' }];
}
