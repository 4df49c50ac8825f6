import { type Carry, isSame, type Point, plainRoute, pointLayout, pointWidth, type Route } from '../model/index.js';
import { inverseChain } from '../steps/index.js';
import { checkEnds } from '../checks/index.js';

/** A route from one point to another as it most likely is meant: registers as they are where both ends hold them alike, else the value. */
export function routeBetween(
  source: Point,
  destination: Point,
  ids: Pick<Route, 'id' | 'roundId'>,
  carrierId: string | null = null,
): Route {
  return {
    ...ids,
    ...plainRoute,
    projectId: source.projectId,
    name: source.name,
    note: '',
    sourceId: source.id,
    destinationId: destination.id,
    carrierId,
    carry: carryFor(source, destination),
  };
}

function carryFor(source: Point, destination: Point): Carry {
  const [from, to] = [pointLayout(source), pointLayout(destination)];
  if (!from || !to) return from || to ? 'value' : 'registers';
  const alike =
    from.type === to.type && (pointWidth(source) === 1 || from.order === to.order) && isSame(from.scale ?? null, to.scale ?? null);
  return alike && pointWidth(source) === pointWidth(destination) ? 'registers' : 'value';
}

/** A route the other way round. `lost` names the kinds of steps that cannot be undone; `problem` says why it cannot be carried that way. */
export function reversed(route: Route, source: Point, destination: Point): { route: Route; lost: string[]; problem: string | null } {
  const { steps, lost } = inverseChain(route.transforms);
  const turned: Route = { ...route, sourceId: route.destinationId, destinationId: route.sourceId, transforms: steps };
  const [problem] = checkEnds({ ...turned, source: destination, destination: source });
  return { route: turned, lost, problem: problem ? `${problem.message} ${problem.mend}` : null };
}
