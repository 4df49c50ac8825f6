import type { Looked } from '@plain-envoy/core/feed';
import { type Point, pointWidth, readPoint } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import {
  alongside,
  type EchoCheck,
  type Expected,
  expectedAt,
  hasArrived,
  type LossCheck,
  type ProofCheck,
  type RouteProof,
  tellTales,
  unlikePapers,
  whyOther,
  whyNotProvable,
} from '@plain-envoy/core/proof';
import { masksOf } from '@plain-envoy/core/route';
import { typeOf } from '@plain-envoy/core/types';
import type { Value } from '@plain-envoy/core/value';
import { Lookout } from './waiting.js';

/** What a proof can do to the devices at both ends. */
export interface ProofBench {
  /** Puts a value where the device's papers have this point, and keeps it there. */
  drive(point: Point, value: Value): Promise<{ point: Point; words: number[] }>;
  look(points: readonly Point[]): Promise<Looked[]>;
  letGo(point: Point): Promise<void>;
  cut(deviceId: string, cut: boolean): Promise<void>;
  /** Why the bench says that a route does not deliver just now. */
  reason(routeId: string): string | null;
}

export type ProvingEvent = { kind: 'progress'; done: number; total: number; doing: string } | { kind: 'proof'; proof: RouteProof };

/** A source, with the routes that carry it. */
interface Driven {
  source: Point;
  own: number;
  routes: Case[];
}

/** A route while it is proved. */
interface Case {
  route: PlannedRoute;
  checks: ProofCheck[];
  failures: number;
  /** Why the first value that did not arrive did not. */
  why: string | null;
  /** That it is tried no further; empty where that has no reason of its own. */
  ended: string | null;
  last: { expected: Expected; destination: Point } | null;
  loss: LossCheck | null;
  echo: EchoCheck | null;
}

/** After so many values that did not arrive a route is not tried further. */
const MAX_FAILURES = 2;
/** Where a round takes longer, fewer values are tried. */
const SLOW_ROUND_MS = 5000;
const SLOW_VALUES = 4;
const SPARE_MS = 3000;
/** How long a device that was away may rest before it is asked again. */
const REST_MS = 5000;

/**
 * Proves routes on stand-ins: drives each source over values that tell mistakes apart and looks, by the papers of the devices,
 * at what arrives and stays; then cuts the sources off, looks whether the loss rule does what it says, and puts them back.
 * Sources are driven side by side; those that share registers one after the other. In the end, also when nobody listens any
 * more or `signal` stops it, all is left as it was.
 */
export async function* proveRoutes(
  routes: readonly PlannedRoute[],
  hands: ProofBench,
  { withLoss, spareMs = SPARE_MS, signal }: { withLoss: boolean; spareMs?: number; signal?: AbortSignal },
): AsyncGenerator<ProvingEvent> {
  const sources = sourcesOf(routes);
  const cases = sources.flatMap((source) => source.routes);
  const lookout = new Lookout((points) => hands.look(points));
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
    ...hands,
    drive: (point, value) =>
      unlessStopped(async () => {
        const put = await hands.drive(point, value);
        driven.set(point.id, put.point);
        return put;
      }),
    cut: (deviceId, cut) =>
      unlessStopped(async () => {
        if (cut) away.add(deviceId);
        else away.delete(deviceId);
        await hands.cut(deviceId, cut);
      }),
  };
  const run: Run = { hands: own, lookout, spareMs, stopped: false };
  const stop = () => {
    run.stopped = true;
    lookout.giveUp();
  };
  signal?.addEventListener('abort', stop);
  try {
    const pending = new Set(groupsOf(sources).map((group) => driveGroup(group, run)));
    for (const part of pending) void part.finally(() => pending.delete(part));
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
    const pairs = pairsOf(cases);
    if (pairs.length) yield { kind: 'progress', done: total, total, doing: 'Values go out, and come back with one added' };
    await Promise.all(pairs.map(([out, back]) => echo(out, back, run)));
    if (withLoss) {
      const phases = cutsOf(cases.filter(isGood));
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
    for (const deviceId of away) await hands.cut(deviceId, false);
    for (const point of driven.values()) await hands.letGo(point).catch(() => undefined);
  }
}

interface Run {
  hands: ProofBench;
  lookout: Lookout;
  /** What is granted beyond two rounds, ms. */
  spareMs: number;
  stopped: boolean;
}

