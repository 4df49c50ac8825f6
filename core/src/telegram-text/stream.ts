import { LONGEST } from '../telegram/index.js';
import { endingOf } from './endings/list.js';
import { beginsWith, type Parsed, Reader } from './parse.js';
import type { Telegram } from '../telegram/index.js';

/** A stretch of a stream, from its first to its last byte, both included. */
interface Stretch {
  from: number;
  to: number;
}

/** What a stream is cut into: telegrams, sound or not, and what belongs to none. */
export type StreamPart = (Stretch & { kind: 'telegram'; bytes: Uint8Array; parsed: Parsed }) | (Stretch & { kind: 'rest'; why: string });

/** What an ending says of the bytes after the start of a telegram. */
export type Cut =
  /** The text ends before `textTo`, and what comes next begins at `next`. Where it is not trusted, it is one only if it is sound. */
  | { kind: 'telegram'; textTo: number; next: number }
  /** Nothing begins here, nor in so many bytes; in one where it does not say. */
  | { kind: 'none'; why: string; skip?: number }
  | { kind: 'more' };

/** The bytes that are looked at, from the start of a text on. */
export interface Ahead {
  bytes: Uint8Array;
  /** Where the text begins in them. */
  from: number;
  /** Where the next silence lies, in them; null for none. */
  silenceAt: number | null;
  /** No more will come. */
  isOver: boolean;
  reader: Reader;
  /** The telegram before ended right here, or a silence did: what is here is likely one, sound or not. */
  isAligned: boolean;
}

/** How a telegram ends, as a stream is cut by it. */
export interface Ending {
  cut(ahead: Ahead): Cut;
}

/**
 * Cuts a stream of bytes into telegrams as they come, and says of all else why it is none. Takes time in step with the bytes, whatever
 * they are. Positions count from 0 over everything that was ever given.
 */
export class TelegramStream {
  private readonly reader: Reader;
  private readonly ending: Ending;
  private held = new Uint8Array(256);
  /** What is held and not told yet lies from here to there in `held`, and from `at` on in the stream. */
  private from = 0;
  private to = 0;
  private at = 0;
  private silences: number[] = [];
  private isAligned = true;
  /** What a longer end mark still has, where a shorter one came first: it belongs to that, and to nothing else. */
  private tail: Uint8Array | null = null;
  private rests: (Stretch & { why: string })[] = [];

  constructor(telegram: Telegram) {
    this.reader = new Reader(telegram);
    this.ending = endingOf(telegram);
  }

  /** Takes what came. `silent`: nothing came for a while before it. */
  push(bytes: Uint8Array, silent = false): StreamPart[] {
    if (silent) this.silent();
    this.keep(bytes);
    return this.cut(false);
  }

  /** Nothing came for a while. What is told because of it comes with the next bytes, or now with `look`. */
  silent(): void {
    const here = this.at + (this.to - this.from);
    if (this.silences.at(-1) !== here) this.silences.push(here);
  }

  /** What can be told without any more bytes. */
  look(): StreamPart[] {
    return this.cut(false);
  }

  /** No more will come. */
  end(): StreamPart[] {
    const parts = this.cut(true);
    if (this.to > this.from) this.skip(this.to - this.from, 'it did not come to its end');
    return [...parts, ...this.tellRest()];
  }

