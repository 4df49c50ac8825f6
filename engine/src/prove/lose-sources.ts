import type { PointWords } from '@plain-envoy/core/feed';
import { alongside, asNumber, expectedAt, hasArrived, textAt } from '@plain-envoy/core/proof';
import type { Value } from '@plain-envoy/core/value';
import type { Case, ProofBench, Run } from './route-case.js';
import { isUnchanged } from './unchanged.js';
import { valuesFor } from './values-for.js';
import { patienceMs } from './waiting.js';

/** How long a device that was away may rest before it is asked again. */
const REST_MS = 5000;

/**
 * Devices that can be away at the same time: none of them is where another's routes go, or who is asked there. A route whose destination
 * goes away with its source has nothing to show.
 */
export function cutsOf(cases: readonly Case[], { askedFor }: Pick<ProofBench, 'askedFor'>): Case[][] {
  const goesTo = ({ route: { destination } }: Case) => [destination.deviceId, askedFor(destination.deviceId)];
  const phases: Case[][] = [];
  for (const deviceId of new Set(cases.map(({ route }) => route.source.deviceId))) {
    const own = cases.filter((row) => row.route.source.deviceId === deviceId && !goesTo(row).includes(deviceId));
    if (own.length === 0) continue;
    const targets = new Set(own.flatMap(goesTo));
    const phase = phases.find((other) => other.every((row) => !targets.has(row.route.source.deviceId) && !goesTo(row).includes(deviceId)));
    if (phase) phase.push(...own);
    else phases.push(own);
  }
  return phases;
}

/** Cuts the sources of these routes off, looks whether each loss rule does what it says, and puts them back. */
export async function loseSources(cases: readonly Case[], run: Run): Promise<void> {
  const { bench } = run;
  const devices = [...new Set(cases.map(({ route }) => route.source.deviceId))];
  const before = new Map((await bench.look(cases.map(({ route }) => route.destination))).map((looked) => [looked.id, looked]));
  for (const deviceId of devices) await bench.cut(deviceId, true);
  const held = await Promise.all(cases.map((row) => doesRule(row, before.get(row.route.destination.id)!, run)));
  const sources = new Map(cases.map(({ route }) => [route.source.id, route.source]));
  const news = new Map<string, Value>();
  for (const source of sources.values()) {
    const [told] = valuesFor(
      source,
      40 + news.size,
      cases.filter(({ route }) => route.source.id === source.id),
      bench,
    );
    if (!told) continue;
    const { value } = told;
    news.set(source.id, value);
    await bench.drive(source, value);
  }
  for (const deviceId of devices) await bench.cut(deviceId, false);
  await Promise.all(
    cases.map(async (row, index) => {
      const sent = news.get(row.route.source.id);
      const back = sent === undefined || (await comesBack(row, sent, run));
      const { held: isHeld, sentence } = held[index]!;
      row.loss = { held: isHeld, back, sentence: `${sentence} ${back ? 'It came back.' : 'It did not come back in time.'}` };
    }),
  );
}

/** Whether the destination does what the loss rule says once the source is away. */
async function doesRule(
  { route }: Case,
  before: PointWords,
  { bench, lookout, spareMs }: Run,
): Promise<{ held: boolean; sentence: string }> {
  const { rule, value, afterMs } = route.loss;
  const destination = before.point;
  const patience = afterMs + 2 * route.periodMs + spareMs + REST_MS;
  const valid = route.valid?.point;
  if (valid) {
    const off = await lookout.until(valid, ({ words, point }) => Number(asNumber(words, point)) === 0, patience);
    if (!off.met) return { held: false, sentence: `Its source was cut off, and ${valid.name} stayed on.` };
  }
  if (rule === 'value') {
    const wanted = expectedAt(value!, { transforms: [] }, { source: destination, destination }, []);
    const given = await lookout.until(
      route.destination,
      ({ words }) => wanted.ok && hasArrived(words, wanted.value, destination),
      patience,
    );
    return given.met
      ? { held: true, sentence: `With its source cut off it became ${value}.` }
      : {
          held: false,
          sentence: `With its source cut off it should become ${value}, and is ${textAt(given.looked?.words ?? [], destination)}.`,
        };
  }
  // Nothing tells when the rule holds, so its time is waited for; who stops the proof does not wait.
  if (!valid) await lookout.until(route.destination, () => false, afterMs + 500);
  const [looked] = await bench.look([route.destination]);
  const isHeld = isUnchanged(route, before, looked);
  const told = valid ? `${valid.name} went off, and ` : '';
  return isHeld
    ? { held: true, sentence: `With its source cut off ${told}it held its value.` }
    : { held: false, sentence: `With its source cut off ${told}it did not hold its value: ${textAt(looked?.words ?? [], destination)}.` };
}

async function comesBack({ route, papers }: Case, value: Value, { bench, lookout, spareMs }: Run): Promise<boolean> {
  const { destination } = papers!;
  const expected = expectedAt(value, route, papers!, alongside(route));
  if (!expected.ok) return true;
  const patience = patienceMs(route, spareMs) + bench.leavesWithinMs(route.source) + REST_MS;
  return (await lookout.until(route.destination, ({ words }) => hasArrived(words, expected.value, destination), patience)).met;
}
