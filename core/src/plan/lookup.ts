import type { Device, Point, ProjectDocument, Round } from '../model/index.js';
import { askedFor } from '../converter/index.js';
import type { Outcome } from '../outcome/index.js';
import { Memory } from './memory.js';
import { carrierReaches, type Way, wayTo } from './way.js';

/** What compiling looks up again and again. */
export interface Lookup {
  document: ProjectDocument;
  point: Map<string, Point>;
  round: Map<string, Round>;
  device: Map<string, Device>;
  way(deviceId: string): Outcome<Way>;
  /** Whose registers are asked for the points of a device: the converter before it, or itself. */
  askedAt(deviceId: string): string;
  carrierReaches(carrierId: string, deviceId: string): string | null;
  memory: Memory;
}

export function lookup(document: ProjectDocument, memory = new Memory()): Lookup {
  const byId = <T extends { id: string }>(rows: readonly T[]) => new Map(rows.map((row) => [row.id, row]));
  const carriers = new Map<string, (deviceId: string) => string | null>();
  return {
    document,
    point: byId(document.points),
    round: byId(document.rounds),
    device: byId(document.devices),
    way: remembering((deviceId) => memory.same(`way ${deviceId}`, wayTo(document, deviceId))),
    askedAt: askedFor(document),
    carrierReaches(carrierId, deviceId) {
      const known = carriers.get(carrierId) ?? remembering((id) => carrierReaches(document, carrierId, id));
      carriers.set(carrierId, known);
      return known(deviceId);
    },
    memory,
  };
}

export function deviceName({ deviceId }: Pick<Point, 'deviceId'>, { device }: Lookup): string {
  return device.get(deviceId)?.name ?? '';
}

function remembering<T>(find: (id: string) => T): (id: string) => T {
  const known = new Map<string, T>();
  return (id) => {
    if (!known.has(id)) known.set(id, find(id));
    return known.get(id)!;
  };
}
