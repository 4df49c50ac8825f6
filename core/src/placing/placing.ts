import { isBitTable, LAST_OFFSET, type Table } from '../address/index.js';
import { orderThrough, type SideWindow } from '../image/index.js';
import { askedFor, type Before, converterOf, registerWindows, windowsOn } from '../converter/index.js';
import { isSame, type Point, pointWidth, type ProjectDocument, runsOn } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { directionIn, isFar, messageOf, partOf } from '../place/index.js';
import { placeAll, type PlacedAt, type Room, type ToPlace } from './place-all.js';

/** Which way the values of a telegram or frame go: out of the far device, or to it. */
type Direction = 'sent' | 'taken';

/** Where values of one direction may lie: registers of a table, and the order in which they hold what the far side lays there. */
interface Part {
  table: Table;
  rooms: (Room & { seen: SideWindow; laid: SideWindow })[];
}

/** The far points whose values lie in the same memory: that of one converter, or of a device that has none before it. */
export function farPointsIn(document: ProjectDocument, askedId: string): Point[] {
  const askedAt = askedFor(document);
  return document.points.filter(({ place, deviceId }) => isFar(place) && askedAt(deviceId) === askedId);
}

/**
 * Gives these far points of one device a place, with as few requests as possible and without moving any other: a table and offset at
 * which its converter has them, and the order that follows. Without a converter they are counted up from 0. A point for which there is
 * no place is a problem at its id.
 */
export function placeFar(document: ProjectDocument, deviceId: string, points: readonly Point[]): Outcome<Point[]> {
  const before = converterOf(document, deviceId);
  const others = farPointsIn(document, before?.converter.id ?? deviceId).filter(({ id }) => !points.some((point) => point.id === id));
  const own = before ? document.points.filter((point) => point.deviceId === before.converter.id) : [];
  const lost = points.find((point) => directionOf(document, point) === null);
  if (lost) return bad(`${lost.name} lies in a ${partOf(lost.place)} that is gone.`, 'items', lost.id);
  const result: Point[] = [];
  for (const direction of ['sent', 'taken'] as const) {
    const wanted = points.filter((point) => directionOf(document, point) === direction);
    if (wanted.length === 0) continue;
    const part = before
      ? partIn(before, direction)
      : good({ table: direction === 'sent' ? 'input' : 'holding', rooms: [everywhere] } as Part);
    if (!part.ok) return part;
    const { table, rooms } = part.value;
    const fixed = [...others, ...own].filter((point) => point.table === table);
    const asked = before?.converter;
    const blocks = blocksOf(wanted);
    const placed = placeAll([...fixed.map(placedAt), ...[...blocks].map(([id, points]) => toPlace(id, points))], {
      rooms,
      most: direction === 'sent' ? (asked?.maxReadWords ?? 125) : (asked?.maxWriteWords ?? 123),
      crossesHoles: direction === 'sent' && (asked?.readAcrossHoles ?? true),
      isAligned: (offset) => !asked?.image?.evenWide || byteOf(rooms, offset) % 4 === 0,
    });
    if (!placed.ok) {
      const [, id] = placed.problem.path;
      const { name, id: pointId } = blocks.get(String(id))![0]!;
      return bad(
        `${name} finds no place${before ? ` in the image of ${before.converter.name}` : ''}: ${placed.problem.message}`,
        'items',
        pointId,
      );
    }
    const found = [...blocks].flatMap(([id, points]) => inBlock(placed.value.get(id)!, points));
    for (const { point, offset, bit } of found) {
      const room = rooms.find(({ first, count }) => offset >= first && offset < first + count)!;
      result.push({ ...point, table, offset, bit, order: orderIn(room, point), access: direction === 'sent' ? 'read' : 'readWrite' });
    }
  }
  return good(result);
}

const everywhere: Part['rooms'][number] = {
  ...{ first: 0, count: LAST_OFFSET + 1 },
  seen: { lineId: '', use: 'reads', byte: 0, bytes: 2, order: 'high-first' },
  laid: { lineId: '', use: 'writes', byte: 0, bytes: 2, order: 'high-first' },
};

function placedAt(point: Point): ToPlace {
  const { id, offset, bit } = point;
  return { ...toPlace(id, [point]), at: { offset, bit } };
}

function toPlace(id: string, points: readonly Point[]): ToPlace {
  const isBit = points[0]!.type === 'bit';
  return { id, words: isBit ? 1 : points.reduce((sum, point) => sum + pointWidth(point), 0), isBit, at: null };
}

/** What is placed together, side by side: the parts of a frame that passes whole, as it is read at once; all others by themselves. */
function blocksOf(points: readonly Point[]): Map<string, Point[]> {
  const blocks = new Map<string, Point[]>();
  for (const point of points) {
    const { place, type } = point;
    const id = place.kind === 'record' && type !== 'bit' ? `${place.frameId} ${place.record}` : point.id;
    blocks.set(id, [...(blocks.get(id) ?? []), point]);
  }
  return blocks;
}

