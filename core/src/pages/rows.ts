import { isAddressLike, isBitOrCode, isRangeBegun } from './address-like.js';
import { placeOf } from './page.js';
import type { Band, Cell, CutLine, LaidRow, LaidTable } from './table.js';
import { marksOf, textOf, type Word } from './words.js';

/** From which band and line of it on rows are read. */
export interface From {
  band: number;
  line: number;
}

/**
 * The rows of a table of which it is known where its addresses are. Where rules go across between rows each band is one; where several
 * addresses stand in a band, each begins a row, and lines without one belong to the row that they are nearest to.
 */
export function rowsOf(table: LaidTable, addressAt: number, from: From): LaidRow[] {
  return table.bands.slice(from.band).flatMap((band, index) => {
    const lines = [...band.lines].sort((a, b) => a.y - b.y).slice(index === 0 ? from.line : 0);
    if (lines.length === 0 && !band.continues.some(Boolean)) return [];
    return groupsOf(lines, addressAt).map((group, at) => rowOf(table, band, group, at > 0));
  });
}

/** The cells of a band as text, as the names of columns are read. */
export function textsOf(lines: readonly CutLine[], columns: number): string[] {
  return Array.from({ length: columns }, (_, column) =>
    cellText(
      lines.map(({ cells }) => cells[column]!),
      ' ',
    ),
  );
}

function rowOf({ sheet, x0, x1, edges }: LaidTable, band: Band, lines: readonly CutLine[], isSplit: boolean): LaidRow {
  const cells = edges.slice(1).map((_, column): Cell => {
    const words = lines.map(({ cells: own }) => own[column]!);
    const flat = words.flat();
    return {
      text: cellText(words, '\n'),
      marks: marksOf(flat),
      continues: !isSplit && flat.length === 0 && band.continues[column]!,
    };
  });
  const ys = lines.map(({ y }) => y);
  const size = Math.max(0, ...lines.map((line) => line.size));
  const [y0, y1] = lines.length ? [Math.min(...ys) - size, Math.max(...ys) + 0.3 * size] : [band.y0, band.y1];
  const doubts = lines.some(({ isCrossing }) => isCrossing) ? ['What is printed goes over the edge of a column.'] : [];
  return { cells, place: placeOf(sheet, x0, y0, x1, y1), doubts };
}

/** Lines of one cell as one text; what is cut at the end of a line is put together again. */
function cellText(lines: readonly Word[][], between: string): string {
  return lines
    .filter((words) => words.length)
    .map(textOf)
    .reduce((text, next) => {
      if (text === '') return next;
      if (/[a-zà-ÿ]-$/.test(text) && /^[a-zà-ÿ]/.test(next)) return text.slice(0, -1) + next;
      if (isRangeBegun(text)) return `${text}${next}`;
      return `${text}${between}${next}`;
    }, '');
}

/** Lines to rows: one for each address, or one for all where there is none. */
function groupsOf(lines: readonly CutLine[], addressAt: number): CutLine[][] {
  let begun = false;
  const isAnchor = lines.map((line) => {
    const text = textOf(line.cells[addressAt]!);
    if (text === '') return false;
    const isSecond = begun;
    begun = isRangeBegun(text);
    return !isSecond && (begun || isAddressLike(text));
  });
  if (isAnchor.filter(Boolean).length <= 1) return pairsOf(lines, addressAt);
  const groups: CutLine[][] = [];
  let waiting: CutLine[] = [];
  for (const [index, line] of lines.entries()) {
    if (isAnchor[index]) {
      const up = upperPart(waiting, index, lines, addressAt);
      attach(groups, waiting.slice(0, waiting.length - up.length), addressAt);
      groups.push([...up, line]);
      waiting = [];
    } else {
      waiting.push(line);
    }
  }
  attach(groups, waiting, addressAt);
  return groups;
}

/**
 * Of the lines before one with an address, those that belong to it as cells are centred: they stand close together, further from what is
 * above them; and the address has nothing beside it there, or as many lines follow under it.
 */
