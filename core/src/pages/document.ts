import { fieldOfHeader } from '../fields/index.js';
import { blocksOf, goesOn } from './blocks.js';
import { isBitOrCode } from './address-like.js';
import { footnotesUnder } from './footnotes.js';
import { gridOf } from './grid.js';
import { type Heading, headingIn } from './heading.js';
import type { Page } from './page.js';
import { rowsOf } from './rows.js';
import { rulingsOf } from './rules.js';
import { withoutRunning } from './running.js';
import type { FoundTable, LaidRow, LaidTable, Sheet } from './table.js';
import { type Line, linesOf, textOf } from './words.js';

/** What a page holds, without its single characters. */
export interface LinedPage {
  sheet: Sheet;
  lines: Line[];
  rules: Page['rules'];
}

/** What was found in a document. */
export interface Found {
  tables: FoundTable[];
  /** Pages with tables that hold no addresses of registers. */
  others: number[];
}

/** A table on one page, with all that is known of it. */
interface Piece {
  laid: LaidTable;
  heading: Heading;
  rows: LaidRow[];
  /** It has no names of columns of its own, or those of the table before it. */
  isGoingOn: boolean;
}

export function linedPage({ number, width, height, turns, glyphs, rules }: Page): LinedPage {
  return { sheet: { number, width, height, turns }, lines: linesOf(glyphs), rules };
}

/** The tables of registers of a document, each over as many pages as it goes. Lines that stand on every page are no part of any. */
export function tablesOf(pages: readonly LinedPage[]): Found {
  const tables: FoundTable[] = [];
  const others = new Set<number>();
  let last: Piece | null = null;
  let lead: string[] = [];
  for (const page of withoutRunning(pages)) {
    const { pieces, free, other } = piecesOn(page, last);
    if (other) others.add(page.sheet.number);
    let above = -Infinity;
    for (const [index, piece] of pieces.entries()) {
      const { laid } = piece;
      const between = free.filter((line) => line.y > above && line.y < laid.y0 && reaches(line, laid));
      lead.push(...between.map((line) => textOf(line.words)));
      const table = tables.at(-1);
      if (index === 0 && table && last && joins(piece, last, between)) {
        append(table, piece.rows);
      } else {
        tables.push({ title: titleOf(lead, piece.heading.title), header: piece.heading.texts, rows: piece.rows });
      }
      const own = tables.at(-1)!;
      const next = pieces.slice(index + 1).find((other) => other.laid.y0 > laid.y1 && other.laid.x0 < laid.x1 && other.laid.x1 > laid.x0);
      const below = free.filter((line) => line.y > laid.y1 - 1 && line.y < (next?.laid.y0 ?? Infinity) && reaches(line, laid));
      const used = footnotesUnder(below, piece.rows, own);
      above = Math.max(laid.y1, used);
      lead = [];
      last = piece;
    }
    lead.push(...free.filter((line) => line.y > above).map((line) => textOf(line.words)));
    if (pieces.length === 0 && page.lines.length > 0) last = null;
  }
  return { tables: tables.filter(({ rows }) => rows.length > 0), others: [...others] };
}

function reaches({ words }: Line, { x0, x1 }: LaidTable): boolean {
  return words[0]!.x0 < x1 + 5 && words.at(-1)!.x1 > x0 - 5;
}

function piecesOn({ sheet, lines, rules }: LinedPage, last: Piece | null): { pieces: Piece[]; free: Line[]; other: boolean } {
  const rulings = rulingsOf(rules);
  const grids = rulings.flatMap((ruling) => gridOf(sheet, ruling, lines) ?? []);
  const pieces: Piece[] = [];
  let other = false;
  for (const laid of grids.sort((a, b) => a.y0 - b.y0 || a.x0 - b.x0)) {
    const own = piecesIn(laid);
    const before: Piece | null = pieces.length === 0 ? last : null;
    const more = own.length || !before ? null : continuation(laid, before);
    if (own.length) pieces.push(...own);
    else if (more) pieces.push(more);
    else other ||= laid.edges.length > 2 && laid.bands.length > 2;
  }
  const free = lines.flatMap((line) => {
    const words = line.words.filter((word) => !pieces.some(({ laid }) => isInside(word.x0, line.y - 0.3 * line.size, laid)));
    return words.length ? [{ ...line, words }] : [];
  });
  const across = rules.filter(({ isAcross }) => isAcross);
  const blocks = blocksOf(sheet, free, across).flatMap(piecesIn);
  if (last && pieces.length === 0) {
    const end = Math.min(Infinity, ...blocks.map(({ laid }) => laid.y0));
    const first = goesOn(
      last.laid,
      sheet,
      free.filter(({ y }) => y < end),
      across,
      last.heading.addressAt,
    );
    if (first) blocks.unshift(asPiece(first, { ...last.heading, from: { band: 0, line: 0 }, title: '' }, true));
  }
  pieces.push(...blocks);
  pieces.sort((a, b) => a.laid.y0 - b.laid.y0 || a.laid.x0 - b.laid.x0);
  const rest = free.flatMap((line) => {
    const words = line.words.filter((word) => !blocks.some(({ laid }) => isInside(word.x0, line.y - 0.3 * line.size, laid)));
    return words.length ? [{ ...line, words }] : [];
  });
  return { pieces, free: rest, other };
}

