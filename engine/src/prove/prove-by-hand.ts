import type { Reading } from '@plain-envoy/core/feed';
import { type Point, readPoint, valueText } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import { alongside, expectedAt, hasArrived, type ProofCheck, type RouteProof } from '@plain-envoy/core/proof';
import { patienceMs } from './waiting.js';

/** What a proof can see where nothing may be driven. */
export interface Eyes {
  reading(pointId: string): Reading | undefined;
  /** Why the bench says that a route does not deliver just now. */
  reason(routeId: string): string | null;
  /** Whether the person passes this route over. */
  skips(routeId: string): boolean;
}

export type ByHandEvent =
  | { kind: 'progress'; done: number; total: number; doing: string }
  | { kind: 'ask'; routeId: string; sentence: string }
  | { kind: 'proof'; proof: RouteProof };

export interface Patience {
  /** How long somebody has to move the real thing, ms. */
  moveMs: number;
  /** What is granted beyond two rounds until it has arrived, ms. */
  spareMs: number;
}

const LOOK_EACH_MS = 50;

/**
 * Proves routes where nothing may be driven: asks a person to move what the source measures, waits until it has moved, and looks
 * whether that arrives. It reads only. One route after the other, because a person has two bench. A route that is passed over
 * keeps what was known of it.
 */
export async function* proveByHand(routes: readonly PlannedRoute[], eyes: Eyes, patience: Patience): AsyncGenerator<ByHandEvent> {
  for (const [done, route] of routes.entries()) {
    const { source } = route;
    yield { kind: 'progress', done, total: routes.length, doing: route.name };
    const before = eyes.reading(source.id)?.words ?? null;
    yield { kind: 'ask', routeId: route.id, sentence: `Move ${source.name}${before ? `; it is ${valueText(before, source)} now` : ''}.` };
    const skips = () => eyes.skips(route.id);
    const from = before ?? (await until(() => eyes.reading(source.id)?.words ?? null, patience.moveMs, skips));
    const moved = from && (await until(() => differs(eyes.reading(source.id), from), patience.moveMs, skips));
    if (!moved && skips()) continue;
    yield { kind: 'proof', proof: moved ? await followed(route, eyes, patience) : notMoved(route, eyes) };
  }
}

function differs(reading: Reading | undefined, from: readonly number[]): number[] | null {
  return reading?.quality === 'good' && reading.words && reading.words.join() !== from.join() ? reading.words : null;
}

function notMoved({ id, source }: PlannedRoute, eyes: Eyes): RouteProof {
  const why = eyes.reason(id);
  const sentence = `${source.name} did not move while it was waited for.${why ? ` ${why}` : ''}`;
  return { routeId: id, state: 'not proved', sentence, checks: [], loss: null, echo: null };
}

/** Whether what the source holds now is at the destination in time. A source that goes on moving is compared as it is at each look. */
async function followed(route: PlannedRoute, eyes: Eyes, { spareMs }: Patience): Promise<RouteProof> {
  const { source, destination } = route;
  const from = performance.now();
  let last: ProofCheck | null = null;
  const check = () => {
    const [words, found] = [source, destination].map(({ id }) => eyes.reading(id)?.words ?? null);
    const read = words ? readPoint(words, source) : null;
    const expected = read?.ok ? expectedAt(read.value.value, route, route, alongside(route)) : null;
    if (!words || !found || !expected?.ok) return null;
    const ms = hasArrived(found, expected.value, destination) ? Math.round(performance.now() - from) : null;
    last = {
      shows: 'moved by hand',
      sent: text(words, source),
      expected: text(expected.value.words, destination),
      found: text(found, destination),
      ms,
    };
    return ms === null ? null : last;
  };
  const arrived = await until(check, patienceMs(route, spareMs));
  const common = { routeId: route.id, checks: [arrived ?? last].filter((row): row is ProofCheck => row !== null), loss: null, echo: null };
  if (arrived)
    return {
      ...common,
      state: 'carried',
      sentence: `It was moved to ${arrived.sent} by hand, which arrived after ${arrived.ms} ms. Compare both ends with what the devices show themselves: a real device says nothing of its scale and unit.`,
    };
  return { ...common, state: 'failed', sentence: `It was moved by hand, and did not arrive. ${eyes.reason(route.id) ?? ''}`.trim() };
}

function text(words: readonly number[], point: Point): string {
  return valueText(words, point);
}

async function until<T>(probe: () => T | null, withinMs: number, givesUp = () => false): Promise<T | null> {
  for (const end = performance.now() + withinMs; performance.now() < end && !givesUp();) {
    const found = probe();
    if (found !== null) return found;
    await new Promise((done) => setTimeout(done, LOOK_EACH_MS));
  }
  return null;
}
