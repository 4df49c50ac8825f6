/** Something that waits for its turn at an endpoint. */
export interface Waiting {
  priority: number;
  releasedAt: number;
  run(): Promise<void>;
}

/**
 * Serves one endpoint: up to `concurrent` at a time, without interruption; among those waiting the lower priority number
 * goes first, then the one released earliest, then the order in which they came.
 */
export class EndpointQueue {
  private waiting: Waiting[] = [];
  private running = 0;

  constructor(private readonly concurrent: number) {}

  add(item: Waiting): void {
    this.waiting.push(item);
    // Releases of one instant are all in before the first of them starts.
    queueMicrotask(() => this.next());
  }

  clear(): void {
    this.waiting = [];
  }

  private next(): void {
    while (this.running < this.concurrent && this.waiting.length > 0) {
      const item = this.takeFirst();
      this.running += 1;
      void item.run().finally(() => {
        this.running -= 1;
        this.next();
      });
    }
  }

  private takeFirst(): Waiting {
    let first = 0;
    this.waiting.forEach((item, index) => {
      const best = this.waiting[first]!;
      if (item.priority < best.priority || (item.priority === best.priority && item.releasedAt < best.releasedAt)) first = index;
    });
    return this.waiting.splice(first, 1)[0]!;
  }
}