  private cut(isOver: boolean): StreamPart[] {
    const parts: StreamPart[] = [];
    while (this.to > this.from) {
      const { start } = this.reader;
      if (this.tail) {
        if (beginsWith(this.held.subarray(this.from, this.to), this.tail, 0)) this.forward(this.tail.length);
        this.tail = null;
        continue;
      }
      while (this.silences.length > 0 && this.silences[0]! <= this.at) {
        this.isAligned ||= this.silences[0] === this.at;
        this.silences.shift();
      }
      if (start.length > 0) {
        const found = this.startIn(this.held.subarray(this.from, this.to));
        if (found.at > 0) {
          this.skip(found.at, 'no telegram begins in it');
          continue;
        }
        if (!found.isWhole) break;
      }
      const bytes = this.held.subarray(this.from, this.to);
      const silence = this.silences[0];
      const silenceAt = silence === undefined ? null : silence - this.at;
      const ahead: Ahead = { bytes, from: start.length, silenceAt, isOver, reader: this.reader, isAligned: this.isAligned };
      const cut = this.ending.cut(ahead);
      if (cut.kind === 'more') {
        if (bytes.length - start.length <= LONGEST) break;
        this.skip(bytes.length, `it has more than ${LONGEST} bytes`);
        continue;
      }
      if (cut.kind === 'none') {
        this.skip(cut.skip ?? this.nextStart(bytes), cut.why);
        continue;
      }
      const again = start.length > 0 ? lastWithin(bytes, start, start.length, cut.textTo) : -1;
      if (again > 0 && !this.reader.isSound(bytes.subarray(start.length, cut.textTo))) {
        this.skip(again, 'another begins before it came to its end');
        continue;
      }
      parts.push(...this.tellRest());
      const own = bytes.slice(start.length, cut.textTo);
      const parsed = this.reader.read(own);
      parts.push({ kind: 'telegram', from: this.at, to: this.at + cut.next - 1, bytes: bytes.slice(0, cut.next), parsed });
      if (cut.next === bytes.length) this.tail = tailOf(this.reader.marks, bytes.subarray(cut.textTo, cut.next));
      this.forward(cut.next);
      this.isAligned = true;
    }
    return parts;
  }

  /** How many bytes are passed over where nothing begins: one, or as many as are before the next start mark. */
  private nextStart(bytes: Uint8Array): number {
    const { start } = this.reader;
    if (start.length === 0) return 1;
    return 1 + this.startIn(bytes.subarray(1)).at;
  }

  /** Where a start mark begins, or may begin once more has come. */
  private startIn(bytes: Uint8Array): { at: number; isWhole: boolean } {
    const { start } = this.reader;
    for (let at = bytes.indexOf(start[0]!); at >= 0; at = bytes.indexOf(start[0]!, at + 1)) {
      if (beginsWith(bytes, start, at)) return { at, isWhole: true };
      if (at + start.length > bytes.length && beginsWith(start, bytes.subarray(at), 0)) return { at, isWhole: false };
    }
    return { at: bytes.length, isWhole: false };
  }

  private skip(count: number, why: string): void {
    const last = this.rests.at(-1);
    if (last?.to === this.at - 1 && last.why === why) last.to += count;
    else this.rests.push({ from: this.at, to: this.at + count - 1, why });
    this.forward(count);
    this.isAligned = false;
  }

  /** What belongs to nothing is told when something comes that does, or nothing comes any more. */
  private tellRest(): StreamPart[] {
    const told = this.rests.map((rest): StreamPart => ({ kind: 'rest', ...rest }));
    this.rests = [];
    return told;
  }

  private forward(count: number): void {
    this.from += count;
    this.at += count;
  }

  private keep(bytes: Uint8Array): void {
    const length = this.to - this.from;
    if (this.to + bytes.length > this.held.length) {
      const larger = length + bytes.length > this.held.length / 2 ? new Uint8Array(2 * (length + bytes.length)) : this.held;
      larger.set(this.held.subarray(this.from, this.to));
      this.held = larger;
      this.from = 0;
      this.to = length;
    }
    this.held.set(bytes, this.to);
    this.to += bytes.length;
  }
}

/** What is left of a longer mark that begins with this one. */
function tailOf(marks: readonly Uint8Array[], used: Uint8Array): Uint8Array | null {
  const longer = marks.find((mark) => mark.length > used.length && beginsWith(mark, used, 0));
  return longer ? longer.subarray(used.length) : null;
}

/** Where the last of these marks begins within a stretch; -1 where there is none. */
function lastWithin(bytes: Uint8Array, mark: Uint8Array, from: number, to: number): number {
  for (let at = to - mark.length; at >= from; at--) if (beginsWith(bytes, mark, at)) return at;
  return -1;
}

/** A whole stream at once. `silences`: before which bytes nothing came for a while. */
export function readTelegrams(telegram: Telegram, bytes: Uint8Array, silences: readonly number[] = []): StreamPart[] {
  const stream = new TelegramStream(telegram);
  const parts: StreamPart[] = [];
  let from = 0;
  for (const at of [...new Set(silences)].filter((at) => at > 0 && at < bytes.length).sort((a, b) => a - b)) {
    parts.push(...stream.push(bytes.subarray(from, at)));
    stream.silent();
    from = at;
  }
  return [...parts, ...stream.push(bytes.subarray(from)), ...stream.end()];
}
