import {
  type CaptureState,
  isModbus,
  keepsAll,
  matcher,
  type TraceFilter,
  type TraceEntry,
  type TraceTrigger,
  whyFires,
} from '@plain-envoy/core/trace';
import { SEGMENT_RECORDS, TraceCursor, TraceSegment } from './segment.js';

/** Question and answer each count as a frame. */
const MAX_RECORDS = 100_000;

/** What was found: how many in all, and those asked for. */
export interface Found {
  /** The first and last number that are kept at all. */
  kept: { first: number; last: number };
  capture: CaptureState;
  matching: number;
  records: TraceEntry[];
}

/** The last exchanges on the wire, the oldest forgotten first. What one filter has found is found again without looking twice. */
export class TraceRing {
  /** The oldest first. */
  private segments: TraceSegment[] = [];
  /** The number of the first record of the first segment. */
  private base = 1;
  private readonly cursor = new TraceCursor();
  private last = 0;
  private search: { key: string; matches: (record: TraceEntry) => boolean; found: number[]; upTo: number; from: number } | null = null;

  /** What a capture waits for. */
  trigger: TraceTrigger | null = null;
  capture: CaptureState = keepsAll;
  private lastAtMs: number | null = null;
  /** How many are still kept once the end was set off. */
  private left = 0;

  /** Lets a capture begin or end by itself; null keeps all from now on. */
  arm(trigger: TraceTrigger | null): void {
    this.trigger = trigger;
    this.capture = trigger ? { state: trigger.action === 'begin' ? 'waits to begin' : 'waits to end', because: null } : keepsAll;
    if (trigger?.action === 'begin') this.forget();
  }

  /** What was waited for has come. */
  fire(because: string): void {
    const { state } = this.capture;
    if (state === 'waits to begin') this.capture = { state: 'keeps', because };
    if (state !== 'waits to end') return;
    this.left = this.trigger!.after;
    this.capture = { state: this.left ? 'ends soon' : 'ended', because };
  }

  add(record: Omit<TraceEntry, 'number'>): void {
    if (this.capture.state === 'ended') return;
    const why = this.trigger ? whyFires(this.trigger.on, record, this.lastAtMs) : null;
    if (isModbus(record)) this.lastAtMs = record.atMs;
    if (this.capture.state === 'ends soon' && (this.left -= 1) <= 0) this.capture = { ...this.capture, state: 'ended' };
    if (why && this.capture.state === 'waits to begin') this.fire(why);
    if (this.capture.state === 'waits to begin') return;
    this.keep(record);
    if (why) this.fire(why);
  }

  private keep(record: Omit<TraceEntry, 'number'>): void {
    let segment = this.segments.at(-1);
    if (!segment || segment.isFull) this.segments.push((segment = new TraceSegment()));
    segment.add(record);
    this.last += 1;
    if (this.base + SEGMENT_RECORDS > this.last - MAX_RECORDS + 1) return;
    this.segments.shift();
    this.base += SEGMENT_RECORDS;
  }

  private at(number: number): TraceCursor {
    const index = number - this.base;
    return this.cursor.moveTo(this.segments[Math.floor(index / SEGMENT_RECORDS)]!, index % SEGMENT_RECORDS, number);
  }

  /** A new run keeps all; a capture that waits goes on waiting. */
  clear(): void {
    this.forget();
    this.arm(this.trigger);
  }

  private forget(): void {
    this.lastAtMs = null;
    this.segments = [];
    this.base = 1;
    this.last = 0;
    this.search = null;
  }

  /**
   * The exchanges that match, up to number `upTo` (null: all), and of them `count` from position `from` on, counted from the
   * oldest; a negative position counts from the newest.
   */
  find(filter: TraceFilter, { upTo, from, count }: { upTo: number | null; from: number; count: number }): Found {
    const first = Math.max(1, this.last - MAX_RECORDS + 1);
    const found = this.matching(filter, first);
    const low = lowest(found, first);
    const high = upTo === null ? found.length : Math.max(low, lowest(found, upTo + 1));
    const start = from < 0 ? Math.max(low, high + from) : low + from;
    const records = found.slice(start, Math.min(high, start + count)).map((number) => this.at(number).copy());
    return { kept: { first: Math.min(first, this.last), last: this.last }, capture: this.capture, matching: high - low, records };
  }

  /** The exchanges after number `after`, the oldest first, at most so many; null: none, but what the last number is. */
  since(after: number | null, count: number): { last: number; records: TraceEntry[] } {
    if (after === null) return { last: this.last, records: [] };
    // A run that began meanwhile counts from 1 again.
    const from = after > this.last ? 1 : Math.max(after + 1, this.last - MAX_RECORDS + 1, 1);
    const many = Math.max(0, Math.min(count, this.last - from + 1));
    const records = Array.from({ length: many }, (_, index) => this.at(from + index).copy());
    return { last: from + many - 1, records };
  }

  private matching(filter: TraceFilter, first: number): readonly number[] {
    const key = JSON.stringify(filter);
    const search = this.search?.key === key ? this.search : { key, matches: matcher(filter), found: [], upTo: first - 1, from: first };
    this.search = search;
    for (let number = Math.max(first, search.upTo + 1); number <= this.last; number++)
      if (search.matches(this.at(number))) search.found.push(number);
    search.upTo = this.last;
    // What is forgotten is cut off now and then, not each time.
    const gone = lowest(search.found, first);
    if (gone > MAX_RECORDS / 4) search.found.splice(0, gone);
    return search.found;
  }
}

/** Where the first number that is not below `least` stands in a rising list. */
function lowest(numbers: readonly number[], least: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (numbers[middle]! < least) low = middle + 1;
    else high = middle;
  }
  return low;
}
