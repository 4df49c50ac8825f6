import type { PointWords } from '@plain-envoy/core/feed';
import type { Point } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import { alongside, expectedAt, hasArrived, textAt, textOf, unlikePapers, whyNotProvable, whyOther } from '@plain-envoy/core/proof';
import type { Value } from '@plain-envoy/core/value';
import { share } from './places.js';
import type { Case, Driven, Run } from './route-case.js';
import { valuesFor } from './values-for.js';
import { patienceMs } from './waiting.js';

/** After so many values that did not arrive a route is not tried further. */
const MAX_FAILURES = 2;
/** Where a round takes longer, fewer values are tried. */
const SLOW_ROUND_MS = 5000;
const SLOW_VALUES = 4;

/** The sources of these routes, each once. */
export function sourcesOf(routes: readonly PlannedRoute[]): Driven[] {
  const byId = new Map<string, Driven>();
  for (const route of routes) {
    const known = byId.get(route.source.id) ?? { source: route.source, own: byId.size + 1, routes: [] };
    byId.set(route.source.id, known);
    known.routes.push({
      route,
      checks: [],
      failures: 0,
      why: null,
      ended: whyNotProvable(route),
      last: null,
      papers: null,
      unlike: null,
      unknown: new Set(),
      loss: null,
      echo: null,
    });
  }
  return [...byId.values()];
}

/** Sources that share a register are driven one after the other, and one that another needs held before or after that one. */
export function groupsOf(sources: readonly Driven[]): Driven[][] {
  const groups: Driven[][] = [];
  for (const source of sources) {
    const sharing = groups.filter((group) =>
      group.some((other) => share(other.source, source.source) || needs(other, source) || needs(source, other)),
    );
    for (const group of sharing) groups.splice(groups.indexOf(group), 1);
    groups.push([...sharing.flat(), source]);
  }
  return groups;
}

/** Whether a source is held at some value while another is driven. */
function needs({ routes }: Driven, { source }: Driven): boolean {
  return routes.some(({ route }) => alongside(route).some(({ point }) => share(point, source)));
}

/** Drives sources one after the other; a stand-in that does not take a value ends its routes with the reason. */
export async function driveGroup(group: readonly Driven[], run: Run): Promise<void> {
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
  const [looked] = await run.bench.look([source]);
  const all = valuesFor(looked?.point ?? source, own, routes, run.bench);
  for (const { value, shows } of slow ? [...all.slice(0, SLOW_VALUES - 1), ...all.slice(-1)] : all) {
    const open = routes.filter(({ ended }) => ended === null);
    if (run.stopped || open.length === 0) return;
    await Promise.all(open.map((row) => prepare(row.route, run)));
    const before = await run.bench.look(open.map(({ route }) => route.destination));
    const { point: put, inPapers } = await run.bench.drive(source, value);
    await Promise.all(open.map((row) => trigger(row.route, run)));
    await Promise.all(
      open.map((row) => check(row, { value, shows, put, inPapers, before: before.find(({ id }) => id === row.route.destination.id) }, run)),
    );
  }
}

/** Sets what has to hold beside the source. */
async function prepare(route: PlannedRoute, { bench }: Run): Promise<void> {
  for (const { point, value } of alongside(route)) await bench.drive(point, value);
  const edge = edgeOf(route);
  if (edge) await bench.drive(edge, 0);
}

/** A rising edge is seen only where the bit was read while it was off. */
async function trigger(route: PlannedRoute, { bench }: Run): Promise<void> {
  const edge = edgeOf(route);
  if (!edge) return;
  await new Promise((done) => setTimeout(done, 2 * route.periodMs));
  await bench.drive(edge, 1);
}

function edgeOf({ trigger: on, others }: PlannedRoute): Point | undefined {
  return on.on === 'edge' ? others.find(({ id }) => id === on.pointId) : undefined;
}

interface Sent {
  value: Value;
  shows: string;
  put: Point;
  /** Whether the papers of its device know the source. */
  inPapers: boolean;
  before: PointWords | undefined;
}

async function check(row: Case, { value, shows, put, inPapers, before }: Sent, { bench, lookout, spareMs }: Run): Promise<void> {
  const { route } = row;
  if (!before) {
    row.ended = 'Its destination has no stand-in, so nobody can look there by its papers.';
    return;
  }
  const destination = before.point;
  const papers = { source: put, destination };
  row.papers = papers;
  row.unlike = unlikePapers(route.source, put) ?? unlikePapers(route.destination, destination);
  row.unknown = new Set([...(inPapers ? [] : [route.source.name]), ...(before.inPapers ? [] : [route.destination.name])]);
  const expected = expectedAt(value, route, papers, alongside(route));
  // What the destination cannot hold by its own type is not sent; that is a finding, not a failure.
  if (!expected.ok) return;
  const [from, patience] = [performance.now(), patienceMs(route, spareMs) + bench.leavesWithinMs(route.source)];
  const { met, looked } = await lookout.until(route.destination, (now) => hasArrived(now.words, expected.value, destination), patience);
  const found = looked?.words ?? [];
  row.checks.push({
    shows,
    sent: textOf(value, put),
    expected: textOf(expected.value.value, destination),
    found: textAt(found, destination),
    ms: met ? Math.round(performance.now() - from) : null,
  });
  row.last = expected.value;
  if (met) return;
  row.failures += 1;
  if (row.failures >= MAX_FAILURES) row.ended = '';
  const why = row.unlike ?? whyOther(found, before.words, expected.value, destination) ?? 'Something else arrives than was sent.';
  const said = bench.reason(route.id);
  row.why ??= said ? `${why} ${said}` : why;
}
