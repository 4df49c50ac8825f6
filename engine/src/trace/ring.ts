import { matcher, type TraceFilter, type TraceRecord } from '@plain-envoy/core/trace';

/** Question and answer each count as a frame. */
const MOST_RECORDS = 100_000;

/** What was found: how many in all, and those asked for. */
export interface Found {
  /** The first and last number that are kept at all. */
  kept: { first: number; last: number };
  matching: number;
  records: TraceRecord[];
}

/** The last exchanges on the wire, the oldest forgotten first. What one filter has found is found again without looking twice. */
export class TraceRing {
  private readonly records = new Array<TraceRecord | undefined>(MOST_RECORDS);
  private last = 0;
  private search: { key: string; matches: (record: TraceRecord) => boolean; found: number[]; upTo: number; from: number } | null = null;

  add(record: Omit<TraceRecord, 'number'>): void {
    this.last += 1;
    this.records[this.last % MOST_RECORDS] = { ...record, number: this.last };
  }

  clear(): void {
    this.records.fill(undefined);
    this.last = 0;
    this.search = null;
  }

  /**
   * The exchanges that match, up to number `upTo` (null: all), and of them `count` from position `from` on, counted from the
   * oldest; a negative position counts from the newest.
   */
  find(filter: TraceFilter, { upTo, from, count }: { upTo: number | null; from: number; count: number }): Found {
    const first = Math.max(1, this.last - MOST_RECORDS + 1);
    const found = this.matching(filter, first);
    const low = lowest(found, first);
    const high = upTo === null ? found.length : Math.max(low, lowest(found, upTo + 1));
    const start = from < 0 ? Math.max(low, high + from) : low + from;
    const records = found.slice(start, Math.min(high, start + count)).map((number) => this.records[number % MOST_RECORDS]!);
    return { kept: { first: Math.min(first, this.last), last: this.last }, matching: high - low, records };
  }

  private matching(filter: TraceFilter, first: number): readonly number[] {
    const key = JSON.stringify(filter);
    const search = this.search?.key === key ? this.search : { key, matches: matcher(filter), found: [], upTo: first - 1, from: first };
    this.search = search;
    for (let number = Math.max(first, search.upTo + 1); number <= this.last; number++)
      if (search.matches(this.records[number % MOST_RECORDS]!)) search.found.push(number);
    search.upTo = this.last;
    // What is forgotten is cut off now and then, not each time.
    const gone = lowest(search.found, first);
    if (gone > MOST_RECORDS / 4) search.found.splice(0, gone);
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