function upperPart(waiting: readonly CutLine[], at: number, lines: readonly CutLine[], addressAt: number): CutLine[] {
  const anchor = lines[at]!;
  const isClose = (above: CutLine, here: CutLine) => here.y - above.y < TIGHT * Math.max(above.size, here.size);
  const isOf = (columns: ReadonlySet<number>, line: CutLine) => filledOf(line).every((column) => columns.has(column));
  let up: CutLine[] = [];
  for (let index = waiting.length - 1; index >= 0 && isClose(waiting[index]!, up[0] ?? anchor); index--) up = [waiting[index]!, ...up];
  const columns = new Set(up.flatMap(filledOf));
  if (up.length === 0 || columns.has(addressAt)) return [];
  const before = lines[lines.indexOf(up[0]!) - 1];
  const inside = (up[1] ?? anchor).y - up[0]!.y;
  if (before && inside >= 0.95 * (up[0]!.y - before.y)) return [];
  if ([...columns].every((column) => anchor.cells[column]!.length === 0)) return up;
  const following = lines.slice(at + 1, at + 1 + up.length);
  const areLike = following.every((line, index) => isOf(columns, line) && isClose(lines[at + index]!, line));
  return following.length === up.length && areLike ? up : [];
}

function filledOf({ cells }: CutLine): number[] {
  return cells.flatMap((words, column) => (words.length ? [column] : []));
}

/** Lines without an address: what goes on in the cells of the row before is part of it, the rest are rows of their own. */
function attach(groups: CutLine[][], lines: readonly CutLine[], addressAt: number): void {
  for (const line of lines) {
    const group = groups.at(-1);
    const above = group?.at(-1);
    // An address that goes on in the next line takes along what stands between.
    const isOpen =
      group?.some(({ cells }) => isRangeBegun(textOf(cells[addressAt]!))) &&
      !group.some(({ cells }) => isAddressLike(textOf(cells[addressAt]!)));
    if (group && above && (isOpen || goesOn(line, above, group))) group.push(line);
    else groups.push([line]);
  }
}

/** Lines of one cell are nearer to each other than this, in sizes of their type. */
const TIGHT = 1.4;

function goesOn(line: CutLine, above: CutLine, group: readonly CutLine[]): boolean {
  const gap = line.y - above.y;
  const filled = line.cells.flatMap((words, column) => (words.length ? [{ column, words }] : []));
  const starts = filled.some(({ words }) => isBitOrCode(textOf(words)));
  const under = filled.every(({ column }) => group.some(({ cells }) => cells[column]!.length > 0));
  const isHeading = filled.every(({ words }) => words.every(({ isBold }) => isBold)) && !above.cells.flat().every(({ isBold }) => isBold);
  if (isHeading || gap > 1.6 * Math.max(line.size, above.size)) return false;
  const isTight = filled.length === 1 && gap < TIGHT * Math.max(line.size, above.size);
  // Several cells without an address are a row under this one, unless all of them go on.
  return under && (!starts || isTight) && !(filled.length > 1 && /^\d+$/.test(textOf(filled[0]!.words)));
}

/** A cell of many lines beside another with as many, each a bit or a code and what it means, is as many rows. */
function pairsOf(lines: readonly CutLine[], addressAt: number): CutLine[][] {
  const counted = lines.filter(({ cells }) => {
    const others = cells.filter((words, column) => column !== addressAt && words.length);
    return others.length >= 2 && others.some((words) => /^(?:bit\s*)?\d{1,5}$/i.test(textOf(words)));
  });
  if (counted.length < 2 || counted.length < lines.length - 1) return lines.length ? [[...lines]] : [];
  const groups: CutLine[][] = [];
  for (const line of lines) {
    if (groups.length && counted.includes(line) && counted.indexOf(line) > 0) groups.push([line]);
    else if (groups.length) groups.at(-1)!.push(line);
    else groups.push([line]);
  }
  return groups;
}
