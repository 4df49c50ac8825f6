import { middleOf } from '../common/index.js';
import { arbitrate, type CanIdentifier } from '../can-id/index.js';
import type { LoggedFrame } from './log.js';

/** What was seen of one identifier. */
export interface Sniffed extends CanIdentifier {
  on: string;
  count: number;
  /** Remote frames among them. */
  remote: number;
  /** The middle of the times between two; null where there are fewer than two. */
  periodMs: number | null;
  /** How far a time between two was from that at most. */
  jitterMs: number | null;
  /** Of the shortest and of the longest. */
  bytes: [least: number, most: number];
  /** Which bits were ever other than in the frame before: bit n is bit n mod 8 of byte n div 8. */
  movedBits: number[];
  /** The last that was seen. */
  data: Uint8Array;
  frames: readonly LoggedFrame[];
}

/** What a log holds of each identifier on each interface, those that win arbitration first. */
export function sniff(frames: readonly LoggedFrame[]): Sniffed[] {
  return [...byIdentifier(frames).values()].map(sniffed).sort(arbitrate);
}

/** The frames of each identifier on each interface, in the order in which they came. */
function byIdentifier(frames: readonly LoggedFrame[]): Map<string, LoggedFrame[]> {
  const all = new Map<string, LoggedFrame[]>();
  for (const frame of frames) {
    const key = `${frame.on} ${frame.identifierBits} ${frame.identifier}`;
    const known = all.get(key);
    if (known) known.push(frame);
    else all.set(key, [frame]);
  }
  return all;
}

function sniffed(own: readonly LoggedFrame[]): Sniffed {
  const { identifierBits, identifier, on } = own[0]!;
  const betweenMs = own.slice(1).map(({ atS }, index) => (atS - own[index]!.atS) * 1000);
  const periodMs = betweenMs.length ? middleOf(betweenMs) : null;
  const full = own.filter(({ isRemote }) => !isRemote);
  const lengths = own.map(({ data }) => data.length);
  const moved = new Set<number>();
  full.slice(1).forEach(({ data }, index) => {
    const before = full[index]!.data;
    for (let at = 0; at < Math.min(data.length, before.length); at++)
      for (let bit = 0, other = data[at]! ^ before[at]!; other; bit++, other >>= 1) if (other & 1) moved.add(8 * at + bit);
  });
  return {
    ...{ identifierBits, identifier, on, count: own.length, remote: own.length - full.length },
    periodMs: periodMs === null ? null : toMicroseconds(periodMs),
    jitterMs: periodMs === null ? null : toMicroseconds(betweenMs.reduce((most, ms) => Math.max(most, Math.abs(ms - periodMs)), 0)),
    bytes: [lengths.reduce((least, one) => Math.min(least, one)), lengths.reduce((most, one) => Math.max(most, one))],
    movedBits: [...moved].sort((a, b) => a - b),
    data: full.at(-1)?.data ?? new Uint8Array(),
    frames: own,
  };
}

/** No log tells more. */
function toMicroseconds(ms: number): number {
  return Math.round(ms * 1000) / 1000;
}
