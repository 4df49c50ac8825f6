import { trimmedOf } from '../common/index.js';
import type { Cell, FoundTable, LaidRow } from './table.js';
import { type Line, textOf } from './words.js';

/** Signs that send to a footnote, where they are printed like the rest of a cell. */
const TRAILING = /(?:(\d)\)|(\*{1,3}|[†‡])|([¹²³⁴⁵⁶⁷⁸⁹]))$/;
const RAISED: Readonly<Record<string, string>> = {
  '¹': '1',
  '²': '2',
  '³': '3',
  '⁴': '4',
  '⁵': '5',
  '⁶': '6',
  '⁷': '7',
  '⁸': '8',
  '⁹': '9',
};
/** Footnotes stand not further under a table than this many lines. */
const LOOKED_AT = 14;

/**
 * Puts the footnotes under a table into the rows that send to them, and takes their signs off what is written there. Gives how far down
 * they go. A sign without a footnote is said.
 */
export function footnotesUnder(below: readonly Line[], rows: readonly LaidRow[], table: FoundTable): number {
  const notes = new Map<string, string>();
  let [end, open] = [-Infinity, ''];
  for (const line of below.slice(0, LOOKED_AT)) {
    const begun = begunBy(line);
    if (begun) {
      open = begun.mark;
      notes.set(open, begun.text);
    } else if (open && line.y - end < 1.7 * line.size) {
      notes.set(open, `${notes.get(open)} ${textOf(line.words)}`);
    } else {
      open = '';
    }
    if (open) end = line.y;
  }
  for (const row of rows) {
    const told = new Set(row.cells.flatMap((cell) => marksIn(cell, notes)));
    for (const mark of told) {
      const note = notes.get(mark);
      if (note) (row.footnotes ??= []).push(note);
      else row.doubts.push(`The sign ${mark} stands in this row, but no footnote with it was found under the table.`);
    }
  }
  for (const [column, text] of table.header.entries()) {
    const mark = markAt(text);
    if (mark && notes.has(mark)) table.header[column] = text.replace(TRAILING, '').trimEnd();
  }
  return end;
}

function marksIn(cell: Cell, notes: ReadonlyMap<string, string>): string[] {
  const marks = [...cell.marks];
  const written = markAt(cell.text);
  if (written && notes.has(written)) {
    cell.text = cell.text.replace(TRAILING, '').trimEnd();
    marks.push(written);
  }
  return marks;
}

function markAt(text: string): string | null {
  const found = TRAILING.exec(text);
  return found && (found[1] ?? found[2] ?? RAISED[found[3]!]!);
}

/** The sign that a line begins with, and what follows; null where it begins with none. */
function begunBy({ words, size }: Line): { mark: string; text: string } | null {
  const [first, ...rest] = words;
  if (first!.size < 0.85 * size && rest.length && first!.text.length <= 3) return { mark: plain(first!.text), text: textOf(rest) };
  const whole = textOf(words);
  const written = /^(?:(\d)\)|(\*{1,3}|[†‡])|([¹²³⁴⁵⁶⁷⁸⁹])\)?)\s*(\S.*)$/.exec(whole);
  return written && { mark: written[1] ?? written[2] ?? RAISED[written[3]!]!, text: written[4]! };
}

function plain(mark: string): string {
  return RAISED[mark] ?? trimmedOf(mark, ').:');
}
