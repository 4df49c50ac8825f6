/** Those that wait, the first to go on first. */
const waits: { atMs: number; done: () => void }[] = [];
let timer: NodeJS.Timeout | undefined;
let next: NodeJS.Immediate | undefined;

/**
 * Resolves at `atMs` of `performance.now()`, to a fraction of a millisecond: a timer for the long part, then turns of the
 * event loop for the last, because timers count whole milliseconds. Those that wait go on in the order of their times, also where
 * the event loop comes round late.
 */
export function until(atMs: number): Promise<void> {
  return new Promise((done) => {
    const at = waits.findIndex((wait) => wait.atMs > atMs);
    waits.splice(at < 0 ? waits.length : at, 0, { atMs, done });
    turn();
  });
}

function turn(): void {
  clearTimeout(timer);
  clearImmediate(next);
  while (waits.length > 0 && waits[0]!.atMs <= performance.now()) waits.shift()!.done();
  const [first] = waits;
  if (!first) return;
  const coarse = Math.floor(first.atMs - performance.now() - 1);
  if (coarse >= 1) timer = setTimeout(turn, coarse);
  else next = setImmediate(turn);
}