function inBlock({ offset, bit }: PlacedAt, points: readonly Point[]): (PlacedAt & { point: Point })[] {
  let next = offset;
  return points.map((point) => {
    const own = { point, offset: next, bit };
    next += pointWidth(point);
    return own;
  });
}

function byteOf(rooms: Part['rooms'], offset: number): number {
  const room = rooms.find(({ first, count }) => offset >= first && offset < first + count);
  return room ? room.seen.byte + 2 * (offset - (room.seen.offset ?? 0)) : 0;
}

function orderIn({ laid, seen }: Part['rooms'][number], point: Point): Point['order'] {
  return orderThrough(laid.order, seen.order, runsOn(point));
}

/** The order in which the registers of a far point hold its value as its converter is set; null where it lies in no window for it. */
export function orderOf(document: ProjectDocument, point: Point): Point['order'] | null {
  const before = converterOf(document, point.deviceId);
  const direction = directionOf(document, point);
  if (!before || !direction) return null;
  const part = partIn(before, direction);
  if (!part.ok || part.value.table !== point.table) return null;
  const room = part.value.rooms.find(({ first, count }) => point.offset >= first && point.offset + pointWidth(point) <= first + count);
  return room ? orderIn(room, point) : null;
}

/** Which way a far point goes; null where its telegram is gone. What is told of one comes from the converter, whichever way that goes. */
export function directionOf(
  { telegrams, frames, ports }: Pick<ProjectDocument, 'telegrams' | 'frames' | 'ports'>,
  { place, deviceId }: Point,
): Direction | null {
  const id = messageOf(place);
  const message = telegrams.find((telegram) => telegram.id === id) ?? frames.find((frame) => frame.id === id);
  const asks = ports.some((port) => port.deviceId === deviceId && port.kind === 'telecontrol' && port.role === 'asks');
  return id === null || message ? (directionIn(place, asks) ?? message?.direction ?? null) : null;
}

/** Registers that Modbus reads where the far side writes, or the other way round. */
function partIn({ converter, line }: Before, direction: Direction): Outcome<Part> {
  const name = converter.name;
  if (!converter.image) return bad(`${name} has no image yet: say on Registers how large it is and what each side sees of it.`);
  const [farUse, nearUse] = direction === 'sent' ? (['writes', 'reads'] as const) : (['reads', 'writes'] as const);
  const far = windowsOn(converter, line.id).filter(({ use }) => use === farUse);
  const near = registerWindows(converter).filter(({ use, table }) => use === nearUse && !isBitTable(table));
  const verb = direction === 'sent' ? ['writes', 'reads'] : ['reads', 'writes'];
  if (far.length === 0) return bad(`No window of ${name} says which bytes of its image ${line.name} ${verb[0]}.`);
  const rooms = near.flatMap((seen) =>
    far.flatMap((laid): Part['rooms'] => {
      const from = Math.max(seen.byte, laid.byte);
      const to = Math.min(seen.byte + seen.bytes, laid.byte + laid.bytes);
      const first = Math.ceil((from - seen.byte) / 2);
      const count = Math.floor((to - seen.byte) / 2) - first;
      return count > 0 ? [{ first: (seen.offset ?? 0) + first, count, seen, laid }] : [];
    }),
  );
  const tables = near.map(({ table }) => table);
  if (rooms.length === 0) return bad(`No registers of ${name} that Modbus ${verb[1]} lie over the bytes that ${line.name} ${verb[0]}.`);
  const table = tables.find((one) => rooms.some(({ seen }) => seen.table === one))!;
  return good({ table, rooms: rooms.filter(({ seen }) => seen.table === table) });
}

/**
 * All values behind a converter placed anew, as if each had come just now, but for those that are pinned; a device after the other, in the
 * order of the project. Only those are given that lie elsewhere then.
 */
export function placeAnew(document: ProjectDocument, converterId: string): Outcome<Point[]> {
  const far = farPointsIn(document, converterId);
  const loose = new Set(far.filter(({ place }) => isFar(place) && !place.pinned).map(({ id }) => id));
  let points = document.points.filter(({ id }) => !loose.has(id));
  const moved: Point[] = [];
  for (const { id: deviceId } of document.devices) {
    const own = far.filter((point) => point.deviceId === deviceId && loose.has(point.id));
    if (own.length === 0) continue;
    const placed = placeFar({ ...document, points: [...points, ...own] }, deviceId, own);
    if (!placed.ok) return placed;
    points = [...points, ...placed.value];
    moved.push(...placed.value);
  }
  const before = new Map(far.map((point) => [point.id, point]));
  return good(moved.filter((point) => !isSame(point, before.get(point.id))));
}
