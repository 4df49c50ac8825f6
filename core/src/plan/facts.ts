import { isBitTable } from '../address/index.js';
import type { Finding } from '../findings/index.js';
import type { Point } from '../model/index.js';
import { masksOf } from '../route/index.js';
import { type Cell, cellsOf } from './cells.js';
import { checkCarriedValue, mayOverflow } from './check-values.js';
import type { Sound } from './sound-row.js';

/** What follows from a sound route alone: which registers it reads and sets, with what it shares requests, what is wrong with its value. */
export interface RowFacts {
  row: Sound;
  read: readonly Cell[];
  written: readonly Cell[];
  findings: readonly Finding[];
  mayOverflow: boolean;
  /** It sets only some bits of its registers. */
  isPartial: boolean;
  /** Writes share a request only where these are the same. */
  mark: string;
  /** Points whose reads are planned together with its source, and writes with its destination. */
  readGroup: string;
  writeGroup: string;
}

/** The facts of a row, worked out once; `known` keeps them. */
export function factsOf(row: Sound, known: WeakMap<Sound, RowFacts>): RowFacts {
  const before = known.get(row);
  if (before) return before;
  const { route, round, source, destination } = row;
  const masks = masksOf({ ...route, destination });
  const isPartial = masks !== null && !isBitTable(destination.table);
  // Whole registers go with others from the same device, bits of a register with all others of it, and a release is for its own.
  const from = isPartial ? 'bits' : source.deviceId;
  const mark = route.release ? [from, ...Object.values(route.release)].join(' ') : from;
  const facts: RowFacts = {
    row,
    read: cellsOf(row, source, null),
    written: cellsOf(row, destination, masks),
    findings: checkCarriedValue(row),
    mayOverflow: mayOverflow(row),
    isPartial,
    mark,
    readGroup: readGroupOf(row, source),
    writeGroup: [route.carrierId, round.id, destination.deviceId, destination.table, mark, isPartial].join(' '),
  };
  known.set(row, facts);
  return facts;
}

/** What a route's reads of this point's device are planned with. */
export function readGroupOf({ route, round }: Sound, { deviceId, table }: Point): string {
  return [route.carrierId, round.id, deviceId, table].join(' ');
}
