import type { Ahead, Cut, Ending } from '../stream.js';

/**
 * It always has so many bytes. Where nothing else tells where one begins, it begins where a sound one does: one that is not sound is
 * one only between others, or between silences.
 */
export function byLength(length: number): Ending {
  return {
    cut({ bytes, from, silenceAt, isOver, reader, isAligned }: Ahead): Cut {
      const to = from + length;
      if (silenceAt !== null && silenceAt > 0 && silenceAt < to)
        return { kind: 'none', why: `nothing more came after ${silenceAt - from} of ${length} bytes`, skip: silenceAt };
      if (bytes.length < to) return { kind: 'more' };
      const telegram: Cut = { kind: 'telegram', textTo: to, next: to };
      if (from > 0 || reader.isSound(bytes.subarray(from, to))) return telegram;
      const none: Cut = { kind: 'none', why: 'no telegram begins in it' };
      if (!isAligned) return none;
      if (silenceAt === to || (isOver && bytes.length === to)) return telegram;
      if (bytes.length < to + length) return isOver ? none : { kind: 'more' };
      return reader.isSound(bytes.subarray(to, to + length)) ? telegram : none;
    },
  };
}
