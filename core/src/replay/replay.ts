import type { Table } from '../address/index.js';
import { fromHex, functionOf } from '../frame/index.js';
import { type Extents, spansOf } from '../map/index.js';
import { hexOf, type Moment, type Reel } from './reel.js';

/** How a recorded device answers a question at this time: from its registers, in these words, or not at all. It takes `ms`, of which frames on the wire are a part. */
export type ReplayAnswer =
  { kind: 'registers'; ms: number; bytes: number } | { kind: 'words'; pdu: Uint8Array; ms: number; bytes: number } | { kind: 'silent' };

/** Puts values into registers. */
type Put = (table: Table, offset: number, values: readonly number[]) => void;

/** A recorded device as it lives on: what its registers held comes again at its time, and when all has been played it begins anew. */
export class Replay {
  /** The registers that were seen in the recording. */
  readonly extents: Extents;
  /** What came of each question the last time; before it was asked first, what came then. */
  private readonly last = new Map<string, Moment>();
  private timeMs = 0;
  private next = 0;
  private rounds = 1;
  private begun = false;

  constructor(private readonly reel: Reel) {
    this.extents = seenIn(reel.moments);
    for (const moment of reel.moments) {
      const key = keyOf(moment.question);
      if (!this.last.has(key)) this.last.set(key, moment);
    }
  }

  /** Where in the recording it is, how long that is, and for the which time. */
  get at(): { atMs: number; lastsMs: number; round: number } {
    return { atMs: this.timeMs, lastsMs: this.reel.lastsMs, round: this.rounds };
  }

  /** Lets time go on by so many ms. */
  advance(ms: number, put: Put): void {
    if (!this.begun) this.begin(put);
    this.timeMs += ms;
    while (this.timeMs >= this.reel.lastsMs) {
      this.playUntil(Infinity, put);
      this.timeMs -= this.reel.lastsMs;
      this.next = 0;
      this.rounds += 1;
    }
    this.playUntil(this.timeMs, put);
  }

  /** What was never asked in the recording is answered from its registers, at the pace of what was asked last. */
  answerTo(pdu: Uint8Array): ReplayAnswer {
    const moment = this.last.get(keyOf(hexOf(pdu)));
    if (!moment) {
      const { ms, bytes } = this.reel.moments[Math.max(0, this.next - 1)]!;
      return { kind: 'registers', ms, bytes };
    }
    const { ms, bytes, held, answer } = moment;
    if (held) return { kind: 'registers', ms, bytes };
    const words = answer === null ? null : fromHex(answer);
    return words?.ok ? { kind: 'words', pdu: words.value, ms, bytes } : { kind: 'silent' };
  }

  /** Before anything was seen of a register, it held what was seen first. */
  private begin(put: Put): void {
    this.begun = true;
    for (const { held } of [...this.reel.moments].reverse()) if (held) put(held.table, held.offset, held.values);
  }

  private playUntil(timeMs: number, put: Put): void {
    const { moments } = this.reel;
    for (; this.next < moments.length && moments[this.next]!.atMs <= timeMs; this.next++) {
      const moment = moments[this.next]!;
      this.last.set(keyOf(moment.question), moment);
      if (moment.held) put(moment.held.table, moment.held.offset, moment.held.values);
    }
  }
}

/** Questions are the same that reach the same registers by the same function, whatever they write. */
function keyOf(question: string): string {
  const kind = functionOf(parseInt(question.slice(0, 2), 16))?.kind;
  if (kind === 'write-one') return question.slice(0, 6);
  return kind === 'write-many' ? question.slice(0, 10) : question;
}

function seenIn(moments: readonly Moment[]): Extents {
  const seen = new Map<Table, Set<number>>();
  for (const { held } of moments) {
    if (!held) continue;
    const offsets = seen.get(held.table) ?? new Set<number>();
    seen.set(held.table, offsets);
    for (let at = 0; at < held.values.length; at++) offsets.add(held.offset + at);
  }
  return Object.fromEntries([...seen].map(([table, offsets]) => [table, spansOf([...offsets].sort((a, b) => a - b))]));
}
