import type { ProjectDocument } from '../model/index.js';
import type { Plan, PlannedRequest } from '../plan/index.js';
import type { Finding } from '../findings/index.js';
import { type Case, caseOf, type Cause, type Seen, type Weighed } from './case.js';
import { notConnected } from './causes/not-connected.js';
import { noPath } from './causes/no-path.js';
import { silence } from './causes/silence.js';
import { damage } from './causes/damage.js';
import { refusals } from './causes/refusals.js';
import { severalOpen } from './causes/several-open.js';
import { slowness } from './causes/slowness.js';
import { standstill } from './causes/standstill.js';

/** Why a device does not do what it should, the most probable reason first. */
export interface Diagnosis {
  deviceId: string;
  name: string;
  /** What is seen: `18 of its last 20 answers did not come`. */
  seen: string;
  causes: Cause[];
}

/** What may be the matter, in no order: how much speaks for a cause decides. A new one is a file of its own and its name here. */
const causeFinders: readonly ((of: Case) => Weighed[])[] = [
  notConnected,
  noPath,
  silence,
  severalOpen,
  damage,
  refusals,
  slowness,
  standstill,
];

/** Looks at every device whose last tries did not all end well, or that is slower than stated. */
export function diagnose(document: ProjectDocument, plan: Plan, findings: readonly Finding[], seen: Seen): Diagnosis[] {
  const asked = new Map<string, PlannedRequest[]>();
  for (const request of plan.requests) {
    const known = asked.get(request.deviceId);
    if (known) known.push(request);
    else asked.set(request.deviceId, [request]);
  }
  return [...asked].flatMap(([deviceId, requests]): Diagnosis[] => {
    const counters = seen.device(deviceId);
    const device = document.devices.find(({ id }) => id === deviceId);
    if (!counters || !device || counters.recent.length === 0) return [];
    const of = caseOf(document, device, counters, requests, findings, seen, asked);
    const causes = causeFinders.flatMap((find) => find(of)).sort((a, b) => b.weight - a.weight);
    const text = seenText(of);
    return causes.length ? [{ deviceId, name: device.name, seen: text, causes: causes.map(({ weight: _, ...cause }) => cause) }] : [];
  });
}

function seenText({ tries, counters }: Case): string {
  const parts = [
    tries.unconnected && `${tries.unconnected} without a connection`,
    tries.silent && `${tries.silent} without an answer`,
    tries.damaged && `${tries.damaged} with a damaged answer`,
    tries.noPath && `${tries.noPath} with no way there`,
    ...[...tries.refused].map(([code, count]) => `${count} refused with exception ${code}`),
  ].filter(Boolean);
  if (parts.length === 0) return `It answers, in ${Math.round(counters.meanMs ?? 0)} ms.`;
  return `Of its last ${tries.all} tries ${parts.join(', ')}.`;
}
