/** Keeps items so that the first by `isBefore` is found at once; adding and taking cost log n steps. */
export class Heap<T> {
  private readonly items: T[] = [];

  constructor(private readonly isBefore: (a: T, b: T) => boolean) {}

  get size(): number {
    return this.items.length;
  }

  first(): T | undefined {
    return this.items[0];
  }

  add(item: T): void {
    const { items } = this;
    let at = items.push(item) - 1;
    while (at > 0) {
      const above = (at - 1) >> 1;
      if (!this.isBefore(item, items[above]!)) break;
      items[at] = items[above]!;
      at = above;
    }
    items[at] = item;
  }

  take(): T | undefined {
    const { items } = this;
    const first = items[0];
    const last = items.pop();
    if (items.length === 0 || last === undefined) return first;
    let at = 0;
    for (;;) {
      let below = 2 * at + 1;
      if (below >= items.length) break;
      if (below + 1 < items.length && this.isBefore(items[below + 1]!, items[below]!)) below += 1;
      if (!this.isBefore(items[below]!, last)) break;
      items[at] = items[below]!;
      at = below;
    }
    items[at] = last;
    return first;
  }
}
