import { blankPoint, type DeviceTelegram, type Point, type ProjectDocument } from '../model/index.js';
import { good, type Outcome } from '../outcome/index.js';
import { messageOf } from '../place/index.js';
import type { TelegramField } from '../telegram/index.js';
import type { ParsedField } from '../telegram-text/index.js';
import { placeFar } from '../placing/index.js';
import { readSamples } from './samples.js';

/** The longest text that one point keeps, in registers. */
const MOST_REGISTERS = 125;

/**
 * Points for the fields of a telegram that have none yet, and a bit that says whether its values are good, placed where the carrier reads
 * them. What a field holds is taken from the samples.
 */
export function pointsOfTelegram(document: ProjectDocument, telegram: DeviceTelegram, newId: () => string): Outcome<Point[]> {
  const own = document.points.filter(({ place }) => messageOf(place) === telegram.id);
  const ids = () => ({ id: newId(), projectId: telegram.projectId, deviceId: telegram.deviceId });
  const has = (field: string) => own.some(({ place }) => place.kind === 'field' && place.field === field);
  const wanted = telegram.telegram.fields.filter(({ kind, name }) => kind !== 'checksum' && !has(name));
  const made = wanted.map((field): Point => ({
    ...blankPoint(ids()),
    ...shapeOf(field, came(telegram, field.name)),
    name: nameOf(field.name),
    place: { kind: 'field', telegramId: telegram.id, field: field.name, pinned: false },
  }));
  const isTold = own.some(({ place }) => place.kind === 'telegramState' && place.state === 'valid');
  if (telegram.direction === 'sent' && !isTold)
    made.push({
      ...blankPoint(ids()),
      ...{ name: `${telegram.name} is valid`, type: 'bit', bit: 0 },
      place: { kind: 'telegramState', telegramId: telegram.id, state: 'valid', pinned: false },
    });
  if (made.length === 0) return good([]);
  const telegrams = [...document.telegrams.filter(({ id }) => id !== telegram.id), telegram];
  return placeFar({ ...document, telegrams }, telegram.deviceId, made);
}

/** `gross weight` → `Gross weight`. */
function nameOf(field: string): string {
  return `${field[0]!.toUpperCase()}${field.slice(1)}`.slice(0, 80);
}

/** What came in a field, as it came. */
function came(telegram: DeviceTelegram, field: string): ParsedField[] {
  return readSamples(telegram).flatMap(({ ok, fields }) =>
    ok ? fields.filter(({ name, value }) => name === field && value !== null) : [],
  );
}

type Shape = Partial<Pick<Point, 'type' | 'length' | 'encoding' | 'scale' | 'codes'>>;

function shapeOf(field: TelegramField, parsed: readonly ParsedField[]): Shape {
  const values = parsed.map(({ value }) => value!);
  const { kind, at, codes } = field;
  const characters = 'length' in at ? at.length : Math.max(2, ...values.map((value) => String(value).length));
  const text: Shape = { type: 'string', encoding: 'ascii', length: Math.min(MOST_REGISTERS, Math.ceil(characters / 2)) };
  if (kind === 'code' && codes) return { type: 'uint16', codes: Object.values(codes).map((name, value) => ({ value, name })) };
  if (kind === 'text' || kind === 'code') return text;
  const numbers = values.map(Number);
  const decimals = kind === 'decimal' ? (field.decimals ?? Math.max(0, ...parsed.map(({ raw }) => decimalsOf(raw)))) : 0;
  const factor = 10 ** -decimals;
  const least = Math.min(0, ...numbers) / factor;
  // A field that has room for more figures than came yet may send them.
  const most =
    Math.max(1, ...numbers, 'length' in at ? 10 ** Math.min(9, at.length - (decimals ? 1 : 0)) * (decimals ? factor : 1) - factor : 0) /
    factor;
  const isSigned = least < 0 || kind === 'decimal' || kind === 'integer';
  const wide = most > (isSigned ? 0x7fff : 0xffff) || least < -0x8000;
  return {
    type: isSigned ? (wide ? 'int32' : 'int16') : wide ? 'uint32' : 'uint16',
    scale: decimals > 0 ? { factor: Number(factor.toFixed(decimals)), offset: 0 } : null,
  };
}

function decimalsOf(raw: string): number {
  return /[.,](\d+)\s*$/.exec(raw)?.[1]?.length ?? 0;
}
