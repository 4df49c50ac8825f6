/** So many events wait for a page that is slower than what it listens to. */
const MOST_WAITING = 20_000;

/** What comes when it likes, for a page that takes it in its order: until one is the last, or nobody listens any more. */
export class Waiting<Told> {
  private readonly events: Told[] = [];
  private wake: () => void = () => undefined;

  /** `tooMany` is told where a page is too slow. */
  constructor(
    private readonly ended: AbortSignal,
    private readonly tooMany: Told,
  ) {
    ended.addEventListener('abort', () => this.wake(), { once: true });
  }

  readonly tell = (event: Told): void => {
    this.events.push(this.events.length < MOST_WAITING ? event : this.tooMany);
    this.wake();
  };

  async *until(isLast: (event: Told) => boolean): AsyncGenerator<Told> {
    while (!this.ended.aborted) {
      const event = this.events.shift();
      if (event === undefined) {
        await new Promise<void>((woken) => (this.wake = woken));
        continue;
      }
      yield event;
      if (isLast(event)) return;
    }
  }
}
