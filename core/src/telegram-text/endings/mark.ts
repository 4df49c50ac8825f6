import type { Ahead, Cut, Ending } from '../stream.js';
import { LONGEST } from '../../telegram/index.js';
import { beginsWith } from '../parse.js';

/** One of a few marks ends it; of several that fit at one place the longest. */
export const byMark: Ending = {
  cut({ bytes, from, reader: { marks } }: Ahead): Cut {
    const first = new Set(marks.map((mark) => mark[0]!));
    for (let at = from; at < bytes.length && at - from <= LONGEST; at++) {
      if (!first.has(bytes[at]!)) continue;
      const mark = marks.find((one) => beginsWith(bytes, one, at));
      if (!mark) continue;
      // A text of nothing is what is left of a longer mark, or a line that was left empty.
      if (at === from && from === 0) return { kind: 'none', why: 'an end mark with nothing before it', skip: mark.length };
      return { kind: 'telegram', textTo: at, next: at + mark.length };
    }
    return { kind: 'more' };
  },
};
