import { fieldOfHeader } from '../fields/index.js';
import { isAddressLike } from './address-like.js';
import { type From, textsOf } from './rows.js';
import type { LaidTable } from './table.js';

/** The names of a table's columns, and what comes after them. */
export interface Heading {
  texts: string[];
  /** In which column its addresses are. */
  addressAt: number;
  from: From;
  /** What is written over them, in the table itself. */
  title: string;
}

const DEEPEST = 3;
/** How far down the names of columns are looked for: over them may be the title of the table. */
const LOOKED_AT = 4;

/** Finds in the table itself which of its cells name the columns; null where none do. */
export function headingIn(table: LaidTable): Heading | null {
  const columns = table.edges.length - 1;
  if (table.header) return found(table.header, { band: 0, line: 0 }, '');
  const bands = table.bands.map(({ lines }) => textsOf(lines, columns));
  // A band into which a name goes on from above holds names too.
  const goesOn = (at: number) => Boolean(table.bands[at]?.continues.some(Boolean)) && !bands[at]!.some(isAddressLike);
  const byBands = best(bands, (first, depth) => ({ band: first + depth, line: 0 }), goesOn);
  if (byBands) return byBands;
  const lines = [...(table.bands[0]?.lines ?? [])].sort((a, b) => a.y - b.y);
  const texts = lines.slice(0, LOOKED_AT + DEEPEST).map((line) => textsOf([line], columns));
  return best(texts, (first, depth) => ({ band: 0, line: first + depth }));
}

function best(
  units: readonly string[][],
  from: (first: number, depth: number) => From,
  goesOn: (at: number) => boolean = () => false,
): Heading | null {
  let chosen: { heading: Heading; known: number } | null = null;
  for (let first = 0; first < Math.min(LOOKED_AT, units.length); first++) {
    for (let depth = 1; depth <= DEEPEST && first + depth < units.length + 1; depth++) {
      const own = units.slice(first, first + depth);
      if (own.at(-1)!.some((text) => isAddressLike(text) && /\d{2}/.test(text))) break;
      if (goesOn(first + depth)) continue;
      const texts = joined(own);
      const over = units.slice(0, first).flatMap((cells) => cells.filter(Boolean));
      const heading = found(texts, from(first, depth), over.join(' '));
      const known = new Set(texts.map(fieldOfHeader).filter(Boolean)).size;
      if (heading && known > (chosen?.known ?? 0)) chosen = { heading, known };
    }
  }
  return chosen?.heading ?? null;
}

/** A name that goes over several columns is part of the names under it. */
function joined(units: readonly string[][]): string[] {
  const [first, ...rest] = units;
  return first!.map((text, column) => {
    const under = rest.map((cells) => cells[column]!).filter(Boolean);
    const own = under.join(' ');
    // Under a name that goes over several columns each may have one of its own.
    if (fieldOfHeader(own) !== null) return own;
    const over = text || (under.length ? (first!.slice(0, column).findLast(Boolean) ?? '') : '');
    return [over, own].filter(Boolean).join(' ');
  });
}

function found(texts: string[], from: From, title: string): Heading | null {
  const fields = texts.map(fieldOfHeader);
  const known = new Set(fields.filter(Boolean));
  const addressAt = fields.indexOf('address');
  return addressAt >= 0 && known.size >= 2 ? { texts, addressAt, from, title } : null;
}
