import { arbitrate, type CanIdentifier, type IdentifierBits } from '../can-id/index.js';

/** A frame as it loads its bus. */
export interface TimedFrame extends CanIdentifier {
  id: string;
  /** 0 to 8. */
  bytes: number;
  periodMs: number;
  /** How much later than its period it may be wanted. */
  jitterMs?: number | undefined;
}

export interface FrameTime {
  id: string;
  bits: number;
  worstBits: number;
  worstMs: number;
  /** From when it is wanted until its last bit is on the bus; null where it grows without end. */
  worstResponseMs: number | null;
}

/** Delimiter of the checksum, acknowledgement with its delimiter, end of frame, and the space until the next: never stuffed. */
export const AFTER_BITS = 1 + 2 + 7 + 3;
/** Start, identifier, control and checksum: what is stuffed beside the data. */
const stuffedBits: Record<IdentifierBits, number> = { 11: 34, 29: 54 };
/** A bus that is so full has no end of its busy time that would be found. */
const MOST_STEPS = 100_000;

/** The bits of a data frame with the space after it: none stuffed, and as many as there can be, one after four others each (ISO 11898-1). */
export function frameBits(identifierBits: IdentifierBits, bytes: number): { bits: number; worstBits: number } {
  const inside = stuffedBits[identifierBits] + 8 * bytes;
  const bits = inside + AFTER_BITS;
  return { bits, worstBits: bits + Math.floor((inside - 1) / 4) };
}

/**
 * How full a bus is and how late each frame can be, by the response-time analysis for fixed priorities without interruption: it waits
 * for one of less priority that has begun, and for all of more as often as they come meanwhile; every instance of its busy time counts.
 * Frames are in the order in which they were given.
 */
export function busTime(bitrate: number, frames: readonly TimedFrame[]): { load: number; frames: FrameTime[] } {
  const bitMs = 1000 / bitrate;
  const timed = frames.map((frame) => {
    const { bits, worstBits } = frameBits(frame.identifierBits, frame.bytes);
    return { frame, bits, worstBits, worstMs: worstBits * bitMs, jitterMs: frame.jitterMs ?? 0 };
  });
  const load = timed.reduce((sum, { worstMs, frame }) => sum + worstMs / frame.periodMs, 0);
  return {
    load,
    frames: timed.map((one) => {
      const before = timed.filter((other) => other !== one && arbitrate(other.frame, one.frame) <= 0);
      const after = timed.filter((other) => arbitrate(other.frame, one.frame) > 0);
      const { id } = one.frame;
      const { bits, worstBits, worstMs } = one;
      return { id, bits, worstBits, worstMs, worstResponseMs: worstResponse(one, before, after, bitMs) };
    }),
  };
}

interface Timed {
  frame: TimedFrame;
  worstMs: number;
  jitterMs: number;
}

function worstResponse(own: Timed, before: readonly Timed[], after: readonly Timed[], bitMs: number): number | null {
  const share = [own, ...before].reduce((sum, { worstMs, frame }) => sum + worstMs / frame.periodMs, 0);
  if (share >= 1) return null;
  const blockedMs = Math.max(0, ...after.map(({ worstMs }) => worstMs));
  /** How much of these comes within a time, counted in whole periods; a quarter of a bit of what arithmetic spoils counts for nothing. */
  const within = (ms: number, those: readonly Timed[]) =>
    those.reduce((sum, { worstMs, jitterMs, frame }) => sum + Math.ceil((ms + jitterMs - bitMs / 4) / frame.periodMs) * worstMs, 0);
  const busyMs = settled(own.worstMs, (ms) => blockedMs + within(ms, [own, ...before]));
  if (busyMs === null) return null;
  const instances = Math.ceil((busyMs + own.jitterMs - bitMs / 4) / own.frame.periodMs);
  let worst = 0;
  let waited = blockedMs;
  for (let instance = 0; instance < instances; instance++) {
    // What begins in the bit after it still comes first.
    const ms = settled(
      Math.max(waited, blockedMs + instance * own.worstMs),
      (at) => blockedMs + instance * own.worstMs + within(at + bitMs, before),
    );
    if (ms === null) return null;
    waited = ms;
    worst = Math.max(worst, own.jitterMs + ms - instance * own.frame.periodMs + own.worstMs);
  }
  return worst;
}

/** Where a rising step comes to rest; null where it does not. */
function settled(from: number, step: (at: number) => number): number | null {
  let at = from;
  for (let steps = 0; steps < MOST_STEPS; steps++) {
    const next = step(at);
    if (next <= at + 1e-9) return at;
    at = next;
  }
  return null;
}
