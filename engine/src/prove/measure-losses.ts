import '@plain-envoy/core/formula';
import {
  afterText,
  cutFor,
  lossRests,
  type LostValue,
  type LostWhen,
  type MeasuredLoss,
  type MeasuredValue,
} from '@plain-envoy/core/handover';
import type { PointWords } from '@plain-envoy/core/feed';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import { alongside, asNumber, expectedAt, hasArrived, textAt } from '@plain-envoy/core/proof';
import type { Value } from '@plain-envoy/core/value';
import { share } from './places.js';
import type { ProofBench } from './route-case.js';
import { isUnchanged } from './unchanged.js';
import { valuesFor } from './values-for.js';
import { Lookout, patienceMs } from './waiting.js';

export type MeasuringEvent =
  { kind: 'progress'; done: number; total: number; doing: string } | { kind: 'measured'; measured: MeasuredLoss };

/** How long a device that was away may rest before it is asked again. */
const REST_MS = 5000;
/** What looking at a stand-in takes, beside a period, ms. */
const LOOKING_MS = 300;

/** A value that is lost, while it is measured. */
interface Case {
  lost: LostValue;
  route: PlannedRoute;
  /** The point that tells of it; null where none does. */
  mark: Point | null;
  /** Why it cannot be measured; null while it can. */
  why: string | null;
  /** What is sent before the failure, and after it. */
  values: [Value, Value] | null;
}

/**
 * Makes each of these fail in turn on the stand-ins, and compares what becomes of the values with what is reckoned: the sources are driven to
 * one value until that has arrived, cut off, and driven to another. In the end, also when nobody listens any more or `signal` stops it, all is
 * put back.
 */
export async function* measureLosses(
  { document, routes, losses }: { document: ProjectDocument; routes: readonly PlannedRoute[]; losses: readonly LostWhen[] },
  bench: ProofBench,
  { spareMs = 3000, signal }: { spareMs?: number; signal?: AbortSignal },
): AsyncGenerator<MeasuringEvent> {
  const byId = new Map(routes.map((route) => [route.id, route]));
  const points = new Map(document.points.map((point) => [point.id, point]));
  const lookout = new Lookout((wanted) => bench.look(wanted));
  const stop = () => lookout.giveUp();
  signal?.addEventListener('abort', stop);
  let own = 0;
  try {
    for (const [done, loss] of losses.entries()) {
      if (signal?.aborted) return;
      yield { kind: 'progress', done, total: losses.length, doing: `${loss.failing.name} fails` };
      const cases = casesOf(loss, byId, points);
      for (const row of cases) {
        own += 1;
        if (row.why === null && row.lost.effect !== 'tells') row.values = twoOf(row, own, bench);
        if (row.why === null && row.lost.effect !== 'tells' && !row.values) row.why = 'Its source has no two values that could go across.';
      }
      const values = await fail(cases, cutFor(document, loss.failing), { bench, lookout, spareMs });
      if (signal?.aborted) return;
      yield { kind: 'measured', measured: { failingId: loss.failing.id, rests: lossRests(loss), values } };
    }
  } finally {
    stop();
    signal?.removeEventListener('abort', stop);
  }
}

/** What can be measured of a failure: each register of a source once, and nothing that another needs held. */
function casesOf({ lost }: LostWhen, byId: ReadonlyMap<string, PlannedRoute>, points: ReadonlyMap<string, Point>): Case[] {
  const taken: Point[] = [];
  return lost.flatMap((one): Case[] => {
    const route = byId.get(one.routeId);
    if (!route) return [];
    const why = whyNot(one, route, taken);
    if (why === null && one.effect !== 'tells') taken.push(route.source, ...alongside(route).map(({ point }) => point));
    return [{ lost: one, route, why, mark: points.get(one.markId ?? '') ?? null, values: null }];
  });
}

function whyNot({ byCarrier, effect }: LostValue, route: PlannedRoute, taken: readonly Point[]): string | null {
  if (byCarrier) return 'Who carries it is gone; the bench carries in its place.';
  if (effect === 'tells') return null;
  if (route.source.place.kind === 'event' && route.source.place.pulseMs !== null) return 'It is a pulse, which falls off by itself.';
  if (route.trigger.on === 'edge' || route.trigger.on === 'start') return 'It goes only when something else happens.';
  const needed = [route.source, ...alongside(route).map(({ point }) => point)];
  return needed.some((point) => taken.some((other) => share(point, other)))
    ? 'It is measured by another route of the same registers.'
    : null;
}

function twoOf({ route }: Case, own: number, bench: ProofBench): [Value, Value] | null {
  const arriving = valuesFor(route.source, own, [{ route }], bench).flatMap(({ value }) => {
    const expected = expectedAt(value, route, route, alongside(route));
    return expected.ok ? [{ value, at: expected.value.words.join() }] : [];
  });
  const [first, ...others] = arriving;
  const second = others.reverse().find(({ at }) => at !== first?.at);
  return first && second ? [first.value, second.value] : null;
}

interface Around {
  bench: ProofBench;
  lookout: Lookout;
  spareMs: number;
}

