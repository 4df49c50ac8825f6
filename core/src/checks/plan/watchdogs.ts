import { fixOf, type Fix } from '../../findings/index.js';
import { deviceName, type Lookup, type RouteCells, type ValidRoute } from '../../plan/index.js';
import { isStillTooShort } from './still-short.js';

/** A heartbeat that is watched: how long its watchdog waits, and the shortest that makes sense. */
export interface Watched {
  row: ValidRoute;
  watchdogMs: number;
  shortestMs: number;
  /** `Steep controller, Heartbeat of kiln`. */
  name: string;
  at: { entity: 'point'; id: string; field: string };
}

export function watchedOf(routes: readonly RouteCells[], look: Lookup): Watched[] {
  return routes.flatMap(({ row }) => {
    const { destination, round } = row;
    const { watchdogMs, id } = destination;
    if (watchdogMs === null || isStillTooShort(row)) return [];
    const name = `${deviceName(destination, look)}, ${destination.name}`;
    return { row, watchdogMs, shortestMs: 2 * round.periodMs, name, at: { entity: 'point' as const, id, field: 'watchdogMs' } };
  });
}

export function watchdogOf({ row: { destination } }: Watched, watchdogMs: number): Fix {
  return fixOf(`Set the watchdog to ${watchdogMs} ms`, 'point', destination, { watchdogMs });
}
