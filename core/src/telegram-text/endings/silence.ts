import type { Ahead, Cut, Ending } from '../stream.js';

/** It ends when nothing comes for a while, or nothing comes any more. */
export const bySilence: Ending = {
  cut({ bytes, silenceAt, isOver }: Ahead): Cut {
    const to = silenceAt !== null && silenceAt > 0 ? silenceAt : isOver ? bytes.length : null;
    return to === null ? { kind: 'more' } : { kind: 'telegram', textTo: to, next: to };
  },
};