function sourcesOf(routes: readonly PlannedRoute[]): Driven[] {
  const byId = new Map<string, Driven>();
  for (const route of routes) {
    const known = byId.get(route.source.id) ?? { source: route.source, own: byId.size + 1, routes: [] };
    byId.set(route.source.id, known);
    known.routes.push({ route, checks: [], failures: 0, why: null, ended: whyNotProvable(route), last: null, loss: null, echo: null });
  }
  return [...byId.values()];
}

/** Sources that share a register are driven one after the other. */
function groupsOf(sources: readonly Driven[]): Driven[][] {
  const groups: Driven[][] = [];
  for (const source of sources) {
    const sharing = groups.filter((group) => group.some((other) => share(other.source, source.source)));
    for (const group of sharing) groups.splice(groups.indexOf(group), 1);
    groups.push([...sharing.flat(), source]);
  }
  return groups;
}

function isOnePlace(a: Point, b: Point): boolean {
  return share(a, b) && (a.bit === null || b.bit === null || a.bit === b.bit);
}

function share(a: Point, b: Point): boolean {
  const within = a.offset < b.offset + pointWidth(b) && b.offset < a.offset + pointWidth(a);
  return a.deviceId === b.deviceId && a.table === b.table && within;
}

async function driveGroup(group: readonly Driven[], run: Run): Promise<void> {
  for (const [index, source] of group.entries()) {
    const why = await driveSource(source, run).catch((error: unknown) => (error instanceof Error ? error.message : String(error)));
    for (const row of source.routes) {
      row.ended ??= why ?? '';
      // Another source in the same register is driven next, so that this one does not keep its value.
      if (index < group.length - 1) row.last = null;
    }
  }
}

/** Resolves when all its values were sent; rejects where its stand-in does not take one. */
async function driveSource({ source, own, routes }: Driven, run: Run): Promise<void> {
  const slow = Math.max(...routes.map(({ route }) => route.periodMs)) >= SLOW_ROUND_MS;
  const [looked] = await run.hands.look([source]);
  const all = tellTales(looked?.point ?? source, own);
  for (const { value, shows } of slow ? [...all.slice(0, SLOW_VALUES - 1), ...all.slice(-1)] : all) {
    const open = routes.filter(({ ended }) => ended === null);
    if (run.stopped || open.length === 0) return;
    await Promise.all(open.map((row) => prepare(row.route, run)));
    const before = await run.hands.look(open.map(({ route }) => route.destination));
    const { point: put } = await run.hands.drive(source, value);
    await Promise.all(open.map((row) => trigger(row.route, run)));
    await Promise.all(
      open.map((row) => check(row, { value, shows, put, before: before.find(({ id }) => id === row.route.destination.id) }, run)),
    );
  }
}

/** Sets what has to hold beside the source. */
async function prepare(route: PlannedRoute, { hands }: Run): Promise<void> {
  for (const { point, value } of alongside(route)) await hands.drive(point, value);
  const edge = edgeOf(route);
  if (edge) await hands.drive(edge, 0);
}

/** A rising edge is seen only where the bit was read while it was off. */
async function trigger(route: PlannedRoute, { hands }: Run): Promise<void> {
  const edge = edgeOf(route);
  if (!edge) return;
  await new Promise((done) => setTimeout(done, 2 * route.periodMs));
  await hands.drive(edge, 1);
}

function edgeOf({ trigger: on, others }: PlannedRoute): Point | undefined {
  return on.on === 'edge' ? others.find(({ id }) => id === on.pointId) : undefined;
}

interface Sent {
  value: Value;
  shows: string;
  put: Point;
  before: Looked | undefined;
}

async function check(row: Case, { value, shows, put, before }: Sent, { hands, lookout, spareMs }: Run): Promise<void> {
  const { route } = row;
  if (!before) {
    row.ended = 'Its destination has no stand-in, so nobody can look there by its papers.';
    return;
  }
  const destination = before.point;
  const expected = expectedAt(value, route, destination, alongside(route));
  // What the destination cannot hold by its own type is not sent; that is a finding, not a failure.
  if (!expected.ok) return;
  const [from, patience] = [performance.now(), 2.2 * route.periodMs + spareMs];
  const { met, looked } = await lookout.until(route.destination, (now) => hasArrived(now.words, expected.value, destination), patience);
  const found = looked?.words ?? [];
  row.checks.push({
    shows,
    sent: textOf(value, put),
    expected: textOf(expected.value.value, destination),
    found: textAt(found, destination),
    ms: met ? Math.round(performance.now() - from) : null,
  });
  row.last = { expected: expected.value, destination };
  if (met) return;
  row.failures += 1;
  if (row.failures >= MAX_FAILURES) row.ended = '';
  const why =
    unlikePapers(route.source, put) ??
    unlikePapers(route.destination, destination) ??
    whyOther(found, before.words, expected.value, destination) ??
    'Something else arrives than was sent.';
  const said = hands.reason(route.id);
  row.why ??= said ? `${why} ${said}` : why;
}

