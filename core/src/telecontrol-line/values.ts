import { commands, type EventPlace, type EventSort, type PointPlace } from '../place/index.js';
import { type Point, pointLayout, readPoint } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import type { TelecontrolLine } from '../media/index.js';
import { typeOf } from '../types/index.js';
import { encode } from '../value/index.js';

export type Standard = TelecontrolLine['standard'];

/** A point that lies at an event point. */
export type EventPoint = Point & { place: EventPlace };

export function isEventPoint(point: Point): point is EventPoint {
  return isEvent(point.place);
}

function isEvent(place: PointPlace): place is EventPlace {
  return place.kind === 'event';
}

/** Numbers that a sort can say, by standard (IEC 60870-5-101, 7.2.6; IEEE 1815, annex A). */
interface Span {
  least: number;
  most: number;
  whole: boolean;
}
const bit: Span = { least: 0, most: 1, whole: true };
const signed16: Span = { least: -32_768, most: 32_767, whole: true };
const real: Span = { least: -3.4028234663852886e38, most: 3.4028234663852886e38, whole: false };
const spans: Readonly<Record<EventSort, { ieee1815: Span; iec104: Span }>> = {
  single: { ieee1815: bit, iec104: bit },
  double: { ieee1815: { ...bit, most: 3 }, iec104: { ...bit, most: 3 } },
  normalised: { ieee1815: real, iec104: signed16 },
  scaled: { ieee1815: real, iec104: signed16 },
  float: { ieee1815: real, iec104: real },
  counter: {
    ieee1815: { least: 0, most: 4_294_967_295, whole: true },
    iec104: { least: -2_147_483_648, most: 2_147_483_647, whole: true },
  },
  command: { ieee1815: bit, iec104: bit },
  'double command': { ieee1815: { ...bit, least: 1, most: 2 }, iec104: { ...bit, least: 1, most: 2 } },
  'set normalised': { ieee1815: real, iec104: signed16 },
  'set scaled': { ieee1815: real, iec104: signed16 },
  'set float': { ieee1815: real, iec104: real },
};
/** A normalised value is told in parts of this. */
const NORMALISED = 32_768;

/** What a sort says of registers: their raw number, as it goes over the link; a problem where that cannot be said. */
export function sayable(standard: Standard, point: EventPoint, words: readonly number[]): Outcome<number> {
  const read = pointLayout(point) ? readPoint(words, point) : good({ raw: words[0] ? 1 : 0 });
  if (!read.ok) return read;
  const { sort } = point.place;
  const isBit = point.type === 'bit';
  // Of two bits, off is 1 and on is 2.
  const raw = isBit && /double/.test(sort) ? Number(read.value.raw) + 1 : Number(read.value.raw);
  const { least, most, whole } = spanOf(standard, sort);
  if (Number.isNaN(raw)) return bad(`${point.name} is no number.`);
  if (raw < least || raw > most || (whole && !Number.isInteger(raw)))
    return bad(`${point.name} is ${raw}, and a ${labelWords(point)} goes from ${least} to ${most}.`);
  return good(isNormalised(standard, sort) ? raw / NORMALISED : whole ? raw : Math.fround(raw));
}

/** The registers that hold what came over the link, as the point lays them out; a single bit as 0 or 1. */
export function wordsOfSaid(standard: Standard, point: EventPoint, said: number): Outcome<number[]> {
  const { sort } = point.place;
  if (point.type === 'bit') return good([Number(/double/.test(sort) ? said === 2 : said !== 0)]);
  const number = isNormalised(standard, sort) ? Math.round(said * NORMALISED) : said;
  const layout = pointLayout(point)!;
  const isFloat = typeOf(point.type).kind === 'float';
  const encoded = encode(isFloat ? number : Math.round(number), { ...layout, scale: undefined });
  return encoded.ok ? good(encoded.value.words) : encoded;
}

/** Whether a value comes back as it was from the registers that hold what is said of it. */
export function saysSame(standard: Standard, point: EventPoint, words: readonly number[]): boolean {
  const said = sayable(standard, point, words);
  const back = said.ok ? wordsOfSaid(standard, point, said.value) : said;
  return back.ok && back.value.every((word, index) => word === words[index]);
}

export function spanOf(standard: Standard, sort: EventSort): Span {
  return spans[sort][standard === 'ieee1815' ? 'ieee1815' : 'iec104'];
}

/** A threshold as it is compared on the link: in raw numbers, as they are said. */
export function thresholdOf(standard: Standard, { place, scale }: EventPoint): number {
  const raw = scale && 'factor' in scale ? place.threshold / Math.abs(scale.factor) : place.threshold;
  return isNormalised(standard, place.sort) ? raw / NORMALISED : raw;
}

/** Whether numbers of this type can be said: whole ones, single bits, and those with a floating point. */
export function canBeSaid({ type }: Pick<Point, 'type'>): boolean {
  return ['bit', 'bits', 'whole', 'wide', 'float'].includes(typeOf(type).kind);
}

/** The point of an outstation that a value or its quality is of. */
export function pointKey({ sort, index }: Pick<EventPlace, 'sort' | 'index'>): string {
  return `${sort} ${index}`;
}

/** In IEEE 1815 all measured values, and all set points, are of one group; in IEC 60870-5-104 every point has an address of its own. */
export function addressKey(standard: Standard, { sort, index }: Pick<EventPlace, 'sort' | 'index'>): string {
  if (standard !== 'ieee1815') return String(index);
  return `${groupOf(sort)} ${index}`;
}

/** What IEEE 1815 counts by itself. */
export function groupOf(sort: EventSort): 'binary' | 'double' | 'analog' | 'counter' | 'output' | 'set point' {
  if (sort === 'single') return 'binary';
  if (sort === 'double' || sort === 'counter') return sort;
  if (!commands(sort)) return 'analog';
  return sort === 'command' || sort === 'double command' ? 'output' : 'set point';
}

function isNormalised(standard: Standard, sort: EventSort): boolean {
  return standard !== 'ieee1815' && (sort === 'normalised' || sort === 'set normalised');
}

function labelWords({ place: { sort } }: EventPoint): string {
  return sort.startsWith('set') ? `set point (${sort.slice(4)})` : /command/.test(sort) ? sort : `${sort} value`;
}
