import type { Case } from '../case.js';
import type { Plain } from '../plain.js';

/** So many times as long as stated, and a device is called slow. */
const SLOW = 3;

/** It answers much later than is stated. */
export function slowness({ device, tries, counters, port, requests, seen }: Case): Plain[] {
  const stated = device.delayMs;
  if (tries.answered === 0 || port?.kind !== 'ethernet' || counters.meanMs === null || counters.lastMs === null) return [];
  // Several requests that are all slow tell sooner than the mean of a long run.
  const last = requests.flatMap(({ id }) => seen.request(id)?.lastMs ?? []);
  const slowMs = Math.min(counters.lastMs, ...(last.length > 1 ? last : [counters.meanMs]));
  if (slowMs < 30 || slowMs < SLOW * (stated + 5)) return [];
  return [
    {
      cause: 'slow',
      sentence: `${device.name} takes longer to answer than stated: about ${Math.round(slowMs)} ms instead of ${stated} ms.`,
      evidence: `Its last answer took ${Math.round(counters.lastMs)} ms, ${Math.round(counters.meanMs)} ms are the mean.`,
      at: { entity: 'device', id: device.id },
    },
  ];
}
