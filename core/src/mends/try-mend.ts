import type { compile } from '../compile/index.js';
import { goesWrong, mapUnlikePapers } from '../doubt/index.js';
import { type Finding, findingKey, type Fix } from '../findings/index.js';
import { applyChanges, type ProjectDocument } from '../model/index.js';
import type { PlannedRoute } from '../plan/index.js';
import { occupancy } from '../occupancy/index.js';

type Compiled = ReturnType<typeof compile>;

/** An edit that was tried on a copy and makes nothing worse, with what it would do. */
export interface Mend extends Fix {
  effect: string;
}

/**
 * Tries what may mend a finding on a copy of the project: null where the finding stays, or where anything gets worse: something new
 * is found that is more than advice, a route is carried no more that it does not delete, a line has more to carry than fits, a map
 * departs from the papers of its device, or a value would arrive as another by the papers of both ends.
 */
export function tryMend(
  document: ProjectDocument,
  before: Compiled,
  finding: Finding,
  fix: Fix,
  compiled: (document: ProjectDocument) => Compiled,
): Mend | null {
  const after = applyChanges(document, fix.changes);
  const then = compiled(after);
  const known = new Set(before.findings.map(findingKey));
  const left = new Set(then.findings.map(findingKey));
  const isNew = (row: Finding) => row.severity !== 'advice' && !known.has(findingKey(row));
  if (left.has(findingKey(finding)) || then.findings.some(isNew)) return null;
  const deleted = new Set(fix.changes.flatMap((change) => (change.after === null ? change.id : [])));
  const routes = new Map(then.plan.routes.map((route) => [route.id, route]));
  const lost = before.plan.routes.filter(({ id }) => !routes.has(id));
  if (lost.some(({ id }) => !deleted.has(id))) return null;
  const [busy, busyThen] = [occupancy(document, before.plan.requests), occupancy(after, then.plan.requests)];
  if ([...busyThen].some(([id, { share }]) => share > 1 && share > (busy.get(id)?.share ?? 0))) return null;
  if (strays(after, fix) > strays(document, fix)) return null;
  const old = new Map(before.plan.routes.map((route) => [route.id, route]));
  const touched = then.plan.routes.filter((route) => !isSame(route, old.get(route.id)));
  if (touched.some((route) => goesWrong(after, route) !== null)) return null;
  const gone = before.findings.filter((row) => !left.has(findingKey(row))).length - 1;
  return { ...fix, effect: effectOf(lost, touched.length, gone) };
}

/** How many of the points that an edit changes are otherwise than the papers of their devices have them. */
function strays(document: ProjectDocument, { changes }: Fix): number {
  const ids = new Set(changes.map(({ id }) => id));
  return document.points.filter((point) => ids.has(point.id) && mapUnlikePapers(document, point) !== null).length;
}

function isSame(route: PlannedRoute, before: PlannedRoute | undefined): boolean {
  return before !== undefined && JSON.stringify(valueOf(route)) === JSON.stringify(valueOf(before));
}

function valueOf({ source, destination, carry, transforms }: PlannedRoute): unknown[] {
  const ends = [source, destination].map(({ deviceId, table, offset, bit, type, order, length, encoding, scale, unit }) => {
    return [deviceId, table, offset, bit, type, order, length, encoding, scale, unit];
  });
  return [ends, carry, transforms];
}

function effectOf(lost: readonly PlannedRoute[], touched: number, alsoGone: number): string {
  const parts = [
    lost.length > 0 ? `${lost.map(({ name }) => name).join(', ')} is carried no more` : null,
    touched > 0 ? `${touched === 1 ? 'one route carries' : `${touched} routes carry`} its value otherwise` : null,
    alsoGone > 0 ? `${alsoGone} more finding${alsoGone === 1 ? '' : 's'} go${alsoGone === 1 ? 'es' : ''} with it` : null,
  ].filter((part) => part !== null);
  return parts.length ? `Then ${parts.join(', and ')}.` : '';
}
