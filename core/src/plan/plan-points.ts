import { isBitTable, LAST_OFFSET, type Table, tableNames } from '../address/index.js';
import { type ModbusFunction, readFunction, writeFunction } from '../frame/index.js';
import type { Forbidden } from '../model/index.js';
import { cheapestRuns, type Run } from './cheapest.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** A point as far as requests need to know it: `length` registers, or bits, from a zero-based offset on. */
export interface PointToCarry {
  id: string;
  table: Table;
  offset: number;
  length: number;
  /** It is written; else it is read. */
  write?: boolean | undefined;
}

/** What a device takes in one request, and which function codes it has. */
export interface RequestLimits {
  maxReadWords: number;
  maxReadBits: number;
  maxWriteWords: number;
  maxWriteBits: number;
  readAcrossHoles: boolean;
  forbidden: readonly Forbidden[];
  functionCodes: readonly number[];
}

/** What the standard allows (Modbus application protocol V1.1b3, section 6), for a device that says nothing else. */
export const standardLimits: RequestLimits = {
  maxReadWords: 125,
  maxReadBits: 2000,
  maxWriteWords: 123,
  maxWriteBits: 1968,
  readAcrossHoles: true,
  forbidden: [],
  functionCodes: [1, 2, 3, 4, 5, 6, 15, 16],
};

/** What a request costs, and each register or bit that it carries, holes included; in any one unit, say milliseconds. */
export interface RequestCost {
  perRequest: number;
  perWord: number;
  perBit: number;
}

export const standardCost: RequestCost = { perRequest: 1, perWord: 0.01, perBit: 0.01 };

export interface CarryingRequest<T extends PointToCarry> {
  functionCode: number;
  table: Table;
  offset: number;
  count: number;
  points: T[];
}

export interface PointsPlan<T extends PointToCarry> {
  requests: CarryingRequest<T>[];
  cost: number;
  /** What one request for each point would cost. */
  costUnmerged: number;
}

/**
 * The cheapest requests that carry these points of one device, under the limits and the cost given. A point is never split;
 * a read crosses registers that nobody named only where the device allows it; a write sets nothing that no point names.
 * A point that cannot be carried at all is a problem that names it.
 */
export function planPoints<T extends PointToCarry>(
  points: readonly T[],
  limits: RequestLimits = standardLimits,
  cost: RequestCost = standardCost,
): Outcome<PointsPlan<T>> {
  const groups = new Map<string, T[]>();
  for (const [index, point] of points.entries()) {
    if (point.offset + point.length - 1 > LAST_OFFSET)
      return bad(`“${point.id}” would end at offset ${point.offset + point.length - 1}; a table ends at ${LAST_OFFSET}.`, 'points', index);
    const why = whyNot(point, limits);
    if (why) return bad(`“${point.id}” cannot be carried: ${why}`, 'points', index);
    const key = `${point.write ? 'write' : 'read'} ${point.table}`;
    const group = groups.get(key);
    if (group) group.push(point);
    else groups.set(key, [point]);
  }
  const requests = [...groups.values()].flatMap((group) => requestsFor(group, limits, cost));
  const costOf = (table: Table, count: number) => cost.perRequest + (isBitTable(table) ? cost.perBit : cost.perWord) * count;
  return good({
    requests,
    cost: rounded(requests.reduce((sum, { table, count }) => sum + costOf(table, count), 0)),
    costUnmerged: rounded(points.reduce((sum, { table, length }) => sum + costOf(table, length), 0)),
  });
}

/** Why no request of this device can carry the point; null where one can. */
export function whyNot({ table, length, write }: PointToCarry, limits: RequestLimits): string | null {
  const things = tableNames[table].many;
  if (!write) {
    const needed = readFunction(table);
    if (!limits.functionCodes.includes(needed.code)) return `the device does not have function ${needed.code}, ${needed.name}.`;
    const most = mostRead(table, limits);
    return length > most ? `it takes ${length} ${things}; one request reads at most ${most}.` : null;
  }
  const many = writeFunction(table, 2);
  if (!many) return `no function writes ${things}.`;
  const one = writeFunction(table, 1)!;
  const has = (known: ModbusFunction) => limits.functionCodes.includes(known.code);
  if (!has(many) && !has(one)) return `the device has neither function ${one.code} nor ${many.code}, so its ${things} cannot be written.`;
  if (!has(many) && length > 1) return `it takes ${length} ${things}, and the device does not have function ${many.code}, ${many.name}.`;
  const most = mostWritten(table, limits);
  return length > most ? `it takes ${length} ${things}; one request writes at most ${most}.` : null;
}

/** Points of one table, all read or all written, that can each be carried. */
function requestsFor<T extends PointToCarry>(points: readonly T[], limits: RequestLimits, cost: RequestCost): CarryingRequest<T>[] {
  const { table, write } = points[0]!;
  const closed = limits.forbidden.filter((span) => span.table === table);
  const extents = points.map((point) => ({ offset: point.offset, width: point.length, point }));
  const runs: Run<(typeof extents)[number]>[] = cheapestRuns(extents, {
    most: write ? mostWritten(table, limits) : mostRead(table, limits),
    perRequest: cost.perRequest,
    perUnit: isBitTable(table) ? cost.perBit : cost.perWord,
    mayCross: (first, last) => !write && limits.readAcrossHoles && !closed.some((span) => span.first <= last && span.last >= first),
  });
  return runs.map(({ offset, count, members }) => ({
    functionCode: write ? codeToWrite(table, count, limits) : readFunction(table).code,
    table,
    offset,
    count,
    points: members.map(({ point }) => point),
  }));
}

function mostRead(table: Table, limits: RequestLimits): number {
  return isBitTable(table) ? limits.maxReadBits : limits.maxReadWords;
}

/** A device without the multiple code takes one at a time. */
function mostWritten(table: Table, limits: RequestLimits): number {
  if (!limits.functionCodes.includes(writeFunction(table, 2)!.code)) return 1;
  return isBitTable(table) ? limits.maxWriteBits : limits.maxWriteWords;
}

/** The single code where one is enough and the device has it, else the multiple one. */
export function codeToWrite(table: Table, count: number, { functionCodes }: Pick<RequestLimits, 'functionCodes'>): number {
  const fitting = writeFunction(table, count)!;
  const { code } = functionCodes.includes(fitting.code) ? fitting : writeFunction(table, count === 1 ? 2 : 1)!;
  return code;
}

function rounded(cost: number): number {
  return Number(cost.toPrecision(12));
}
