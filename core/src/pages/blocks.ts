import { fieldOfHeader, type MapField } from '../fields/index.js';
import { isAddressLike, isBitOrCode } from './address-like.js';
import { type Chunk, chunkOf, chunksOf } from './chunks.js';
import type { Rule } from './page.js';
import type { Band, CutLine, LaidTable, Sheet } from './table.js';
import { cutLine, type Line, textOf, type Word } from './words.js';

/** A heading of a table: its cells, and from which line to which it goes. */
interface Heading {
  first: number;
  last: number;
  cells: Chunk[];
  fields: (MapField | null)[];
}

/** Lines that name columns go over at most so many lines. */
const DEEPEST = 3;
/** Lines without an address between two with one, unless they tell of bits or codes. */
const MOST_BETWEEN = 6;

/** Tables without rules between their columns: found by the line that names the columns, and by addresses that stand under it. */
export function blocksOf(sheet: Sheet, lines: readonly Line[], across: readonly Rule[]): LaidTable[] {
  const headings = headingsOf(lines);
  return headings.flatMap((heading) => blockUnder(heading, headings, sheet, lines, across) ?? []);
}

/** So many lines may stand over the first row of a table that goes on from the page before. */
const FIRST_LINES = 4;

/** The part of a table that goes on from a page before it, in the same columns and without a heading; null where there is none. */
export function goesOn(
  before: LaidTable,
  sheet: Sheet,
  lines: readonly Line[],
  across: readonly Rule[],
  addressAt: number,
): LaidTable | null {
  const { edges } = before;
  const cut = lines.flatMap((line, index) => {
    const inside = cutLine(line, edges[0]! - 2, edges.at(-1)! + 2);
    return inside ? [{ index, line: inside }] : [];
  });
  const anchored = cut.filter(({ line }) => isAddressLike(textOf(cutLine(line, edges[addressAt]!, edges[addressAt + 1]!)?.words ?? [])));
  // What goes on begins at the top of the page.
  if (anchored.length === 0 || cut.indexOf(anchored[0]!) > FIRST_LINES) return null;
  const known = new Set(anchored.map(({ line }) => line));
  const own = runOf(
    cut.map(({ line }) => line),
    known,
  );
  return laid(sheet, withoutText(own, known, edges), edges, across, before.header);
}

function headingsOf(lines: readonly Line[]): Heading[] {
  const found: Heading[] = [];
  for (let first = 0; first < lines.length; first++) {
    const tried = Array.from({ length: DEEPEST }, (_, more) => headingAt(lines, first, first + more)).flatMap((one) => one ?? []);
    const known = (heading: Heading) => new Set(heading.fields.filter(Boolean)).size;
    const depth = (heading: Heading) => (isTight(lines, heading) ? heading.last : heading.first);
    const best = tried.sort((a, b) => known(b) - known(a) || depth(b) - depth(a) || a.last - b.last)[0];
    if (!best) continue;
    found.push(...besides(best));
    first = best.last;
  }
  return found;
}

/** Whether the last line of a heading stands under the one before as lines of one cell do: then it is part of the heading. */
function isTight(lines: readonly Line[], { first, last }: Heading): boolean {
  if (last === first) return false;
  const [above, here] = [lines[last - 1]!, lines[last]!];
  return here.y - above.y < 1.35 * Math.max(above.size, here.size);
}

function headingAt(lines: readonly Line[], first: number, last: number): Heading | null {
  if (last >= lines.length) return null;
  for (let index = first + 1; index <= last; index++) {
    const [above, here] = [lines[index - 1]!, lines[index]!];
    if (here.y - above.y > 1.9 * Math.max(above.size, here.size)) return null;
  }
  let cells: Chunk[] = [];
  for (const line of lines.slice(first, last + 1)) {
    for (const chunk of chunksOf(line)) {
      if (isAddressLike(chunk.text)) return null;
      const under = cells.filter(({ x0, x1 }) => chunk.x0 < x1 && chunk.x1 > x0);
      cells = [...cells.filter((cell) => !under.includes(cell)), chunkOf([...under.flatMap(({ words }) => words), ...chunk.words])];
      const joined = cells.at(-1)!;
      joined.x0 = Math.min(...joined.words.map(({ x0 }) => x0));
    }
  }
  cells = cells.sort((a, b) => a.x0 - b.x0).flatMap(apart);
  const fields = cells.map(({ text }) => fieldOfHeader(text));
  const known = new Set(fields.filter(Boolean));
  return known.has('address') && known.size >= 2 ? { first, last, cells, fields } : null;
}

