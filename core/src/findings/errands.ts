import { whyNotCompared } from '../errand/index.js';
import { type Errand, type ErrandStep, type Point, pointsOfErrand, type ProjectDocument, wordsFromInput } from '../model/index.js';
import type { Finding } from './finding.js';

type Where = Pick<ProjectDocument, 'devices' | 'errands' | 'points' | 'routes'>;

/** What keeps an errand from running to its end, or undoes what it does. */
export function checkErrands({ devices, errands, points, routes }: Where): Finding[] {
  if (errands.length === 0) return [];
  const used = new Set(errands.flatMap((errand) => pointsOfErrand(errand)));
  const byId = new Map(points.flatMap((point) => (used.has(point.id) ? [[point.id, point] as const] : [])));
  const names = new Map(devices.map(({ id, name }) => [id, name]));
  const nameOf = (point: Point) => `${names.get(point.deviceId)} ${point.name}`;
  const carriers = new Map(
    routes.flatMap((route) =>
      used.has(route.destinationId) && route.trigger.on === 'round' ? [[route.destinationId, route] as const] : [],
    ),
  );
  return errands.flatMap((errand): Finding[] => {
    const at: Finding['at'] = { entity: 'errand', id: errand.id };
    const stop = (check: string, message: string, mend: string): Finding => ({ severity: 'stop', check, message, mend, at });
    const gone = placesOf(errand).filter(({ pointIds }) => pointIds.some((id) => !byId.has(id)));
    const wrong = errand.steps.flatMap((step, index) => {
      const why = whyNot(step, byId);
      return why
        ? [stop('errand-value', `${errand.name}, step ${index + 1}: ${why}`, 'Choose another point, or write another value.')]
        : [];
    });
    const beside = errand.steps.flatMap((step): Finding[] => {
      const route = step.kind === 'write' ? carriers.get(step.pointId) : undefined;
      const point = step.kind === 'write' ? byId.get(step.pointId) : undefined;
      if (!route || !point) return [];
      const message = `${errand.name} writes ${nameOf(point)}, and the route ${route.name} writes it again in its next round: what the errand wrote lasts no longer.`;
      const mend = 'Let the errand write the source of the route, let the route go out on change, or force it meanwhile.';
      return [{ severity: 'advice', check: 'errand-beside-route', message, mend, at }];
    });
    return [
      ...gone.map(({ place }) =>
        stop(
          'errand-point-gone',
          `${errand.name}, ${place}: its point is no longer in the project.`,
          'Choose another point, or delete the step.',
        ),
      ),
      ...wrong,
      ...beside.slice(0, 1),
    ];
  });
}

function placesOf({ trigger, steps }: Errand): { place: string; pointIds: string[] }[] {
  return [
    { place: 'what sets it off', pointIds: pointsOfErrand({ trigger, steps: [] }) },
    ...steps.map((step, index) => ({ place: `step ${index + 1}`, pointIds: pointsOfErrand({ trigger: { on: 'hand' }, steps: [step] }) })),
  ];
}

/** Why a step cannot do what is stated; what an earlier step fills in is known only when it runs. */
function whyNot(step: ErrandStep, points: ReadonlyMap<string, Point>): string | null {
  const point = 'pointId' in step ? points.get(step.pointId) : undefined;
  if (!point) return null;
  if (step.kind === 'write' && point.access === 'read') return `${point.name} cannot be written.`;
  if (!('value' in step) || /\{\d+\}/.test(step.value)) return null;
  if (step.kind === 'compare' && step.sameAsId) return null;
  if (step.kind !== 'write') return whyNotCompared(point, step.is, step.value)?.message ?? null;
  const words = wordsFromInput(step.value, point);
  return words.ok ? null : words.problem.message;
}
