import '@plain-envoy/core/formula';
import type { Point } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import type { RouteProof } from '@plain-envoy/core/proof';
import { driveGroup, groupsOf, sourcesOf } from './drive-sources.js';
import { echo, pairsOf } from './echo.js';
import { cutsOf, loseSources } from './lose-sources.js';
import { type Case, isGood, type ProofBench, resultOf, type Run } from './route-case.js';
import { stillThere } from './still-there.js';
import { Lookout } from './waiting.js';

export type ProvingEvent = { kind: 'progress'; done: number; total: number; doing: string } | { kind: 'proof'; proof: RouteProof };

const SPARE_MS = 3000;

/**
 * Proves routes on stand-ins: drives each source over values that tell mistakes apart and looks, by the papers of the devices,
 * at what arrives and stays; then cuts the sources off, looks whether the loss rule does what it says, and puts them back.
 * Sources are driven side by side; those that share registers one after the other. In the end, also when nobody listens any
 * more or `signal` stops it, all is left as it was.
 */
export async function* proveRoutes(
  routes: readonly PlannedRoute[],
  bench: ProofBench,
  {
    withLoss,
    spareMs = SPARE_MS,
    signal,
  }: { withLoss: boolean | ((route: PlannedRoute) => boolean); spareMs?: number; signal?: AbortSignal },
): AsyncGenerator<ProvingEvent> {
  const sources = sourcesOf(routes);
  const cases = sources.flatMap((source) => source.routes);
  const lookout = new Lookout((points) => bench.look(points));
  const driven = new Map<string, Point>();
  const away = new Set<string>();
  /** What has been begun and has not come back yet; only then is it known what is to be undone. */
  const begun = new Set<Promise<unknown>>();
  const unlessStopped = <T>(work: () => Promise<T>): Promise<T> => {
    if (run.stopped) return Promise.reject(new Error('The proof was stopped.'));
    const doing = work();
    begun.add(doing);
    return doing.finally(() => begun.delete(doing));
  };
  const own: ProofBench = {
    ...bench,
    drive: (point, value) =>
      unlessStopped(async () => {
        const put = await bench.drive(point, value);
        driven.set(point.id, put.point);
        return put;
      }),
    cut: (deviceId, cut) =>
      unlessStopped(async () => {
        if (cut) away.add(deviceId);
        else away.delete(deviceId);
        await bench.cut(deviceId, cut);
      }),
  };
  const run: Run = { bench: own, lookout, spareMs, stopped: false };
  const stop = () => {
    run.stopped = true;
    lookout.giveUp();
  };
  signal?.addEventListener('abort', stop);
  try {
    const pending = new Set(groupsOf(sources).map((group) => driveGroup(group, run)));
    // Whoever waits for a part hears how it ended.
    for (const part of pending) part.finally(() => pending.delete(part)).catch(() => undefined);
    const total = cases.length;
    let said = -1;
    while (pending.size && !run.stopped) {
      await Promise.race([Promise.allSettled([...pending].slice(0, 1)), new Promise((done) => setTimeout(done, 250))]);
      const done = cases.filter(({ ended }) => ended !== null).length;
      if (done !== said) yield { kind: 'progress', done, total, doing: 'Values are sent from each source' };
      said = done;
    }
    if (run.stopped) return;
    yield { kind: 'progress', done: total, total, doing: 'Whether each value stays' };
    await stillThere(cases, run);
    const pairs = pairsOf(cases, own);
    if (pairs.length) yield { kind: 'progress', done: total, total, doing: 'Values go out, and come back with one added' };
    await Promise.all(pairs.map(([out, back]) => echo(out, back, run)));
    if (withLoss) {
      const loses = (row: Case) => isGood(row) && (withLoss === true || withLoss(row.route));
      const phases = cutsOf(cases.filter(loses), bench);
      for (const [index, phase] of phases.entries()) {
        yield { kind: 'progress', done: total, total, doing: `Sources are cut off and put back, ${index + 1} of ${phases.length}` };
        await loseSources(phase, run);
      }
    }
    for (const row of cases) yield { kind: 'proof', proof: resultOf(row) };
  } catch (error) {
    if (!run.stopped) throw error;
  } finally {
    stop();
    signal?.removeEventListener('abort', stop);
    await Promise.allSettled(begun);
    for (const deviceId of away) await bench.cut(deviceId, false);
    for (const point of driven.values()) await bench.letGo(point).catch(() => undefined);
  }
}