/** Longer texts are sentences. */
const MOST_NAMES = 10;

/** Names of columns that stand as near to each other as words do: told apart where each part names a column of its own. */
function apart(cell: Chunk): Chunk[] {
  if (cell.words.length < 2 || cell.words.length > MOST_NAMES || fieldOfHeader(cell.text) !== null) return [cell];
  const inOrder = [...cell.words].sort((a, b) => a.x0 - b.x0);
  if (inOrder.some(({ y }) => y !== inOrder[0]!.y)) return [cell];
  for (let at = 1; at < inOrder.length; at++) {
    const first = chunkOf(inOrder.slice(0, at));
    const own = fieldOfHeader(first.text);
    if (own === null) continue;
    const rest = apart(chunkOf(inOrder.slice(at)));
    if (rest.every(({ text }) => fieldOfHeader(text) !== null && fieldOfHeader(text) !== own)) return [first, ...rest];
  }
  return [cell];
}

/** Tables beside each other have the same names of columns again. */
function besides(heading: Heading): Heading[] {
  const { cells, fields } = heading;
  const again = fields.findIndex(
    (field, index) => index > 1 && field !== null && field === fields[0] && cells[index]!.text === cells[0]!.text,
  );
  if (again < 0) return [heading];
  const [here, rest] = [
    { ...heading, cells: cells.slice(0, again), fields: fields.slice(0, again) },
    { ...heading, cells: cells.slice(again), fields: fields.slice(again) },
  ];
  return rest.fields.includes('address') && here.fields.includes('address') ? [here, ...besides(rest)] : [heading];
}

function blockUnder(
  heading: Heading,
  headings: readonly Heading[],
  sheet: Sheet,
  lines: readonly Line[],
  across: readonly Rule[],
): LaidTable | null {
  const [left, right] = sidesOf(heading, headings, lines, sheet.width);
  const next = headings.filter(({ first, cells }) => first > heading.last && cells[0]!.x0 < right && cells.at(-1)!.x1 > left);
  const end = Math.min(lines.length, ...next.map(({ first }) => first));
  const below = lines.slice(heading.last + 1, end).flatMap((line) => cutLine(line, left, right) ?? []);
  const addressAt = heading.fields.indexOf('address');
  const slot = [
    addressAt > 0 ? heading.cells[addressAt - 1]!.x1 : left,
    addressAt + 1 < heading.cells.length ? heading.cells[addressAt + 1]!.x0 : right,
  ] as const;
  const anchored = new Set(alike(below.filter((line) => hasAddress(line, slot, heading.cells[addressAt]!))));
  if (anchored.size === 0) return null;
  const own = runOf(below, anchored);
  const kept = own.filter((line) => anchored.has(line));
  const edges = edgesOf(heading.cells, kept, left, right);
  const names = lines.slice(heading.first, heading.last + 1).flatMap((line) => cutLine(line, left, right) ?? []);
  const table = laid(
    sheet,
    withoutText(own, anchored, edges),
    edges,
    across,
    heading.cells.map(({ text }) => text),
  );
  return { ...table, y0: names[0]!.y - names[0]!.size };
}

/** Those in the type of most: a title with a number is printed larger, or bold. */
function alike(lines: readonly Line[]): Line[] {
  const sizes = lines.map(({ size }) => size).sort((a, b) => a - b);
  const usual = sizes[sizes.length >> 1] ?? 0;
  const isBold = ({ words }: Line) => words.every((word) => word.isBold);
  const areBold = lines.filter(isBold).length * 2 > lines.length;
  return lines.filter((line) => line.size < 1.2 * usual && (areBold || !isBold(line)));
}

