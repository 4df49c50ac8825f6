import { checkEnds, runChecks } from '../checks/index.js';
import { type Finding, fixOf, onRoute } from '../findings/index.js';
import { alsoReadBy, type Point, type Route } from '../model/index.js';
import { areSame, type Lookup, namesOf, type RouteNames, type ValidRoute } from '../plan/index.js';
import { chainOf, wordsFor } from '../route/index.js';
import type { RouteMemory } from './route-memory.js';

/** The route with all that it names; or null, and findings that say what keeps it from being carried. */
export function validRoute(route: Route, look: Lookup, memory: RouteMemory, findings: Finding[]): ValidRoute | null {
  const restsOn = allThat(route, look);
  const before = memory.routes.get(route);
  const known = before && areSame(before.restsOn, restsOn) ? before : { restsOn, ...examine(route, look) };
  memory.routes.set(route, known);
  findings.push(...known.findings);
  return known.row;
}

/** Everything outside the route itself that decides whether it can be carried. */
function allThat(route: Route, look: Lookup): unknown[] {
  const { sourceId, destinationId, roundId, carrierId, loss, release } = route;
  const restsOn: unknown[] = [look.round.get(roundId), carrierId && look.device.get(carrierId)];
  const rest = (id: string | null | undefined) => {
    const point = id ? look.point.get(id) : null;
    restsOn.push(point);
    if (!point) return;
    restsOn.push(look.device.get(point.deviceId), look.way(point.deviceId), carrierId && look.carrierReaches(carrierId, point.deviceId));
  };
  rest(sourceId);
  rest(destinationId);
  rest(loss.validId);
  rest(release?.pointId);
  alsoReadBy(route).forEach(rest);
  return restsOn;
}

function examine(route: Route, look: Lookup): { row: ValidRoute | null; findings: Finding[] } {
  const names = namesOf(route, look);
  const gone = runChecks('names', { route, names });
  const findings = names ? [...atEnds(names), ...gone] : gone;
  if (names && gone.length === 0) findings.push(...runChecks('route', { names, look }));
  for (const found of findings) found.message = `${route.name}: ${found.message}`;
  return { row: names && findings.length === 0 ? rowOf(names) : null, findings };
}

function atEnds({ route, source, destination }: RouteNames): Finding[] {
  return checkEnds(chainOf(route, source, destination)).map(({ check, message, mend, field, fix }) => ({
    severity: 'stop',
    check,
    message,
    mend,
    fixes: fix ? [fixOf(fix.label, 'route', route, fix.fields)] : [],
    at: onRoute({ route }, field),
  }));
}

/** Everything that the route names is there and fits. */
function rowOf({ route, round, source, destination, others, valid, releasing }: RouteNames): ValidRoute {
  const words = route.release && releasing ? wordsFor(route.release.value, { destination: releasing, transforms: [] }) : null;
  const release = releasing && words?.ok ? { point: releasing, words: words.value, when: route.release!.when } : null;
  return { route, round, source, destination, others: others as Point[], valid: valid ?? null, release };
}
