import { trimmedOf } from '../common/index.js';

/** Bits or codes that running text tells of: `Bit 0: pump runs, bit 1: fault` or `0 = off, 1 = on`. */
export interface NamedIn {
  kind: 'bits' | 'codes';
  entries: { number: number; name: string }[];
}

const BIT = /\bbits?[\s.]{0,4}(\d{1,2})(?:\s{0,3}(?:\.{2,3}|[-–…])\s{0,3}\d{1,2})?\s{0,3}(?:=\s{0,2}1\s{0,3})?[:=–)-]?\s{0,3}/gi;
const CODE = /(?:^|[\s,;(/|])(-?\d{1,5}|0x[0-9a-f]{1,4})\s*(?:[=:→]|\s[–-]\s)\s*/gi;
const LONGEST = 80;

/** Finds bits or codes in a text; null where it tells of none. In running text one code alone is none: it may be anything. */
export function namedIn(text: string, fewestCodes = 2): NamedIn | null {
  const bits = partsOf(text, BIT).filter(({ number }) => number < 64);
  if (bits.length >= 1) return { kind: 'bits', entries: onceEach(bits) };
  const codes = partsOf(text, CODE);
  if (codes.length < fewestCodes || new Set(codes.map(({ number }) => number)).size < codes.length) return null;
  return { kind: 'codes', entries: codes };
}

/** The text behind each number, up to the next; parts without words are none. */
function partsOf(text: string, pattern: RegExp): NamedIn['entries'] {
  const found = [...text.matchAll(pattern)];
  return found.flatMap((part, index) => {
    const behind = text.slice(part.index + part[0].length, found[index + 1]?.index);
    const isLast = index === found.length - 1;
    const name = nameIn(behind, isLast);
    return /^[("„«]?\p{L}/u.test(name) ? [{ number: Number(part[1]), name }] : [];
  });
}

function nameIn(text: string, isLast: boolean): string {
  const until = isLast ? text.split(/\n|[.;]\s/)[0]! : text;
  return trimmedOf(until.replace(/\s+/g, ' '), ' :=–-,;.|/(').slice(0, LONGEST).trim();
}

function onceEach(entries: NamedIn['entries']): NamedIn['entries'] {
  return entries.filter(({ number }, index) => entries.findIndex((other) => other.number === number) === index);
}
