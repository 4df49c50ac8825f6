import type { Place } from '../address/index.js';
import { atRegister } from '../place/index.js';
import { type Carry, type Device, plainRoute, type Point, type Round, type Route } from '../model/index.js';
import { nextId, projectId } from './ids.js';
import { plant } from './site.js';

/** Points and routes of the demo, in the order in which they are made. */
type PointFields = Partial<Point> & Place & Pick<Point, 'name' | 'type'>;

export const points: Point[] = [];
export function point(owner: Device, fields: PointFields): Point {
  const writable = fields.table === 'coil' || fields.table === 'holding';
  const made: Point = {
    id: nextId(),
    projectId,
    deviceId: owner.id,
    note: '',
    bit: null,
    bits: [],
    codes: [],
    order: 'ABCD',
    length: null,
    encoding: null,
    scale: null,
    unit: '',
    access: writable ? 'readWrite' : 'read',
    setting: null,
    releasedBy: null,
    watchdogMs: null,
    place: atRegister,
    ...fields,
  };
  points.push(made);
  return made;
}

/** Bits by name, as a point has them. */
export function named(...entries: [bit: number, name: string][]): Point['bits'] {
  return entries.map(([bit, name]) => ({ bit, name }));
}

export const tenths = { factor: 0.1, offset: 0 };
export const celsius = { type: 'int16', scale: tenths, unit: '°C' } as const;

const byTheClock = { phaseMs: 0, pauseMs: null };
export const fast: Round = { id: nextId(), projectId, name: 'Kiln, fast', periodMs: 500, priority: 1, ...byTheClock };
export const slow: Round = { id: nextId(), projectId, name: 'Kiln, slow', periodMs: 2000, priority: 5, ...byTheClock };
export const steady: Round = { id: nextId(), projectId, name: 'Every second', periodMs: 1000, priority: 3, ...byTheClock };
export const calm: Round = { id: nextId(), projectId, name: 'Every ten seconds', periodMs: 10_000, priority: 7, ...byTheClock };
export const rounds = [fast, slow, steady, calm];
/** How old a value of each round may be. */
const allowedMs = new Map([
  [fast, 1500],
  [slow, 5000],
  [steady, 3000],
  [calm, 30_000],
]);

export const routes: Route[] = [];
/** The kiln controller is the one that asks; what has no end in it is carried by whom `more` says. */
export function route(
  name: string,
  source: Point,
  destination: Point,
  carry: Carry = 'registers',
  round: Round = fast,
  more: Partial<Route> = {},
): void {
  const asks = plant.kilnController.id;
  const carrierId = [source, destination].some(({ deviceId }) => deviceId === asks) ? asks : null;
  const ends = { sourceId: source.id, destinationId: destination.id, roundId: round.id };
  const maxAgeMs = allowedMs.get(round)!;
  routes.push({ id: nextId(), projectId, name, note: '', ...ends, ...plainRoute, maxAgeMs, carrierId, carry, ...more });
}
