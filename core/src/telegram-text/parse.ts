import { fromHex } from '../frame/index.js';
import type { Telegram, TelegramField } from '../telegram/index.js';
import type { Around, FieldValue } from './kinds/definition.js';
import { kindOf } from './kinds/list.js';
import { type Locate, locator, Parts } from './places/locate.js';
import { bytesAsTheyCame, encodingProblem, textOf, visible } from '../telegram/index.js';

/** A field that was found: `from` and `to` count from 0 in the text between start and end, both included; the value is null where it is none. */
export interface ParsedField {
  name: string;
  from: number;
  to: number;
  raw: string;
  value: FieldValue | null;
}

/** What a text gives by a telegram. It is sound where there is no problem. */
export interface Parsed {
  ok: boolean;
  fields: ParsedField[];
  problems: string[];
  sentence: string;
}

const MOST_TOLD = 6;

/** A telegram made ready to read many texts. */
export class Reader {
  readonly start: Uint8Array;
  readonly marks: readonly Uint8Array[];
  private readonly located: readonly { field: TelegramField; locate: Locate }[];

  constructor(readonly telegram: Telegram) {
    this.start = bytesIn(telegram.start ?? '');
    this.marks = (telegram.end ?? []).map(bytesIn).sort((a, b) => b.length - a.length);
    this.located = telegram.fields.map((field) => ({ field, locate: locator(field.at) }));
  }

  /** Reads the bytes between start and end. */
  read(bytes: Uint8Array, also: readonly string[] = []): Parsed {
    const { encoding } = this.telegram;
    const text = textOf(bytes, encoding);
    const around = aroundOf(text, encoding);
    const parts = new Parts(text);
    const fields: ParsedField[] = [];
    const problems = [...also, ...this.lengthProblem(bytes.length)];
    const { lengthField } = this.telegram;
    const raw: { from: number; to: number }[] =
      lengthField?.written === 'raw' ? [{ from: lengthField.from, to: lengthField.from + lengthField.length }] : [];
    for (const { field, locate } of this.located) {
      const at = locate(text, parts);
      if (!at.ok) {
        problems.push(`${field.name} ${at.problem.message}`);
        continue;
      }
      const { from, to } = at.value;
      const own = text.slice(from, to);
      const value = kindOf(field).read(bare(own, field), field, around);
      if (!value.ok) problems.push(`${field.name} ${visible(value.problem.message)}`);
      if (field.checksum?.written === 'raw') raw.push({ from, to });
      fields.push({ name: field.name, from, to: to - 1, raw: own, value: value.ok ? value.value : null });
    }
    const wrong = encodingProblem(text, encoding, (at) => raw.some(({ from, to }) => at >= from && at < to));
    if (wrong) problems.push(wrong);
    return { ok: problems.length === 0, fields, problems, sentence: sentenceOf(fields, problems, text) };
  }

  /** The same of whole bytes as they were sent, start and end included; what of these is missing is a problem unless it may be left out. */
  readWhole(bytes: Uint8Array, mayLackEnds: boolean): Parsed {
    const problems: string[] = [];
    let [from, to] = [0, bytes.length];
    if (this.start.length > 0) {
      if (beginsWith(bytes, this.start, 0)) from = this.start.length;
      else if (!mayLackEnds) problems.push(`It does not begin with ${this.telegram.start!}.`);
    }
    if (this.marks.length > 0) {
      const mark = this.marks.find((one) => to - one.length >= from && beginsWith(bytes, one, to - one.length));
      if (mark) to -= mark.length;
      else if (!mayLackEnds) problems.push(`It does not end with ${this.telegram.end!.join(' or ')}.`);
    }
    return this.read(bytes.subarray(from, to), problems);
  }

  /** Whether the bytes between start and end are a sound telegram; tells nothing else, and stops at the first that is wrong. */
  isSound(bytes: Uint8Array): boolean {
    if (this.lengthProblem(bytes.length).length > 0) return false;
    const { encoding } = this.telegram;
    const text = textOf(bytes, encoding);
    const around = aroundOf(text, encoding);
    const parts = new Parts(text);
    return this.located.every(({ field, locate }) => {
      const at = locate(text, parts);
      return at.ok && kindOf(field).read(bare(text.slice(at.value.from, at.value.to), field), field, around).ok;
    });
  }

  private lengthProblem(got: number): string[] {
    const { length } = this.telegram;
    return length === undefined || got === length ? [] : [`It has ${got} byte${got === 1 ? '' : 's'}, not ${length}.`];
  }
}

/** Without what fills a field up; of what is all filling, one character stays where it may be a figure. */
export function bare(raw: string, field: TelegramField): string {
  const kind = kindOf(field);
  // A checksum is as long as it is, and a hex number may begin with as many zeros as it likes.
  if (field.kind === 'checksum' || (field.kind === 'hex' && !field.pad && !field.padWith)) return raw;
  if (!('length' in field.at) && !field.pad && !field.padWith) return raw;
  const [side, filling] = [field.pad ?? kind.pad.side, field.padWith ?? kind.pad.with];
  let [from, to] = [0, raw.length];
  const least = filling === '0' ? 1 : 0;
  if (side === 'left') while (to - from > least && raw[from] === filling) from += 1;
  else while (to - from > least && raw[to - 1] === filling) to -= 1;
  return raw.slice(from, to);
}

export function aroundOf(text: string, encoding: Telegram['encoding']): Around {
  return { text, bytes: (from, to) => bytesAsTheyCame(text.slice(from, to), encoding) };
}

function sentenceOf(fields: readonly ParsedField[], problems: readonly string[], text: string): string {
  if (problems.length > 0) return problems[0]!;
  const told = fields
    .slice(0, MOST_TOLD)
    .map(({ name, value }) => `${name} ${typeof value === 'string' ? visible(value.trim()) : String(value)}`);
  return `${told.join(', ')}${fields.length > MOST_TOLD ? ` and ${fields.length - MOST_TOLD} more` : ''}${text.length === 0 ? ' out of an empty text' : ''}.`;
}

/** Hex that a schema has let through. */
export function bytesIn(hex: string): Uint8Array {
  const bytes = hex.trim() === '' ? null : fromHex(hex);
  return bytes?.ok ? bytes.value : new Uint8Array();
}

export function beginsWith(bytes: Uint8Array, mark: Uint8Array, at: number): boolean {
  if (at < 0 || at + mark.length > bytes.length) return false;
  for (let index = 0; index < mark.length; index++) if (bytes[at + index] !== mark[index]) return false;
  return true;
}
