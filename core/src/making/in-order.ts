import { isBitTable, LAST_OFFSET, type Table } from '../address/index.js';
import { blankPoint, type Point, pointWidth, type Route } from '../model/index.js';
import { chainOf } from '../route/index.js';
import { routeBetween } from './between.js';
import { checkEnds } from '../checks/index.js';

/** Where the first register or bit of the other side is. */
export interface FirstPlace {
  table: Table;
  offset: number;
  bit: number | null;
}

export interface InOrder {
  /** The points that were chosen, in the order in which they are to be carried. */
  chosen: readonly Point[];
  /** Whether the chosen ones are where values come from, or where they go. */
  side: 'source' | 'destination';
  other: { deviceId: string; projectId: string; points: readonly Point[] };
  first: FirstPlace;
  /** What stands before the name of its own in the name of a point that is made where none is, as of which device it is. Null: none are made. */
  makeWith: string | null;
  roundId: string;
  carrierId: string | null;
  routes: readonly Route[];
  newId(): string;
}

/** One route that would be made, with the point that would be made for it; or why it cannot be. */
export interface InOrderRow {
  chosen: Point;
  /** The point on the other side; null where there is none. */
  other: Point | null;
  isNew: boolean;
  route: Route | null;
  problem: string | null;
}

/**
 * What carrying points in order would make: the first chosen point with the first place of the other side, the second with
 * what follows it, and so on. A point that is there is taken; where none is, one like the chosen one can be made.
 */
export function inOrder(order: InOrder): InOrderRow[] {
  const { chosen, other, first, makeWith } = order;
  const there = new Map(other.points.map((point) => [keyOf(point), point]));
  let place = first;
  return chosen.map((point) => {
    const known =
      there.get(keyOf(place)) ?? (point.type === 'bit' && place.bit === null ? there.get(keyOf({ ...place, bit: 0 })) : null) ?? null;
    const fresh = known || makeWith === null ? null : pointAt(order, point, place, `${makeWith} ${point.name}`.trim());
    const found = known ?? fresh;
    const at = place;
    place = found ? after(found) : { ...place, offset: place.offset + pointWidth(point) };
    return row(order, point, found, fresh !== null, at);
  });
}

function row(order: InOrder, chosen: Point, other: Point | null, isNew: boolean, at: FirstPlace): InOrderRow {
  const none = (problem: string): InOrderRow => ({ chosen, other, isNew, route: null, problem });
  if (!other)
    return none(
      `No point is at offset ${at.offset}${at.bit === null ? '' : `, bit ${at.bit}`}. Make the points that are missing, or begin elsewhere.`,
    );
  if (other.offset + pointWidth(other) - 1 > LAST_OFFSET) return none(`The table ends at offset ${LAST_OFFSET}.`);
  const covered = isNew ? order.other.points.find((point) => covers(point, other)) : undefined;
  if (covered) return none(`${covered.name} is there already and begins elsewhere.`);
  const [source, destination] = order.side === 'source' ? [chosen, other] : [other, chosen];
  const same = order.routes.find((route) => route.sourceId === source.id && route.destinationId === destination.id);
  if (same) return none(`${same.name} carries this already.`);
  const route = routeBetween(source, destination, { id: order.newId(), roundId: order.roundId }, order.carrierId);
  const [problem] = checkEnds(chainOf(route, source, destination));
  return problem ? none(`${problem.message} ${problem.mend}`) : { chosen, other, isNew, route, problem: null };
}

/** A point like the chosen one, at its place. A coil in a register is a bit of it; a bit in a table of bits needs no bit number. */
function pointAt(order: InOrder, like: Point, { table, offset, bit }: FirstPlace, name: string): Point {
  const { deviceId, projectId } = order.other;
  const blank = blankPoint({ id: order.newId(), projectId, deviceId });
  const isBit = isBitTable(table);
  const type = isBit || like.type === 'bit' ? ('bit' as const) : like.type;
  const { order: byteOrder, length, encoding, scale, unit, bits, codes } = like;
  return {
    ...blank,
    ...(type === 'bit' ? {} : { order: byteOrder, length, encoding, scale, unit, bits }),
    codes,
    type,
    name,
    table,
    offset,
    bit: type === 'bit' && !isBit ? (bit ?? 0) : null,
    access: table === 'coil' || table === 'holding' ? 'readWrite' : 'read',
  };
}

function after(point: Point): FirstPlace {
  if (point.bit === null) return { table: point.table, offset: point.offset + pointWidth(point), bit: null };
  return point.bit === 15
    ? { table: point.table, offset: point.offset + 1, bit: 0 }
    : { table: point.table, offset: point.offset, bit: point.bit + 1 };
}

function keyOf({ table, offset, bit }: FirstPlace): string {
  return `${table} ${offset} ${bit}`;
}

function covers(there: Point, wanted: Point): boolean {
  const overlap =
    there.table === wanted.table && there.offset < wanted.offset + pointWidth(wanted) && wanted.offset < there.offset + pointWidth(there);
  return overlap && (there.bit === null) === (wanted.bit === null) && there.bit === wanted.bit;
}
