import type { Finding } from '@plain-envoy/core/findings';

/** Where each kind of entity is mended. */
const screens: Record<Finding['at']['entity'], string> = {
  route: '/routes',
  round: '/rounds',
  point: '/registers',
  device: '/site',
  line: '/lines',
  port: '/lines',
};

/** The address of the screen on which something is mended, with the thing itself chosen. */
export function placeOf({ entity, id }: Pick<Finding['at'], 'entity' | 'id'>): { path: string; queryParams: Record<string, string> } {
  return { path: screens[entity], queryParams: { [entity]: id } };
}