async function fail(cases: readonly Case[], cut: readonly string[], around: Around): Promise<MeasuredValue[]> {
  const { bench } = around;
  const driven: Point[] = [];
  const away: string[] = [];
  try {
    await Promise.all(cases.map((row) => settle(row, driven, around)));
    const open = cases.filter(({ why }) => why === null);
    if (open.length === 0) return cases.map((row) => notMeasured(row));
    const before = new Map((await bench.look(open.map(({ route }) => route.destination))).map((looked) => [looked.id, looked]));
    for (const deviceId of cut) {
      away.push(deviceId);
      await bench.cut(deviceId, true);
    }
    const from = performance.now();
    for (const row of open)
      if (row.values)
        await bench.drive(row.route.source, row.values[1]).catch((error: unknown) => {
          row.why = whyOf(error);
        });
    return await Promise.all(
      cases.map((row) => (row.why === null ? watch(row, before.get(row.route.destination.id), from, around) : notMeasured(row))),
    );
  } finally {
    for (const deviceId of away) await bench.cut(deviceId, false);
    for (const point of driven) await bench.letGo(point).catch(() => undefined);
  }
}

/** Waits until the first value stands at the destination. */
async function settle(row: Case, driven: Point[], { bench, lookout, spareMs }: Around): Promise<void> {
  const { route, values, lost } = row;
  if (row.why !== null) return;
  const patience = patienceMs(route, spareMs) + bench.leavesWithinMs(route.source) + REST_MS;
  if (lost.effect === 'tells') {
    const on = await lookout.until(route.destination, isOn, patience);
    if (!on.met) row.why = 'It was off already.';
    return;
  }
  try {
    for (const { point, value } of alongside(route)) driven.push((await bench.drive(point, value)).point);
    driven.push((await bench.drive(route.source, values![0])).point);
  } catch (error) {
    row.why = whyOf(error);
    return;
  }
  const [looked] = await bench.look([route.destination]);
  const expected = looked && expectedAt(values![0], route, { source: route.source, destination: looked.point }, alongside(route));
  const arrived =
    expected?.ok && (await lookout.until(route.destination, ({ words }) => hasArrived(words, expected.value, looked!.point), patience)).met;
  if (!arrived) row.why = 'Its value did not arrive before the failure.';
}

/** What becomes of a value after the failure, compared with what is reckoned; times within one period of that. */
async function watch(row: Case, before: PointWords | undefined, from: number, around: Around): Promise<MeasuredValue> {
  const { lost, route } = row;
  const { bench, lookout, spareMs } = around;
  if (!before) return notMeasured({ ...row, why: 'Its destination has no stand-in, so nobody can look there.' });
  const slackMs = route.periodMs + LOOKING_MS;
  const said = (isSo: boolean, ms: number | null, sentence: string): MeasuredValue => ({
    ...{ routeId: route.id, state: isSo ? 'as reckoned' : 'otherwise', ms, sentence },
  });
  const timed = (what: string): MeasuredValue => {
    const ms = Math.round(performance.now() - from);
    const isSo = ms >= lost.fromMs - slackMs && ms <= lost.toMs + slackMs;
    return said(isSo, ms, `${what} after ${ms / 1000} s${isSo ? '' : `; reckoned: ${afterText(lost)}`}.`);
  };
  /** What it is now; null where that is what it was. */
  const changedTo = async (): Promise<string | null> => {
    const [now] = await bench.look([route.destination]);
    return isUnchanged(route, before, now) ? null : textAt(now?.words ?? [], before.point);
  };
  const patienceOf = lost.toMs + slackMs + spareMs;
  if (lost.effect === 'substituted') {
    const { point } = before;
    const wanted = expectedAt(route.loss.value!, { transforms: [] }, { source: point, destination: point }, []);
    const { met, looked } = await lookout.until(
      route.destination,
      ({ words }) => wanted.ok && hasArrived(words, wanted.value, point),
      patienceOf,
    );
    return met
      ? timed(`It became ${route.loss.value}`)
      : said(false, null, `It is ${textAt(looked?.words ?? [], point)}, and not ${route.loss.value}.`);
  }
  if (row.mark) {
    const off = await lookout.until(row.mark, (looked) => !isOn(looked), patienceOf);
    if (!off.met) return said(false, null, `${row.mark.name} stayed on.`);
    const told = timed(lost.effect === 'tells' ? 'It went off' : `${row.mark.name} went off`);
    if (lost.effect === 'tells' || told.state === 'otherwise') return told;
    const other = await changedTo();
    return other === null ? told : said(false, null, `${row.mark.name} went off, but the value changed to ${other}.`);
  }
  await lookout.until(route.destination, () => false, lost.toMs + slackMs);
  const other = await changedTo();
  return said(
    other === null,
    null,
    other === null ? `It stood still for ${(lost.toMs + slackMs) / 1000} s.` : `It changed to ${other} all the same.`,
  );
}

function whyOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

function isOn({ words, point }: PointWords): boolean {
  return Number(asNumber(words, point)) !== 0;
}

function notMeasured({ route, why }: Case): MeasuredValue {
  return { routeId: route.id, state: 'not measured', ms: null, sentence: why! };
}
