import type { Point, ProjectDocument } from '../model/index.js';
import { masksOf } from '../route/index.js';
import { isBitTable } from '../address/index.js';
import { type Endpoint, lookup, type PlannedRequest, requestMaker, whyNotRead, whyNotWritten } from '../plan/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** How one point is read or written by hand: the request, where it goes, and which bits of its registers are the point’s own. */
export interface HandWrite {
  endpoint: Endpoint;
  request: PlannedRequest;
  masks: number[] | null;
}

/** The request that writes one point. A problem says why it cannot be written. */
export function compileWrite(document: ProjectDocument, point: Point): Outcome<HandWrite> {
  const look = lookup(document);
  const device = look.device.get(point.deviceId);
  const way = look.way(point.deviceId);
  if (!device || !way.ok) return bad(way.ok ? 'Its device is gone.' : way.problem.message);
  const why = whyNotWritten(point, device);
  if (why) return bad(why);
  const masks = masksOf({ destination: point, transforms: [] });
  const maker = requestMaker(look);
  const isPartial = masks !== null && !isBitTable(point.table);
  const { requests } = maker.make({ kind: 'write', carrierId: null, round: null, points: [point], isPartial, mark: 'by hand' });
  const [endpoint] = maker.endpoints.values();
  return good({ endpoint: endpoint!, request: requests[0]!, masks });
}

/** The request that reads one point. A problem says why it cannot be read. */
export function compileRead(document: ProjectDocument, point: Point): Outcome<Omit<HandWrite, 'masks'>> {
  const look = lookup(document);
  const device = look.device.get(point.deviceId);
  const way = look.way(point.deviceId);
  if (!device || !way.ok) return bad(way.ok ? 'Its device is gone.' : way.problem.message);
  const why = whyNotRead(point, device);
  if (why) return bad(why);
  const maker = requestMaker(look);
  const { requests } = maker.make({ kind: 'watch', carrierId: null, round: null, points: [point], mark: 'by hand' });
  const [endpoint] = maker.endpoints.values();
  return good({ endpoint: endpoint!, request: requests[0]! });
}