/** How far a table may reach to both sides: to what is beside it, where something is. */
function sidesOf(heading: Heading, headings: readonly Heading[], lines: readonly Line[], width: number): [left: number, right: number] {
  const [x0, x1] = [heading.cells[0]!.x0, heading.cells.at(-1)!.x1];
  let [left, right] = [0, width];
  for (const other of headings) {
    const [from, to] = [other.cells[0]!.x0, other.cells.at(-1)!.x1];
    if (other === heading || (from < x1 && to > x0)) continue;
    const both = lines.slice(Math.max(heading.last, other.last) + 1);
    const isRight = from >= x1;
    const [low, high] = isRight ? [heading.cells.at(-1)!.x0, from] : [other.cells.at(-1)!.x0, x0];
    const free = gapsIn(both, low, high).at(-1);
    if (!free) continue;
    const middle = free[1] - 1;
    if (isRight) right = Math.min(right, middle);
    else left = Math.max(left, middle);
  }
  return [left, right];
}

/** Where nothing is printed on any of the lines, between two places across; the last counts up to the second place. */
function gapsIn(lines: readonly Line[], low: number, high: number): [from: number, to: number][] {
  const spans = lines
    .flatMap(({ words }) => words.map(({ x0, x1 }): [number, number] => [x0, x1]))
    .filter(([x0, x1]) => x1 > low && x0 < high)
    .sort((a, b) => a[0] - b[0]);
  const gaps: [number, number][] = [];
  let at = low;
  for (const [x0, x1] of [...spans, [high, high] as const]) {
    if (x0 - at > 0.5) gaps.push([at, x0]);
    at = Math.max(at, x1);
  }
  return gaps;
}

/** The number of a chapter, before its title. */
const CHAPTER = /^\d{1,2}(?:\.\d{1,2})+\.?$/;

/** Whether something like an address stands where the heading has its addresses. */
function hasAddress({ words }: Line, [from, to]: readonly [number, number], head: Chunk): boolean {
  const inside = words.filter((word) => (word.x0 + word.x1) / 2 >= from && (word.x0 + word.x1) / 2 < to);
  const near = inside.filter(({ x0, x1 }) => x0 <= head.x1 + 12 && x1 >= head.x0 - 12);
  return (
    isAddressLike(textOf(inside)) ||
    near.some(({ text }, index) => isAddressLike(text) && !CHAPTER.test(text) && (index === 0 || index === near.length - 1))
  );
}

/** The lines from the first with an address to the last, and what still belongs to that. */
function runOf(lines: readonly Line[], anchored: ReadonlySet<Line>): Line[] {
  const own: Line[] = [];
  let waiting: Line[] = [];
  let pitch = Infinity;
  let lastAnchor: Line | null = null;
  for (const line of lines) {
    if (!anchored.has(line)) {
      waiting.push(line);
      continue;
    }
    const plain = waiting.filter((between) => !isBitOrCode(textOf(between.words)));
    if (lastAnchor && plain.length > MOST_BETWEEN) break;
    if (lastAnchor) pitch = Math.min(pitch, line.y - lastAnchor.y);
    own.push(...waiting, line);
    [waiting, lastAnchor] = [[], line];
  }
  const tight = 1.45;
  for (const line of waiting) {
    const above = own.at(-1)!;
    const gap = line.y - above.y;
    const isNear =
      gap <= Math.min(tight * Math.max(line.size, above.size), Number.isFinite(pitch) ? Math.max(1.1 * pitch, 1.25 * line.size) : Infinity);
    const isTold = isBitOrCode(textOf(line.words)) && gap <= 2.2 * line.size;
    if (!isTold && !(isNear && line.size < 1.15 * above.size && !startsNote(line))) break;
    own.push(line);
  }
  return own;
}

/** Lines of text that go over columns are no part of a table at whose end they stand. */
function withoutText(lines: readonly Line[], anchored: ReadonlySet<Line>, edges: readonly number[]): Line[] {
  const last = lines.findLastIndex((line) => anchored.has(line));
  const end = lines.findIndex((line, index) => {
    const [first, ...rest] = chunksOf(line);
    const crosses = first!.words.length > 3 && edges.slice(1, -1).some((edge) => first!.x0 < edge - 2 && first!.x1 > edge + 2);
    return index > last && crosses && rest.length === 0 && !isBitOrCode(textOf(line.words));
  });
  return end < 0 ? [...lines] : lines.slice(0, end);
}

