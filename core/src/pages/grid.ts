import type { Ruling } from './rules.js';
import type { Band, LaidTable, Sheet } from './table.js';
import { cutLine, type Line, type Word } from './words.js';

/** Places this near to each other, in points, are one edge. */
const SAME = 3;

/**
 * A table whose columns are kept apart by rules; null where there are none. Cells that are joined across hold their text in the first
 * of their columns, those that are joined downwards in the first of their bands.
 */
export function gridOf(sheet: Sheet, { across, down }: Ruling, lines: readonly Line[]): LaidTable | null {
  if (down.length < 1 || across.length < 1) return null;
  const [left, right] = [Math.min(...across.map(({ from }) => from)), Math.max(...across.map(({ to }) => to))];
  const [top, bottom] = [Math.min(...down.map(({ from }) => from)), Math.max(...down.map(({ to }) => to))];
  const edges = placesOf([...down.map(({ at }) => at), left, right]);
  const ys = placesOf([...across.map(({ at }) => at), top, bottom]);
  if (edges.length < 3 || ys.length < 2) return null;
  const columns = edges.length - 1;
  const isDivided = (x: number, y: number) => down.some((rule) => Math.abs(rule.at - x) <= SAME && rule.from <= y && rule.to >= y);
  const isCut = (y: number, column: number) => {
    const middle = (edges[column]! + edges[column + 1]!) / 2;
    return across.some((rule) => Math.abs(rule.at - y) <= SAME && rule.from <= middle && rule.to >= middle);
  };
  const bands: Band[] = ys.slice(1).map((y1, index) => {
    const y0 = ys[index]!;
    const continues = Array.from({ length: columns }, (_, column) => index > 0 && !isCut(y0, column));
    return { y0, y1, lines: [], continues };
  });
  for (const line of lines) {
    const middle = line.y - 0.3 * line.size;
    const at = bands.findIndex(({ y0, y1 }) => middle >= y0 && middle < y1);
    if (at < 0) continue;
    const walls = edges.filter((x, index) => index === 0 || index === columns || isDivided(x, middle));
    for (const [index, from] of walls.slice(0, -1).entries()) {
      const inside = cutLine(line, index === 0 ? from - SAME : from, walls[index + 1]!);
      if (!inside) continue;
      const column = edges.indexOf(from);
      place(bands[firstOf(bands, at, column)]!, { y: line.y, size: line.size }, column, columns, inside.words);
    }
  }
  // A band of which every cell goes on from the one above is no band of its own.
  const own = bands.filter(({ continues }, index) => index === 0 || !continues.every(Boolean));
  const filled = own.filter((band) => band.lines.length > 0 || band.continues.some(Boolean));
  return filled.length ? { sheet, x0: edges[0]!, x1: edges.at(-1)!, y0: ys[0]!, y1: ys.at(-1)!, edges, bands: filled, header: null } : null;
}

/** The band in which a cell begins that goes down to this one. */
function firstOf(bands: readonly Band[], at: number, column: number): number {
  return at > 0 && bands[at]!.continues[column] ? firstOf(bands, at - 1, column) : at;
}

function place({ lines }: Band, { y, size }: Pick<Line, 'y' | 'size'>, column: number, columns: number, words: Word[]): void {
  let line = lines.find((known) => known.y === y);
  if (!line) lines.push((line = { y, size, cells: Array.from({ length: columns }, () => []), isCrossing: false }));
  line.cells[column]!.push(...words);
}

function placesOf(all: readonly number[]): number[] {
  const places: number[] = [];
  for (const place of [...all].sort((a, b) => a - b)) if (places.length === 0 || place - places.at(-1)! > SAME) places.push(place);
  return places;
}
