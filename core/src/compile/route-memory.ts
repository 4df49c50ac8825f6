import { runChecks } from '../checks/index.js';
import type { Finding } from '../findings/index.js';
import type { Route } from '../model/index.js';
import type { PlannedRoute, ValidRoute } from '../plan/index.js';

/**
 * What is known of routes from compiling the document before this one. Rows of a document are never changed in place, so the
 * same row is still right, as long as all that it rests on is the same.
 */
export class RouteMemory {
  readonly routes = new WeakMap<Route, { restsOn: readonly unknown[]; row: ValidRoute | null; findings: readonly Finding[] }>();
  readonly planned = new WeakMap<ValidRoute, PlannedRoute>();
  private readonly values = new WeakMap<ValidRoute, readonly Finding[]>();

  /** What is or will be wrong with the value that a route carries. */
  valueFindings(row: ValidRoute): readonly Finding[] {
    const known = this.values.get(row);
    if (known) return known;
    const found = runChecks('value', row);
    for (const finding of found) finding.message = `${row.route.name}: ${finding.message}`;
    this.values.set(row, found);
    return found;
  }
}