function startsNote({ words, size }: Line): boolean {
  const [first] = words;
  return first!.size < 0.8 * size || /^(?:\*+|[¹²³]|\d\)|note|notes|hinweis|anmerkung|remarque|nota)[:.]?$/i.test(first!.text);
}

/** What stands under a name begins as near to where the name does, in points. */
const AT_NAME = 2;

/** Where columns begin: between each two that are named, where the widest gap is in what stands under them. */
function edgesOf(heads: readonly Chunk[], lines: readonly Line[], left: number, right: number): number[] {
  const inner = heads.slice(1).map((head, index) => {
    const before = heads[index]!;
    const [low, high] = [before.x0, head.x1];
    const gaps = gapsIn(lines, low, high);
    const [own, next] = [before.x1, head.x0];
    // What is free at the beginning of a name, or up to its end, mostly lies inside its column.
    const between = gaps.filter(([from, to]) => from > low && to < high);
    const behind = gaps.filter(([from]) => from > low);
    const likely = between.length ? between : behind.length ? behind : gaps;
    const atName = likely.find(([, to]) => Math.abs(to - next) < AT_NAME);
    const widest = atName ?? [...likely].sort((a, b) => b[1] - b[0] - (a[1] - a[0]))[0];
    if (!widest) return (own + next) / 2;
    // A gap that reaches to where a column is named has nothing printed there: the edge is at the name.
    const [from, to] = [Math.max(widest[0], Math.min(own, widest[1] - 1)), Math.min(widest[1], Math.max(next, widest[0] + 1))];
    return from < to ? (from + to) / 2 : (widest[0] + widest[1]) / 2;
  });
  const words = lines.flatMap((line) => line.words);
  const first = Math.min(heads[0]!.x0, ...words.map(({ x0 }) => x0));
  const last = Math.max(heads.at(-1)!.x1, ...words.map(({ x1 }) => x1));
  return [Math.max(left, first - 1), ...inner, Math.min(right, last + 1)];
}

function laid(sheet: Sheet, lines: readonly Line[], edges: number[], across: readonly Rule[], header: string[] | null): LaidTable {
  const [x0, x1] = [edges[0]!, edges.at(-1)!];
  const [y0, y1] = [lines[0]!.y - lines[0]!.size, lines.at(-1)!.y + 0.4 * lines.at(-1)!.size];
  const own = across.filter((rule) => rule.at > y0 && rule.at < y1 && Math.min(rule.to, x1) - Math.max(rule.from, x0) > 0.6 * (x1 - x0));
  const ys = [y0, ...own.map(({ at }) => at), y1];
  const columns = edges.length - 1;
  const bands = ys.slice(1).flatMap((end, index): Band[] => {
    const inside = lines.filter(({ y, size }) => y - 0.3 * size >= ys[index]! && y - 0.3 * size < end);
    if (inside.length === 0) return [];
    const cut = inside.map((line) => cutInto(line, edges));
    return [{ y0: ys[index]!, y1: end, lines: cut, continues: Array.from({ length: columns }, () => false) }];
  });
  return { sheet, x0, x1, y0, y1, edges, bands, header };
}

/** Each word to its column; words that belong together stay so where their line has only them, as running text has. */
function cutInto(line: Line, edges: readonly number[]): CutLine {
  const columns = edges.length - 1;
  const cells = Array.from({ length: columns }, (): Word[] => []);
  const at = (x: number) =>
    Math.max(
      0,
      edges.findLastIndex((edge, index) => index < columns && edge <= x),
    );
  const chunks = chunksOf(line);
  let isCrossing = false;
  for (const { words, x0, x1 } of chunks) {
    const [first, last] = [at(x0 + 1), at(x1 - 1)];
    if (first === last || chunks.length === 1) {
      cells[first]!.push(...words);
      continue;
    }
    // A text with a word on the edge itself is longer than its column was thought to be.
    const edge = edges[last]!;
    const isOne = last === first + 1 && words.some((word) => word.x0 < edge - 1 && word.x1 > edge + 1);
    const mostly = edge - x0 > x1 - edge ? first : last;
    for (const word of words) cells[isOne ? mostly : at((word.x0 + word.x1) / 2)]!.push(word);
    isCrossing ||= isOne;
  }
  return { y: line.y, size: line.size, cells, isCrossing };
}
