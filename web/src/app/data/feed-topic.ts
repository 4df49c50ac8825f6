import { computed, type Signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { distinctUntilChanged, filter, Observable, Subject, switchMap } from 'rxjs';

/** Rows by id; what is not there is not known. */
export type Rows<Row> = ReadonlyMap<string, Row>;

/** Rows of one kind of the live feed, as far as somebody looks at them. Each reader is told of its own alone. */
export class FeedTopic<Row> {
  private readonly known = new Map<string, Row>();
  /** How many look at each. */
  private readonly readers = new Map<string, number>();
  /** Which have changed; null for all. */
  private readonly changed = new Subject<ReadonlySet<string> | null>();
  private readonly asked = new Subject<void>();
  /** Tells that others are looked at than before. */
  readonly looks: Observable<void> = this.asked;

  constructor(private readonly idOf: (row: Row) => string) {}

  /** The rows of these ids, again whenever one of them changes. They are looked at until it is unsubscribed. */
  of(ids: Observable<readonly string[]>): Observable<Rows<Row>> {
    return ids.pipe(
      distinctUntilChanged((before, after) => before.length === after.length && before.every((id, index) => id === after[index])),
      switchMap((own) => this.look(own)),
    );
  }

  /** What is looked at now; of all else nothing is known any more. */
  wanted(): string[] {
    for (const id of this.known.keys()) if (!this.readers.has(id)) this.known.delete(id);
    return [...this.readers.keys()];
  }

  take(rows: readonly Row[]): void {
    if (rows.length === 0) return;
    for (const row of rows) this.known.set(this.idOf(row), row);
    this.changed.next(new Set(rows.map(this.idOf)));
  }

  forget(): void {
    this.known.clear();
    this.changed.next(null);
  }

  private look(ids: readonly string[]): Observable<Rows<Row>> {
    return new Observable((reader) => {
      const own = new Set(ids);
      const tell = () => reader.next(new Map(ids.flatMap((id) => (this.known.has(id) ? [[id, this.known.get(id)!]] : []))));
      this.count(own, 1);
      tell();
      const changes = this.changed.pipe(filter((changed) => changed === null || ids.some((id) => changed.has(id)))).subscribe(tell);
      return () => {
        changes.unsubscribe();
        this.count(own, -1);
      };
    });
  }

  private count(ids: ReadonlySet<string>, by: 1 | -1): void {
    if (ids.size === 0) return;
    for (const id of ids) {
      const count = (this.readers.get(id) ?? 0) + by;
      if (count) this.readers.set(id, count);
      else this.readers.delete(id);
    }
    this.asked.next();
  }
}

/** The rows that a component looks at, for as long as it is there. */
export function rowsFor<Row>(topic: FeedTopic<Row>, ids: () => readonly string[]): Signal<Rows<Row>> {
  return toSignal(topic.of(toObservable(computed(ids))), { initialValue: new Map<string, Row>() });
}
