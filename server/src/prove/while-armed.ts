import { inBackground } from '@plain-envoy/engine/background';

/** What comes of a walk, until it ends or `over` fires; then `last` is told, and the walk ends in its own time. */
export async function* whileArmed<T>(events: AsyncGenerator<T>, over: AbortSignal, last: T): AsyncGenerator<T> {
  const ended = new Promise<null>((done) => {
    if (over.aborted) done(null);
    over.addEventListener('abort', () => done(null), { once: true });
  });
  try {
    for (;;) {
      const next = await Promise.race([events.next(), ended]);
      if (next === null) return yield last;
      if (next.done) return;
      yield next.value;
    }
  } finally {
    inBackground(events.return(undefined));
  }
}
