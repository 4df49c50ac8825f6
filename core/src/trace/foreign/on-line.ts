import type { Device, ProjectDocument } from '../../model/index.js';

/** What of a project each line has, looked up once for each; nothing of a project that is not there. */
export function perLine<T>(
  document: ProjectDocument | null,
  on: (document: ProjectDocument, lineId: string) => T[],
): (lineId: string) => readonly T[] {
  const known = new Map<string, readonly T[]>();
  return (lineId) => {
    const all = known.get(lineId) ?? (document ? on(document, lineId) : []);
    known.set(lineId, all);
    return all;
  };
}

/** Whose port it is that sends; null for one that is of no device. */
export function sendersIn(document: ProjectDocument | null): (portId: string | null) => Device | null {
  const devices = new Map(document?.devices.map((device) => [device.id, device]));
  const owners = new Map(document?.ports.map(({ id, deviceId }) => [id, devices.get(deviceId) ?? null]));
  return (portId) => owners.get(portId ?? '') ?? null;
}
