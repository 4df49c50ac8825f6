import type { Change, ProjectDocument } from '../model/index.js';
import { wantHeld } from '../settings/index.js';
import type { FoundRow } from './beside.js';

/** The changes by which the design becomes what was found in these rows of a device; what is not in it any more is left out. */
export function takeAsDesigned({ devices, points }: ProjectDocument, deviceId: string, rows: readonly FoundRow[]): Change[] {
  const held = new Map<string, readonly number[]>();
  const said: Record<string, string> = {};
  for (const { takes } of rows) {
    if (takes?.kind === 'setting') held.set(takes.pointId, takes.words);
    if (takes?.kind === 'identity') said[takes.key] = takes.text;
  }
  const device = devices.find(({ id }) => id === deviceId);
  const settings = points.filter((point) => point.deviceId === deviceId && point.setting !== null);
  const itself: Change[] =
    device && Object.keys(said).length
      ? [
          {
            ...{ entity: 'device', id: deviceId, before: device },
            after: { ...device, identification: { ...device.identification, ...said } },
          },
        ]
      : [];
  return [...itself, ...wantHeld(settings, held)];
}
