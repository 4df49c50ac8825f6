import type { PlannedRoute } from '@plain-envoy/core/plan';
import { alongside, expectedAt, hasArrived } from '@plain-envoy/core/proof';
import { typeOf } from '@plain-envoy/core/types';
import { type Case, isGood, type ProofBench, type Run } from './route-case.js';
import { hasRoom } from './values-for.js';
import { patienceMs } from './waiting.js';

/** For each two devices, one way out and one way back whose values are whole numbers; a pair uses no route of another. */
export function pairsOf(cases: readonly Case[], bench: Pick<ProofBench, 'canSay'>): [Case, Case][] {
  const pairs = new Map<string, [Case, Case]>();
  const counts = cases.filter(
    (row) => isGood(row) && isCount(row.route) && [ECHOED, ECHOED + 1].every((value) => hasRoom(row.route, value, bench)),
  );
  for (const out of counts) {
    const { source, destination } = out.route;
    const back = counts.find(
      ({ route }) => route.source.deviceId === destination.deviceId && route.destination.deviceId === source.deviceId,
    );
    const key = [source.deviceId, destination.deviceId].sort().join();
    if (back && source.deviceId !== destination.deviceId && !pairs.has(key)) pairs.set(key, [out, back]);
  }
  return [...pairs.values()];
}

/** A number that can be counted up by one at both ends, with nothing done to it on the way. */
function isCount({ source, destination, transforms }: PlannedRoute): boolean {
  return transforms.length === 0 && [source, destination].every(({ type, scale }) => typeOf(type).kind === 'whole' && scale === null);
}

const ECHOED = 1234;

/** Sends a number out, has the far end add one and send it back, as a device does whose program echoes. */
export async function echo(out: Case, back: Case, { bench, lookout, spareMs }: Run): Promise<void> {
  const from = performance.now();
  const sent = await across(out, ECHOED);
  const returned = sent ? await across(back, ECHOED + 1) : false;
  const ms = Math.round(performance.now() - from);
  const way = `${out.route.name} and back by ${back.route.name}`;
  out.echo = {
    ...{ backId: back.route.id, ok: returned, ms },
    sentence: returned
      ? `${ECHOED} went out by ${way} as ${ECHOED + 1} after ${ms} ms.`
      : `${ECHOED} went out by ${way}, and ${sent ? `${ECHOED + 1} did not come back` : 'did not arrive at the far end'}.`,
  };

  async function across({ route, papers }: Case, value: number): Promise<boolean> {
    await bench.drive(route.source, value);
    const [looked] = await bench.look([route.destination]);
    const expected = looked && papers && expectedAt(value, route, papers, alongside(route));
    if (!expected?.ok) return false;
    const arrived = await lookout.until(
      route.destination,
      ({ words }) => hasArrived(words, expected.value, looked!.point),
      patienceMs(route, spareMs) + bench.leavesWithinMs(route.source),
    );
    return arrived.met;
  }
}
