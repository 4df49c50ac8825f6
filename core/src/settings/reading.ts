import { compileWatch } from '../compile/index.js';
import type { Point, ProjectDocument } from '../model/index.js';
import { type Endpoint, lookup, type PlannedRequest, whyNotRead } from '../plan/index.js';

/** The requests that read points of one device, and why others are not asked for. */
export interface Reading {
  /** Null where nothing can be asked. */
  endpoint: Endpoint | null;
  requests: PlannedRequest[];
  unread: { point: Point; why: string }[];
}

/** Joins points of a device into as few requests as its limits and its holes allow. */
export function readingOf(document: ProjectDocument, deviceId: string, points: readonly Point[]): Reading {
  const look = lookup(document);
  const [device, way] = [look.device.get(deviceId), look.way(deviceId)];
  const whyNot = (point: Point): string | null => {
    if (!device || !way.ok) return way.ok ? 'Its device is gone.' : way.problem.message;
    return point.access === 'write' ? 'It can only be written.' : whyNotRead(point, device);
  };
  const unread = points.flatMap((point) => {
    const why = whyNot(point);
    return why === null ? [] : [{ point, why }];
  });
  const { endpoints, requests } = compileWatch(document, { endpoints: [], requests: [], routes: [] }, new Set(points.map(({ id }) => id)));
  return { endpoint: endpoints[0] ?? null, requests, unread };
}
