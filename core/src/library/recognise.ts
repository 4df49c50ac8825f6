import { isBitTable, LAST_OFFSET, type Table } from '../address/index.js';
import { readFunction } from '../frame/index.js';
import { type DeviceTemplate, pointWidth } from '../model/index.js';
import { cellOf, cellsOf, type MapOf } from './fits.js';

/** Registers or bits that lie together and are asked for at once. */
export interface Span {
  table: Table;
  first: number;
  count: number;
}

/** A device that is kept: its map, and how much of it is read at a time. */
export interface KeptMap extends MapOf {
  device: Pick<DeviceTemplate['device'], 'functionCodes' | 'maxReadWords' | 'maxReadBits'>;
}

/** What the registers that a device gives tell of it. `fits` are the maps that fit equally well. */
export type Recognition<Kept> =
  | { kind: 'fits'; fits: Kept[]; registers: number; requests: number }
  /** It gives all that a map has, and also what lies beside it: whoever gives everything fits every map. */
  | { kind: 'gives more'; requests: number }
  | { kind: 'none'; requests: number }
  | { kind: 'silent'; requests: number };

/** So few registers tell of no device. */
const FEWEST = 3;
/** Requests for the spans of one map; after so many in all, no further map is tried. */
const SPANS = 12;
const REQUESTS = 60;

/**
 * Which of the maps that are kept a device has, told by which registers it lets itself be asked for. A map fits when all of
 * its spans are given and something beside them is refused; of those that fit, the ones with the most registers. `gives` asks
 * the device for a span: true when it answers with values, false when it refuses, null when it does not answer.
 */
export async function recognise<Kept extends KeptMap>(
  kept: readonly Kept[],
  gives: (span: Span) => Promise<boolean | null>,
): Promise<Recognition<Kept>> {
  const told = new Map<string, boolean>();
  let requests = 0;
  let silent = false;
  const ask = async (span: Span): Promise<boolean> => {
    const key = `${span.table} ${span.first} ${span.count}`;
    const known = told.get(key);
    if (known !== undefined) return known;
    requests += 1;
    const answer = await gives(span);
    silent ||= answer === null;
    told.set(key, answer === true);
    return answer === true;
  };
  const maps = kept
    .map((one) => ({ one, spans: spansOf(one) }))
    .map((map) => ({ ...map, registers: map.spans.reduce((sum, { count }) => sum + count, 0) }))
    .filter(({ registers }) => registers >= FEWEST)
    .sort((a, b) => b.registers - a.registers);
  const fits: Kept[] = [];
  let registers = 0;
  let more = false;
  for (const map of maps) {
    if (map.registers < registers || silent || requests > REQUESTS) break;
    if (!(await allOf(map.spans, ask))) continue;
    if (await allOf(besides(map.one, map.spans), ask)) more = true;
    else fits.push(map.one);
    if (fits.length > 0) registers = map.registers;
  }
  if (silent) return { kind: 'silent', requests };
  if (fits.length > 0) return { kind: 'fits', fits, registers, requests };
  return { kind: more ? 'gives more' : 'none', requests };
}

/** What of a map lies together, as far as it is read, cut to what one request reads; the largest stretches of a long map. */
export function spansOf({ points, device }: KeptMap): Span[] {
  const spans: Span[] = [];
  const read = points
    .filter(({ access, table }) => access !== 'write' && device.functionCodes.includes(readFunction(table).code))
    .sort((a, b) => (a.table === b.table ? a.offset - b.offset : a.table < b.table ? -1 : 1));
  for (const point of read) {
    const end = point.offset + pointWidth(point);
    const last = spans.at(-1);
    const most = isBitTable(point.table) ? device.maxReadBits : device.maxReadWords;
    const joins = last?.table === point.table && last.first + last.count >= point.offset && end - last.first <= most;
    if (joins) last.count = Math.max(last.count, end - last.first);
    else if (!last || last.table !== point.table || end > last.first + last.count)
      spans.push({ table: point.table, first: point.offset, count: end - point.offset });
  }
  return spans.sort((a, b) => b.count - a.count).slice(0, SPANS);
}

/** Single registers right before and after spans of a map that it does not have. */
function besides({ points }: MapOf, spans: readonly Span[]): Span[] {
  const cells = new Set(points.flatMap(cellsOf));
  const edges = spans.flatMap(({ table, first, count }) => [first + count, first - 1].map((at) => ({ table, first: at, count: 1 })));
  return edges.filter(({ table, first }) => first >= 0 && first <= LAST_OFFSET && !cells.has(cellOf(table, first))).slice(0, 4);
}

async function allOf(spans: readonly Span[], ask: (span: Span) => Promise<boolean>): Promise<boolean> {
  for (const span of spans) if (!(await ask(span))) return false;
  return true;
}
