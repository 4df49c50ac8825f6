import { GATEWAY_PATH_UNAVAILABLE } from '../../frame/index.js';
import { atPort, type Case, type Cause, found, type Weighed } from '../case.js';

/** The gateway has no way to it (exception 10). */
export function noPath(of: Case): Weighed[] {
  if (!of.tries.noPath) return [];
  const { device, gateway } = of;
  const at: Cause['at'] = gateway ? { entity: 'device', id: gateway.id } : atPort(of);
  const finding = found(of, 'unit-not-forwarded');
  return [
    {
      weight: 90,
      cause: 'gateway-unit',
      sentence: `${gateway?.name ?? 'The gateway'} does not pass the unit ID of ${device.name} on.`,
      evidence: finding?.message ?? `It answers exception ${GATEWAY_PATH_UNAVAILABLE}, which says that it has no way to this unit.`,
      at,
    },
  ];
}