const STAYS_MS = 2500;
const STAYS_LOOKS = 10;

/** Two writers of one place each have their moment; looked at for a while, each finds the other's value there. */
async function stillThere(cases: readonly Case[], run: Run): Promise<void> {
  const good = cases.filter((row) => isGood(row) && row.last);
  for (let look = 0; look < STAYS_LOOKS && !run.stopped && good.length; look++) {
    const found = new Map((await run.hands.look(good.map(({ route }) => route.destination))).map((looked) => [looked.id, looked]));
    for (const row of good) {
      const looked = found.get(row.route.destination.id);
      const { expected, destination } = row.last!;
      if (!looked || row.failures || hasArrived(looked.words, expected, destination)) continue;
      const seen = textAt(looked.words, destination);
      row.failures += 1;
      row.why = `Its value arrived, and was replaced: ${seen} stood there later. Something else writes there too.`;
      for (const other of good) {
        if (other.failures || !isOnePlace(other.route.destination, row.route.destination)) continue;
        other.failures += 1;
        other.why = `It replaces what ${row.route.name} writes to the same place.`;
      }
    }
    await new Promise((done) => setTimeout(done, STAYS_MS / STAYS_LOOKS));
  }
}

function isGood({ ended, failures, checks }: Case): boolean {
  return ended === '' && failures === 0 && checks.length > 0;
}

