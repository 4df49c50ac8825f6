import { formatAddress, isBitTable, LAST_OFFSET, type Table } from '../address/index.js';
import { type Device, type Point, pointWidth } from '../model/index.js';
import { describeChain } from '../steps/index.js';
import type { PlannedRequest, PlannedRoute } from './plan.js';

/** A stretch of the carrier's own memory. `isDirect` where values need no work of its program: they are where they are wanted. */
export interface LocalBlock {
  first: string;
  last: string;
  isDirect: boolean;
  /** What its program has to do with each register of the block. */
  work: string[];
}

/**
 * Places blocks in a carrier's own memory: where the values are wanted, if each register can go straight there and nothing
 * else is in between; else in a free stretch past everything that has a name, each block after the one before. `askedAt` says whose registers a device’s points are.
 */
export function memoryOf(carrier: Device, points: readonly Point[], askedAt: (deviceId: string) => string) {
  const own = points.filter(({ deviceId }) => deviceId === carrier.id);
  const free = new Map<Table, number>();
  const print = (table: Table, offset: number) => formatAddress({ table, offset }, carrier.notation, carrier.areas);
  /** Where values lie that the carrier only passes on, from one device to another; by route. */
  const passed = new Map<string, string>();
  const passOn = (route: PlannedRoute, request: PlannedRequest, first: number, table: Table): string[] => {
    if (route.source.deviceId === carrier.id || route.destination.deviceId === carrier.id) return [];
    if (request.kind === 'read') {
      passed.set(route.id, print(table, first + route.source.offset - request.offset));
      return [];
    }
    const from = passed.get(route.id);
    const at = print(table, first + route.destination.offset - request.offset);
    return from && askedAt(route.destination.deviceId) === request.deviceId
      ? [`${from} ${route.source.name}: ${stepsText(route)}, to ${at}`]
      : [];
  };
  return {
    place(request: PlannedRequest, routes: readonly PlannedRoute[]): LocalBlock | null {
      const table: Table = isBitTable(request.table) ? 'coil' : 'holding';
      const ends = routes.flatMap((route) => endsAt(route, request, carrier.id, askedAt));
      const base = directBase(request, ends, own, table);
      if (base !== null) {
        const work = routes.flatMap((route) => passOn(route, request, base, table));
        return { first: print(table, base), last: print(table, base + request.count - 1), isDirect: true, work };
      }
      const taken = own.reduce((end, point) => (point.table === table ? Math.max(end, point.offset + pointWidth(point)) : end), 0);
      const first = free.get(table) ?? Math.ceil(taken / 10) * 10;
      if (first + request.count - 1 > LAST_OFFSET) return null;
      free.set(table, first + request.count);
      const work = ends.map(({ route, far, near }) => {
        const at = print(table, first + far.offset - request.offset);
        const place = formatAddress(near, carrier.notation, carrier.areas);
        return request.kind === 'write'
          ? `${place} ${near.name}: ${stepsText(route)}, to ${at}`
          : `${at}: ${stepsText(route)}, to ${place} ${near.name}`;
      });
      work.push(...routes.flatMap((route) => passOn(route, request, first, table)));
      return { first: print(table, first), last: print(table, first + request.count - 1), isDirect: false, work };
    },
  };
}

function stepsText({ transforms, carry, source, destination }: PlannedRoute): string {
  return describeChain(transforms) || (carry === 'value' ? `${source.type} to ${destination.type}` : 'as it is');
}

interface Ends {
  route: PlannedRoute;
  /** At the device that is asked, and in the carrier's own memory. */
  far: Point;
  near: Point;
}

function endsAt(route: PlannedRoute, request: PlannedRequest, carrierId: string, askedAt: (deviceId: string) => string): Ends[] {
  const [far, near] = request.kind === 'write' ? [route.destination, route.source] : [route.source, route.destination];
  return near.deviceId === carrierId && askedAt(far.deviceId) === request.deviceId ? [{ route, far, near }] : [];
}

function directBase(request: PlannedRequest, ends: readonly Ends[], own: readonly Point[], table: Table): number | null {
  const bases = new Set(
    ends.map(({ route, far, near }) => {
      const isPlain = route.carry === 'registers' && route.transforms.length === 0 && far.bit === null && near.bit === null;
      return isPlain && near.table === table ? near.offset - (far.offset - request.offset) : -1;
    }),
  );
  const [base] = bases;
  if (bases.size !== 1 || base === undefined || base < 0) return null;
  const carried = new Set(ends.map(({ near }) => near.id));
  const inTheWay = own.some(
    (point) =>
      point.table === table && !carried.has(point.id) && point.offset < base + request.count && base < point.offset + pointWidth(point),
  );
  return inTheWay && request.kind === 'read' ? null : base;
}
