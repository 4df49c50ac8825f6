import { isBitTable } from '../address/index.js';
import type { Point } from '../model/index.js';
import { chainOf, masksOf, mayOverflow } from '../route/index.js';
import { type Cell, cellsOf } from './cells.js';
import type { Lookup } from './lookup.js';
import type { ValidRoute } from './valid-route.js';

/** What follows from a valid route alone: which registers it reads and sets, and with what it shares requests. */
export interface RouteCells {
  row: ValidRoute;
  read: readonly Cell[];
  written: readonly Cell[];
  /** Its value has no known limits and could be more than the destination holds. */
  mayOverflow: boolean;
  /** It sets only some bits of its registers. */
  isPartial: boolean;
  /** Writes share a request only where these are the same. */
  mark: string;
  /** Points whose reads are planned together with its source, and writes with its destination. */
  readGroup: string;
  writeGroup: string;
}

/** The same for a row that is asked again, worked out once. */
export function routeCells(row: ValidRoute, { askedAt, memory: { cells: known } }: Lookup): RouteCells {
  const before = known.get(row);
  if (before) return before;
  const { route, round, source, destination } = row;
  const chain = chainOf(route, source, destination);
  const masks = masksOf(chain);
  const isPartial = masks !== null && !isBitTable(destination.table);
  // Whole registers go with others from the same device, bits of a register with all others of it, and a release is for its own.
  const from = isPartial ? 'bits' : askedAt(source.deviceId);
  const mark = route.release ? [from, ...Object.values(route.release)].join(' ') : from;
  const cells: RouteCells = {
    row,
    read: cellsOf(row, source, null, askedAt(source.deviceId)),
    written: cellsOf(row, destination, masks, askedAt(destination.deviceId)),
    mayOverflow: mayOverflow(chain),
    isPartial,
    mark,
    readGroup: readGroupOf(row, source, askedAt),
    writeGroup: [route.carrierId, round.id, askedAt(destination.deviceId), destination.table, mark, isPartial, route.broadcast].join(' '),
  };
  known.set(row, cells);
  return cells;
}

/** What a route's reads of this point's device are planned with. */
export function readGroupOf({ route, round }: ValidRoute, { deviceId, table }: Point, askedAt: Lookup['askedAt']): string {
  return [route.carrierId, round.id, askedAt(deviceId), table].join(' ');
}