/** For each two devices, one way out and one way back whose values are whole numbers; a pair uses no route of another. */
function pairsOf(cases: readonly Case[]): [Case, Case][] {
  const pairs = new Map<string, [Case, Case]>();
  const counts = cases.filter((row) => isGood(row) && isCount(row.route));
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
async function echo(out: Case, back: Case, { hands, lookout, spareMs }: Run): Promise<void> {
  const from = performance.now();
  const sent = await across(out.route, ECHOED);
  const returned = sent ? await across(back.route, ECHOED + 1) : false;
  const ms = Math.round(performance.now() - from);
  const way = `${out.route.name} and back by ${back.route.name}`;
  out.echo = {
    ...{ backId: back.route.id, ok: returned, ms },
    sentence: returned
      ? `${ECHOED} went out by ${way} as ${ECHOED + 1} after ${ms} ms.`
      : `${ECHOED} went out by ${way}, and ${sent ? `${ECHOED + 1} did not come back` : 'did not arrive at the far end'}.`,
  };

  async function across(route: PlannedRoute, value: number): Promise<boolean> {
    await hands.drive(route.source, value);
    const [looked] = await hands.look([route.destination]);
    const expected = looked && expectedAt(value, route, looked.point, alongside(route));
    if (!expected?.ok) return false;
    const arrived = await lookout.until(
      route.destination,
      ({ words }) => hasArrived(words, expected.value, looked!.point),
      2.2 * route.periodMs + spareMs,
    );
    return arrived.met;
  }
}

/** Devices that can be away at the same time: none of them is where another's routes go. */
function cutsOf(cases: readonly Case[]): Case[][] {
  const phases: Case[][] = [];
  for (const deviceId of new Set(cases.map(({ route }) => route.source.deviceId))) {
    const own = cases.filter(({ route }) => route.source.deviceId === deviceId && route.destination.deviceId !== deviceId);
    if (own.length === 0) continue;
    const targets = new Set(own.map(({ route }) => route.destination.deviceId));
    const phase = phases.find((other) =>
      other.every(({ route }) => !targets.has(route.source.deviceId) && route.destination.deviceId !== deviceId),
    );
    if (phase) phase.push(...own);
    else phases.push(own);
  }
  return phases;
}

async function loseSources(cases: readonly Case[], run: Run): Promise<void> {
  const { hands } = run;
  const devices = [...new Set(cases.map(({ route }) => route.source.deviceId))];
  const before = new Map((await hands.look(cases.map(({ route }) => route.destination))).map((looked) => [looked.id, looked]));
  for (const deviceId of devices) await hands.cut(deviceId, true);
  const held = await Promise.all(cases.map((row) => doesRule(row, before.get(row.route.destination.id)!, run)));
  const sources = new Map(cases.map(({ route }) => [route.source.id, route.source]));
  const news = new Map<string, Value>();
  for (const source of sources.values()) {
    const value = tellTales(source, 40 + news.size)[0]!.value;
    news.set(source.id, value);
    await hands.drive(source, value);
  }
  for (const deviceId of devices) await hands.cut(deviceId, false);
  await Promise.all(
    cases.map(async (row, index) => {
      const back = await comesBack(row, before.get(row.route.destination.id)!.point, news.get(row.route.source.id)!, run);
      const { held: isHeld, sentence } = held[index]!;
      row.loss = { held: isHeld, back, sentence: `${sentence} ${back ? 'It came back.' : 'It did not come back in time.'}` };
    }),
  );
}

/** Whether the destination does what the loss rule says once the source is away. */
async function doesRule({ route }: Case, before: Looked, { hands, lookout, spareMs }: Run): Promise<{ held: boolean; sentence: string }> {
  const { rule, value, afterMs } = route.loss;
  const destination = before.point;
  const patience = afterMs + 2 * route.periodMs + spareMs + REST_MS;
  const valid = route.valid?.point;
  if (valid) {
    const off = await lookout.until(valid, ({ words, point }) => Number(asNumber(words, point)) === 0, patience);
    if (!off.met) return { held: false, sentence: `Its source was cut off, and ${valid.name} stayed on.` };
  }
  if (rule === 'value') {
    const wanted = expectedAt(value!, { ...route, transforms: [] }, destination, []);
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
  const [looked] = await hands.look([route.destination]);
  const masks = masksOf({ destination, transforms: route.transforms });
  const own = (words: readonly number[]) => words.map((word, index) => word & (masks?.[index] ?? 0xffff)).join();
  const isHeld = looked !== undefined && own(looked.words) === own(before.words);
  const told = valid ? `${valid.name} went off, and ` : '';
  return isHeld
    ? { held: true, sentence: `With its source cut off ${told}it held its value.` }
    : { held: false, sentence: `With its source cut off ${told}it did not hold its value: ${textAt(looked?.words ?? [], destination)}.` };
}

async function comesBack({ route }: Case, destination: Point, value: Value, { lookout, spareMs }: Run): Promise<boolean> {
  const expected = expectedAt(value, route, destination, alongside(route));
  if (!expected.ok) return true;
  const patience = 2.2 * route.periodMs + spareMs + REST_MS;
  return (await lookout.until(route.destination, ({ words }) => hasArrived(words, expected.value, destination), patience)).met;
}

function resultOf({ route, checks, failures, why, ended, loss, echo }: Case): RouteProof {
  const common = { routeId: route.id, checks, loss, echo };
  const lossFails = loss && (!loss.held || !loss.back);
  if (failures > 0) return { ...common, state: 'failed', sentence: why! };
  if (ended) return { ...common, state: 'not proved', sentence: ended };
  if (checks.length === 0) return { ...common, state: 'not proved', sentence: 'None of its values fits at the destination.' };
  if (lossFails) return { ...common, state: 'failed', sentence: loss.sentence };
  if (echo && !echo.ok) return { ...common, state: 'failed', sentence: echo.sentence };
  const times = checks.flatMap(({ ms }) => ms ?? []);
  const mean = Math.round(times.reduce((sum, ms) => sum + ms, 0) / times.length);
  return {
    ...common,
    state: 'proved',
    sentence: `${checks.length} values arrived after ${mean} ms on average, ${Math.max(...times)} ms at most.${loss ? ` ${loss.sentence}` : ''}${echo ? ` ${echo.sentence}` : ''}`,
  };
}

function asNumber(words: readonly number[], point: Point): Value | null {
  const read = readPoint(words, point);
  return read.ok ? read.value.value : null;
}

function textAt(words: readonly number[], point: Point): string {
  const value = words.length ? asNumber(words, point) : null;
  return value === null ? 'nothing' : textOf(value, point);
}

function textOf(value: Value, { unit }: Point): string {
  if (Array.isArray(value)) return value.length ? `bits ${value.join(' ')}` : 'no bit';
  const text = typeof value === 'number' ? String(Number(value.toPrecision(9))) : value;
  return unit ? `${text} ${unit}` : text;
}
