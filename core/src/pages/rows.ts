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
      isBold: flat.length > 0 && flat.every(({ isBold }) => isBold),
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
  const isAnchor = lines.map((line, index) => {
    const text = textOf(line.cells[addressAt]!);
    const before = index > 0 ? textOf(lines[index - 1]!.cells[addressAt]!) : '';
    return isAddressLike(text) && !isRangeBegun(before);
  });
  const anchors = isAnchor.filter(Boolean).length;
  if (anchors <= 1) return pairsOf(lines, addressAt);
  const groups: CutLine[][] = [];
  let waiting: CutLine[] = [];
  for (const [index, line] of lines.entries()) {
    if (isAnchor[index]) {
      const up = waiting.filter((between) => belongsBelow(between, line, lines));
      const rest = waiting.filter((between) => !up.includes(between));
      attach(groups, rest);
      groups.push([...up, line]);
      waiting = [];
    } else {
      waiting.push(line);
    }
  }
  attach(groups, waiting);
  return groups;
}

/** A line before the one with the address belongs to it where cells are centred: then the address has nothing beside it there. */
function belongsBelow(line: CutLine, anchor: CutLine, lines: readonly CutLine[]): boolean {
  const filled = line.cells.flatMap((words, column) => (words.length ? [column] : []));
  const at = lines.indexOf(line);
  const before = lines[at - 1];
  const gapBelow = (lines[at + 1]?.y ?? anchor.y) - line.y;
  const gapAbove = before ? line.y - before.y : Infinity;
  const after = lines[lines.indexOf(anchor) + 1];
  const isMirrored =
    after !== undefined &&
    Math.abs(after.y - anchor.y - gapBelow) < 0.2 * line.size &&
    after.cells.every((words, column) => words.length === 0 || filled.includes(column));
  const isBeside = filled.every((column) => anchor.cells[column]!.length === 0);
  return (isBeside || isMirrored) && gapBelow < 0.95 * gapAbove && gapBelow < TIGHT * line.size;
}

/** Lines without an address: what goes on in the cells of the row before is part of it, the rest are rows of their own. */
function attach(groups: CutLine[][], lines: readonly CutLine[]): void {
  for (const line of lines) {
    const group = groups.at(-1);
    const above = group?.at(-1);
    if (group && above && goesOn(line, above, group)) group.push(line);
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
