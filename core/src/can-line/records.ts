import {
  arbitrate,
  type CanFrame,
  type CanIdentifier,
  hexIdentifier,
  identifierProblem,
  lastIdentifier,
  MOST_BYTES,
} from '../can/index.js';
import type { CarriedFrame, PointMemory } from '../converter/index.js';
import { type DeviceFrame, type Point, pointWidth } from '../model/index.js';
import type { PointPlace } from '../place/index.js';
import type { PointType } from '../types/index.js';
import { wordsOfCount } from './signal-words.js';

type RecordPlace = Extract<PointPlace, { kind: 'record' }>;

/** Counts go from 1 to this, and then on from 1: 0 is a record that was never filled. */
const LAST_COUNT = 65_535;

/** Whether a frame of a line is this one of the project, or one of those that this one passes whole. */
export function isFrameOf({ whole, ...own }: CanIdentifier & Pick<DeviceFrame, 'whole'>, frame: CanIdentifier): boolean {
  if (!whole) return arbitrate(own, frame) === 0;
  return own.identifierBits === frame.identifierBits && ((own.identifier ^ frame.identifier) & whole.mask) === 0;
}

/** The frame of the project that a frame of a line is: by its own identifier before one of many that are passed whole. */
export function knownFrame<Frame extends CanIdentifier & Pick<DeviceFrame, 'whole'>>(
  frames: readonly Frame[],
  frame: CanIdentifier,
): Frame | undefined {
  return frames.find((one) => !one.whole && isFrameOf(one, frame)) ?? frames.find((one) => isFrameOf(one, frame));
}

/** The identifiers of frames that are passed whole, in hex: `18FF0000 to 18FFFFFF`, or with what has to fit where they are not all between. */
export function identifiersOf({ identifierBits, identifier, whole }: CanIdentifier & Pick<DeviceFrame, 'whole'>): string {
  const mask = whole?.mask ?? lastIdentifier(identifierBits);
  const free = lastIdentifier(identifierBits) & ~mask;
  const first = identifier & mask;
  const hex = (value: number) => hexIdentifier({ identifierBits, identifier: value });
  if (free === 0) return hex(first);
  const isRange = (free & (free + 1)) === 0;
  return isRange ? `${hex(first)} to ${hex(first | free)}` : `${hex(first)} where ${hex(mask)} of it fits`;
}

/** Everything that the records of such a frame have, with a name and type for each. */
export function partsOfRecords({
  id,
  name,
  whole,
}: Pick<DeviceFrame, 'id' | 'name' | 'whole'>): { name: string; type: PointType; place: RecordPlace }[] {
  return recordNumbers({ whole }).flatMap((record) => {
    const own = whole!.records === 1 ? name : `${name} ${record + 1}`;
    const part = (said: string, type: PointType, of: RecordPlace['part'], byte = 0) => ({
      ...{ name: `${own} ${said}`, type },
      place: { kind: 'record' as const, frameId: id, record, part: of, byte, pinned: false },
    });
    return [
      part('count', 'uint16', 'count'),
      part('length', 'uint16', 'length'),
      part('identifier', 'uint32', 'identifier'),
      ...[0, 2, 4, 6].map((byte) => part(`data ${byte}`, 'uint16', 'data', byte)),
    ];
  });
}

/** Lays the frame that came as the `total`th into its record, its count last. */
export function putRecord({ points, whole }: CarriedFrame, frame: CanFrame, total: number, memory: PointMemory): void {
  const record = (total - 1) % whole!.records;
  for (const { point, place } of partsOf(points, record)) memory.write(point, wordsOf(frame, countOf(total), point, place));
}

/** The count that the `total`th frame has. */
export function countOf(total: number): number {
  return total === 0 ? 0 : ((total - 1) % LAST_COUNT) + 1;
}

/** The count of each record as the controller has set it; 0 where nothing was set. */
export function countsOf({ points, whole }: CarriedFrame, memory: PointMemory): number[] {
  return recordNumbers({ whole }).map((record) => partOf(points, record, 'count', memory) ?? 0);
}

/** How far one count is behind another, going on from 1 after the last. */
export function countsBetween(from: number, to: number): number {
  return (((to - from) % LAST_COUNT) + LAST_COUNT) % LAST_COUNT;
}

/** The frame that the controller has made in a record, or a sentence that says why it is none. What it does not set is as the frame says. */
export function frameInRecord(carried: CarriedFrame, record: number, memory: PointMemory): CanFrame | string {
  const { identifierBits, points, bytes } = carried;
  const identifier = partOf(points, record, 'identifier', memory) ?? carried.identifier;
  const length = partOf(points, record, 'length', memory) ?? bytes;
  const where = `Record ${record + 1}`;
  const wrong = identifierProblem({ identifierBits, identifier });
  if (wrong) return `${where}: ${wrong}`;
  if (!isFrameOf(carried, { identifierBits, identifier }))
    return `${where}: identifier ${hexIdentifier({ identifierBits, identifier })} is none of ${identifiersOf(carried)}.`;
  if (length > MOST_BYTES) return `${where} says ${length} bytes of data; a frame has at most ${MOST_BYTES}.`;
  const data = new Uint8Array(MOST_BYTES);
  for (const { point, place } of partsOf(points, record)) {
    if (place.part !== 'data') continue;
    const bytesOf = memory.read(point).flatMap((word) => [word >> 8, word & 0xff]);
    data.set(bytesOf.slice(0, MOST_BYTES - place.byte), place.byte);
  }
  return { identifierBits, identifier, data: data.subarray(0, length) };
}

/** The records of a frame that passes whole, each with its points; none of one that is taken apart. */
export function recordsOf({ points, whole }: Pick<CarriedFrame, 'points' | 'whole'>): { point: Point; place: RecordPlace }[][] {
  return recordNumbers({ whole }).map((record) => partsOf(points, record));
}

function recordNumbers({ whole }: Pick<DeviceFrame, 'whole'>): number[] {
  return Array.from({ length: whole?.records ?? 0 }, (_, record) => record);
}

function partsOf(points: readonly Point[], record: number): { point: Point; place: RecordPlace }[] {
  const found = points.flatMap((point) => {
    const { place } = point;
    return place.kind === 'record' && place.record === record ? [{ point, place }] : [];
  });
  return found.sort((a, b) => Number(a.place.part === 'count') - Number(b.place.part === 'count'));
}

function partOf(points: readonly Point[], record: number, part: RecordPlace['part'], memory: PointMemory): number | null {
  const found = partsOf(points, record).find(({ place }) => place.part === part);
  return found ? memory.read(found.point).reduce((sum, word) => sum * 65_536 + word, 0) : null;
}

function wordsOf({ identifier, data }: CanFrame, count: number, point: Point, { part, byte }: RecordPlace): number[] {
  if (part !== 'data') return wordsOfCount({ count, identifier, length: data.length }[part], point);
  const at = (index: number) => data[byte + index] ?? 0;
  return Array.from({ length: pointWidth(point) }, (_, word) => (at(2 * word) << 8) | at(2 * word + 1));
}