function isInside(x: number, y: number, { x0, x1, y0, y1 }: LaidTable): boolean {
  return x >= x0 - 3 && x <= x1 + 3 && y >= y0 - 1 && y <= y1 + 1;
}

/** A table by its own names of columns; two where the same names stand beside each other. */
function piecesIn(laid: LaidTable): Piece[] {
  const heading = headingIn(laid);
  if (!heading) return [];
  const { texts } = heading;
  const again = texts.findIndex((text, index) => index > 1 && text !== '' && text === texts[0]);
  if (again < 0 || !texts.slice(again).some((text) => fieldOfHeader(text) === 'address')) return [asPiece(laid, heading, false)];
  return [sliced(laid, texts, 0, again), sliced(laid, texts, again, texts.length)].flatMap(piecesIn);
}

function sliced(laid: LaidTable, header: string[], from: number, to: number): LaidTable {
  const edges = laid.edges.slice(from, to + 1);
  const heading = headingIn(laid)!;
  const bands = laid.bands.slice(heading.from.band).map((band, index) => ({
    ...band,
    continues: band.continues.slice(from, to),
    lines: band.lines.slice(index === 0 ? heading.from.line : 0).map((line) => ({ ...line, cells: line.cells.slice(from, to) })),
  }));
  return { ...laid, edges, x0: edges[0]!, x1: edges.at(-1)!, bands, header: header.slice(from, to) };
}

/** A table without names of columns that has those of the one on the page before. */
function continuation(laid: LaidTable, { heading, laid: before }: Piece): Piece | null {
  if (laid.sheet.number !== before.sheet.number + 1 || laid.edges.length !== before.edges.length) return null;
  const isAlike = laid.edges.every((edge, index) => Math.abs(edge - laid.x0 - (before.edges[index]! - before.x0)) < 8);
  return isAlike ? asPiece(laid, { ...heading, from: { band: 0, line: 0 }, title: '' }, true) : null;
}

function asPiece(laid: LaidTable, heading: Heading, isGoingOn: boolean): Piece {
  const rows = rowsOf(laid, heading.addressAt, heading.from).filter(({ cells }) => cells.some(({ text, continues }) => text || continues));
  // Where the names of columns stand again between rows, they are no row.
  const names = heading.texts.join(' ').toLowerCase();
  const kept = rows.filter(
    ({ cells }) =>
      cells
        .map(({ text }) => text.replace(/\n/g, ' '))
        .filter(Boolean)
        .join(' ')
        .toLowerCase() !== names,
  );
  return { laid, heading, rows: kept, isGoingOn };
}

const CONTINUED = /continu|fortsetzung|\bsuite\b|segue|\bcont\b/i;

/** Whether a table goes on from the page before: nothing of its own stands over it. */
function joins({ laid, heading, isGoingOn }: Piece, last: Piece, above: readonly Line[]): boolean {
  if (laid.sheet.number !== last.laid.sheet.number + 1) return false;
  const isSame =
    isGoingOn || (heading.texts.length === last.heading.texts.length && heading.texts.every((text, at) => text === last.heading.texts[at]));
  return isSame && (isGoingOn || above.every(({ words }) => CONTINUED.test(textOf(words))));
}

/** What is at the top of a page without an address, and is no bit and no code, is the end of the row on the page before. */
function append(table: FoundTable, rows: readonly LaidRow[]): void {
  const [first, ...rest] = rows;
  const above = table.rows.at(-1);
  const address = table.header.findIndex((text) => fieldOfHeader(text) === 'address');
  const filled = first!.cells.flatMap(({ text }, column) => (text ? [{ text, column }] : []));
  const isEnd = above && filled.every(({ text, column }) => column !== address && !isBitOrCode(text) && above.cells[column]!.text);
  if (!isEnd) {
    table.rows.push(...rows);
    return;
  }
  for (const { text, column } of filled) above.cells[column]!.text += `\n${text}`;
  table.rows.push(...rest);
}

const CAPTION = /^(?:table|tabelle|tableau|tabla|tabella)\b/i;

/** What stands over a table: its caption and the heading before it, of what was read since the table before. */
function titleOf(lead: readonly string[], inside: string): string {
  const near = lead.slice(-12);
  const heading = near.findLast((text) => /^\d+(?:\.\d+)*\.?\s+\S/.test(text) && text.length < 100);
  const caption = near.findLast((text) => CAPTION.test(text));
  const last = near.at(-1);
  return [...new Set([heading, caption, heading || caption ? undefined : last, inside])]
    .filter((text) => text !== undefined && text !== '')
    .join(' – ')
    .slice(0, 300);
}
