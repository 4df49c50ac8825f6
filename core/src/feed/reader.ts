import type { Batch } from './report.js';
import { type FeedKind, feedRow, type FeedRows, type Values, type Watch } from './wire.js';

/** The page's end of the feed: it numbers what is looked at, and reads what then comes by it. */
export class FeedReader {
  /** Those that may still be answered, the oldest first. */
  private sent: Watch[] = [];
  private number = 0;

  /** What to tell the server. */
  watch(lists: Partial<Record<FeedKind, readonly string[]>>): { watch: Watch } {
    const { points = [], routes = [], devices = [], requests = [] } = lists;
    const watch = {
      ...{ number: (this.number += 1), points: [...points], routes: [...routes] },
      ...{ devices: [...devices], requests: [...requests] },
    };
    this.sent.push(watch);
    return { watch };
  }

  /** The rows that came; those of a watch that was never sent are passed by. */
  read(values: Values): Batch {
    const at = this.sent.findIndex(({ number }) => number === values.watch);
    const watch = this.sent[at];
    this.sent = this.sent.slice(Math.max(0, at));
    const rows = <Kind extends FeedKind>(kind: Kind): FeedRows[Kind][] =>
      (values[kind] ?? []).flatMap(([place, ...fields]) => {
        const id = watch?.[kind][place];
        return id === undefined ? [] : [feedRow(kind, id, fields)];
      });
    return { readings: rows('points'), routes: rows('routes'), devices: rows('devices'), requests: rows('requests') };
  }
}
