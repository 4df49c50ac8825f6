import { inBackground } from '@plain-envoy/engine/background';

/**
 * What comes of several works, as it comes, with so many of them going on at a time. Where one rejects it does, and where nobody listens
 * any more none is begun any more; those that go on then end in their own time.
 */
export async function* sideBySide<Told>(works: Iterable<() => AsyncGenerator<Told>>, most: number): AsyncGenerator<Told> {
  const waiting = works[Symbol.iterator]();
  const running = new Map<AsyncGenerator<Told>, Promise<{ work: AsyncGenerator<Told>; step: IteratorResult<Told> }>>();
  const goOn = (work: AsyncGenerator<Told>) =>
    running.set(
      work,
      work.next().then((step) => ({ work, step })),
    );
  const begin = () => {
    const next = waiting.next();
    if (!next.done) goOn(next.value());
  };
  try {
    for (let begun = 0; begun < most; begun++) begin();
    while (running.size > 0) {
      const { work, step } = await Promise.race(running.values());
      if (step.done) {
        running.delete(work);
        begin();
      } else {
        yield step.value;
        goOn(work);
      }
    }
  } finally {
    inBackground(Promise.allSettled([...running].flatMap(([work, step]) => [step, work.return(undefined)])));
  }
}
