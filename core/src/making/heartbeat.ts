import { isBitTable } from '../address/index.js';
import { blankPoint, type Change, type Device, type Point, type Route } from '../model/index.js';
import { chainOf } from '../route/index.js';
import { routeBetween } from './between.js';
import type { FirstPlace } from './in-order.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { type Transform, type BeatPattern, beatNames } from '../steps/index.js';
import { checkEnds } from '../checks/index.js';

/** A heartbeat one way: what beats, where it arrives, who watches it and for how long, and the bit that tells whether it does. */
export interface HeartbeatWish {
  from: Device;
  to: Device;
  points: readonly Point[];
  /** A point that beats by itself; null: Plain Envoy beats, for as long as `from` answers. */
  sourceId: string | null;
  pattern: BeatPattern;
  /** Where it arrives; a point is made there if there is none. */
  at: FirstPlace;
  /** How long it may stand still, ms. */
  watchdogMs: number;
  /** A bit of `to` that is on while the heartbeat moves; null: none. */
  goodAt: FirstPlace | null;
  roundId: string;
  periodMs: number;
  carrierId: string | null;
  newId(): string;
}

/** All that a heartbeat one way needs, as changes, and in sentences what they make. Points that are there are taken. */
export function heartbeat(wish: HeartbeatWish): Outcome<{ changes: Change[]; said: string[] }> {
  const { from, to, points, sourceId, pattern, at, watchdogMs, goodAt, roundId, periodMs, carrierId, newId } = wish;
  const changes: Change[] = [];
  const said: string[] = [];
  const source = points.find((point) => (sourceId ? point.id === sourceId : point.deviceId === from.id && point.access !== 'write'));
  if (!source) return bad(`${from.name} has no point that could be read to see that it is there. Add one in Registers.`, 'source');
  if (!Number.isInteger(watchdogMs) || watchdogMs < 100) return bad('A watchdog waits a whole number of ms, at least 100.', 'watchdog');
  const target = placed(wish, at, `Heartbeat of ${from.name}`);
  if (!target.ok) return target;
  const destination: Point = { ...target.value.point, watchdogMs: target.value.point.type === 'bit' ? null : watchdogMs };
  const { before } = target.value;
  if (destination.watchdogMs !== before?.watchdogMs) changes.push({ entity: 'point', id: destination.id, before, after: destination });
  said.push(`${before ? 'takes' : 'makes'} ${destination.name} in ${to.name}`);
  let validId: string | null = null;
  if (goodAt) {
    const bit = placed(wish, goodAt, `${from.name} is there`);
    if (!bit.ok) return bad(bit.problem.message, 'good');
    if (bit.value.point.id === destination.id) return bad('The bit and the heartbeat would be at one place.', 'good');
    if (!bit.value.before) changes.push({ entity: 'point', id: bit.value.point.id, before: null, after: bit.value.point });
    validId = bit.value.point.id;
    said.push(`sets ${bit.value.point.name} while it moves`);
  }
  const plain = routeBetween(source, destination, { id: newId(), roundId }, carrierId);
  const beat: Transform = { kind: 'beat', pattern, everyMs: Math.max(100, periodMs) };
  const route: Route = {
    ...plain,
    name: `Heartbeat of ${from.name} to ${to.name}`.slice(0, 80),
    ...(sourceId ? {} : { carry: 'value', transforms: [beat] }),
    loss: { rule: validId ? 'invalid' : 'hold', value: null, validId, afterMs: watchdogMs, stillMs: watchdogMs },
  };
  const [problem] = checkEnds(chainOf(route, source, destination));
  if (problem) return bad(`${problem.message} ${problem.mend}`, 'at');
  changes.push({ entity: 'route', id: route.id, before: null, after: route });
  said.push(sourceId ? `carries ${source.name}` : `beats by ${beatNames[pattern]} while ${source.name} can be read`);
  return good({ changes, said });
}

/** The point at a place of the receiver: what is there, or a new one. `before` is null for a new one. */
function placed({ to, points, newId }: HeartbeatWish, place: FirstPlace, name: string): Outcome<{ point: Point; before: Point | null }> {
  const isBit = isBitTable(place.table);
  const bit = isBit ? null : place.bit;
  const there = points.filter(({ deviceId, table, offset }) => deviceId === to.id && table === place.table && offset === place.offset);
  const before = there.find((point) => point.bit === bit) ?? null;
  if (before) return good({ point: before, before });
  if (there.some((point) => point.bit === null || bit === null)) return bad(`${there[0]!.name} is there already.`, 'at');
  const type = isBit || bit !== null ? 'bit' : 'uint16';
  const access = place.table === 'coil' || place.table === 'holding' ? 'readWrite' : 'read';
  const blank = blankPoint({ id: newId(), projectId: to.projectId, deviceId: to.id });
  return good({ point: { ...blank, name, type, bit, access, table: place.table, offset: place.offset }, before: null });
}
