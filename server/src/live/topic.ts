import { type FeedKind, feedId, type FeedRows, feedText } from '@plain-envoy/core/feed';

/** What one page looks at of one kind: the place of each id in its list, and which of them it has not been told yet. */
export interface Look {
  places: ReadonlyMap<string, number>;
  due: Set<string>;
}

export const nothing: Look = { places: new Map(), due: new Set() };

/** All rows of one kind as they are now, and who looks at which of them. */
export class Topic<Kind extends FeedKind> {
  private readonly rows = new Map<string, FeedRows[Kind]>();
  private readonly looks = new Map<string, Set<Look>>();
  /** Rows are never changed once they are here, so each is written out once, however many pages get it. */
  private readonly texts = new WeakMap<object, string>();

  /** Of which rows are taken; null for all. */
  private kept: ReadonlySet<string> | null = null;

  constructor(private readonly kind: Kind) {}

  get(id: string): FeedRows[Kind] | undefined {
    return this.rows.get(id);
  }

  take(rows: readonly FeedRows[Kind][]): void {
    for (const row of rows) {
      const id = feedId(this.kind, row);
      // It was on its way when nobody looked any more.
      if (this.kept && !this.kept.has(id)) continue;
      this.rows.set(id, row);
      const looks = this.looks.get(id);
      if (looks) for (const look of looks) look.due.add(id);
    }
  }

  /** Another list takes the place of `before`; what is new in it is due, and what still was. */
  look(before: Look, ids: readonly string[]): Look {
    const look: Look = { places: new Map(ids.map((id, place) => [id, place])), due: new Set() };
    for (const id of look.places.keys()) {
      if (this.rows.has(id) && (!before.places.has(id) || before.due.has(id))) look.due.add(id);
      const looks = this.looks.get(id) ?? new Set();
      this.looks.set(id, looks.add(look));
    }
    this.leave(before);
    return look;
  }

  leave(look: Look): void {
    for (const id of look.places.keys()) {
      const looks = this.looks.get(id);
      looks?.delete(look);
      if (looks?.size === 0) this.looks.delete(id);
    }
  }

  /** The ids that anybody looks at. */
  looked(): string[] {
    return [...this.looks.keys()];
  }

  /** What is due as JSON, after which nothing is; null where nothing was. */
  told({ places, due }: Look): string | null {
    if (due.size === 0) return null;
    const rows = [...due].flatMap((id) => {
      const row = this.rows.get(id);
      return row ? [`[${places.get(id)},${this.textOf(row)}]`] : [];
    });
    due.clear();
    return `[${rows.join()}]`;
  }

  /** Takes rows of these alone from now on, and forgets all others. */
  keep(ids: readonly string[]): void {
    this.kept = new Set(ids);
    for (const id of this.rows.keys()) if (!this.kept.has(id)) this.rows.delete(id);
  }

  /** Forgets all rows. */
  forget(): void {
    this.rows.clear();
    for (const looks of this.looks.values()) for (const { due } of looks) due.clear();
  }

  private textOf(row: FeedRows[Kind]): string {
    const known = this.texts.get(row);
    if (known !== undefined) return known;
    const text = feedText(this.kind, row);
    this.texts.set(row, text);
    return text;
  }
}
