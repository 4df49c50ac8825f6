/**
 * Resolves at `atMs` of `performance.now()`, to a fraction of a millisecond: a timer for the long part, then turns of the
 * event loop for the last, because timers count whole milliseconds.
 */
export function until(atMs: number): Promise<void> {
  return new Promise((done) => {
    const turn = () => (performance.now() >= atMs ? done() : setImmediate(turn));
    const coarse = Math.floor(atMs - performance.now() - 1);
    if (coarse >= 1) setTimeout(turn, coarse);
    else turn();
  });
}
