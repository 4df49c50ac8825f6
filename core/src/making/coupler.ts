import { LAST_OFFSET } from '../address/index.js';
import {
  type ChannelPlace,
  type ChannelRange,
  channelRanges,
  type Coupler,
  type CouplerModule,
  type Direction,
  imageOf,
} from '../modules/index.js';
import { blankPoint, type Change, type Device, isSame, type Point, type ProjectDocument } from '../model/index.js';

/** A channel of a coupler with the point that it is; or why no point can be there. */
export interface CouplerChannel {
  module: string;
  name: string;
  /** In the image: zero-based byte, and bit of it. */
  byte: number;
  bit: number | null;
  direction: Direction;
  point: Omit<Point, 'id' | 'projectId' | 'deviceId'> | null;
  problem: string | null;
}

const HIGHEST = 0x7fff;
const LOWEST = -0x8000;

/** The channels of a coupler in the order of its image, inputs before outputs. */
export function channelsOf(coupler: Coupler): CouplerChannel[] {
  const modules = coupler.modules.map(({ inBits, inWords, outBits, outWords }, index) => ({
    name: String(index),
    in: { bits: inBits, words: inWords },
    out: { bits: outBits, words: outWords },
  }));
  const taken = new Set<string>();
  return (['in', 'out'] as const).flatMap((direction) => {
    let bits = 0;
    return imageOf(modules, direction, coupler).channels.map((place) => {
      const module = coupler.modules[Number(place.module)]!;
      const name = freeOf(nameOf(module, place), taken);
      taken.add(name);
      const at = placeOf(coupler, place, direction, place.kind === 'bit' ? bits++ : 0);
      const shown = { module: module.name, name, byte: place.byte, bit: place.bit, direction };
      if ('problem' in at) return { ...shown, point: null, problem: at.problem };
      const point = { ...blankOf(), ...at, ...(place.kind === 'word' ? valueOf(module) : { type: 'bit' as const }), name };
      return { ...shown, point: { ...point, access: direction === 'in' ? ('read' as const) : ('readWrite' as const) }, problem: null };
    });
  });
}

/** The changes that give a device the points of its coupler: those of a name that is there already are moved and set, and keep their routes. */
export function couplerChanges(
  { points }: Pick<ProjectDocument, 'points'>,
  device: Device,
  coupler: Coupler,
  newId: () => string,
): Change[] {
  const known = new Map(points.filter(({ deviceId }) => deviceId === device.id).map((point) => [point.name, point]));
  const made = channelsOf(coupler).flatMap(({ point }): Change[] => {
    if (!point) return [];
    const before = known.get(point.name) ?? null;
    if (!before) {
      const after = { ...point, id: newId(), projectId: device.projectId, deviceId: device.id };
      return [{ entity: 'point', id: after.id, before: null, after }];
    }
    const { note, setting, releasedBy, watchdogMs, ...placed } = point;
    const after = { ...before, ...placed };
    return isSame(before, after) ? [] : [{ entity: 'point', id: before.id, before, after }];
  });
  const set: Change = { entity: 'device', id: device.id, before: device, after: { ...device, coupler } };
  return isSame(device.coupler, coupler) ? made : [set, ...made];
}

function placeOf(
  { inTable, inAt, outAt, bitsApart, bitsInAt, bitsOutAt, lowByteFirst }: Coupler,
  { kind, byte, bit }: ChannelPlace,
  direction: Direction,
  index: number,
): Pick<Point, 'table' | 'offset' | 'bit'> | { problem: string } {
  const isIn = direction === 'in';
  if (kind === 'bit' && bitsApart)
    return within({ table: isIn ? 'discrete' : 'coil', offset: (isIn ? bitsInAt : bitsOutAt) + index, bit: null });
  const table = isIn ? inTable : ('holding' as const);
  const offset = (isIn ? inAt : outAt) + (byte >> 1);
  if (kind === 'bit') return within({ table, offset, bit: bit! + ((byte & 1) === (lowByteFirst ? 0 : 1) ? 0 : 8) });
  if (byte & 1) return { problem: `It begins at byte ${byte}, in the middle of a register; let each module begin with a word.` };
  return within({ table, offset, bit: null });
}

function within<Place extends { offset: number }>(place: Place): Place | { problem: string } {
  return place.offset > LAST_OFFSET ? { problem: `Offset ${place.offset} is past the end of a table.` } : place;
}

/** What a word of a module is: its type, its scale, its unit, and by which value it tells of a broken wire. */
function valueOf({ range, rawLow, rawHigh, unitsLow, unitsHigh, unit, wireBreak }: CouplerModule) {
  const own: ChannelRange = channelRanges[range];
  const isSigned = own.isSigned || (rawLow ?? 0) < 0 || (wireBreak ?? 0) < 0;
  const raw = [rawLow ?? (own.isSigned && own.span ? LOWEST : 0), rawHigh ?? HIGHEST] as [number, number];
  const units = unitsLow !== null && unitsHigh !== null ? ([unitsLow, unitsHigh] as [number, number]) : own.span;
  const scale = units ? { raw, units: [...units] as [number, number] } : own.step === 1 ? null : { factor: own.step, offset: 0 };
  return {
    type: isSigned ? ('int16' as const) : ('uint16' as const),
    scale,
    unit: unit || (unitsLow === null ? own.unit : ''),
    codes: wireBreak === null ? [] : [{ value: wireBreak, name: 'wire break' }],
    note: own.note,
  };
}

function nameOf({ name, channels, inBits, inWords, outBits, outWords }: CouplerModule, { number, kind, direction }: ChannelPlace): string {
  const before = { in: 0, out: inWords + inBits }[direction] + (kind === 'word' ? 0 : direction === 'in' ? inWords : outWords);
  const given = channels.split(/[,;\n]/)[before + number - 1]?.trim();
  if (given) return given.slice(0, 80);
  const kinds = [inWords, inBits, outWords, outBits].filter((count) => count > 0).length;
  const which = kinds > 1 ? ` ${kind === 'word' ? 'word' : 'bit'} ${direction}` : '';
  return `${name.slice(0, 60)}${which} ${number}`;
}

function freeOf(name: string, taken: ReadonlySet<string>): string {
  for (let number = 1; ; number++) {
    const one = number === 1 ? name : `${name.slice(0, 74)} (${number})`;
    if (!taken.has(one)) return one;
  }
}

function blankOf(): CouplerChannel['point'] & object {
  const { id, projectId, deviceId, ...blank } = blankPoint({ id: '', projectId: '', deviceId: '' });
  return blank;
}
