import type { Finding } from '@plain-envoy/core/findings';

/** Where each kind of entity is mended. */
const screens: Record<Finding['at']['entity'], string> = {
  route: '/routes',
  round: '/rounds',
  telegram: '/registers',
  frame: '/registers',
  point: '/registers',
  device: '/site',
  line: '/lines',
  port: '/lines',
  errand: '/bench',
};

/** The address of the screen on which something is mended, with the thing itself chosen. */
export function placeOf({ entity, id }: Pick<Finding['at'], 'entity' | 'id'>): { path: string; queryParams: Record<string, string> } {
  const view: Record<string, string> = entity === 'errand' ? { view: 'errands' } : {};
  return { path: screens[entity], queryParams: { ...view, [entity]: id } };
}
