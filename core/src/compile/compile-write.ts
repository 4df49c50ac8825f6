import type { Point, ProjectDocument } from '../model/index.js';
import { masksOf } from '../route/index.js';
import { isBitTable } from '../address/index.js';
import { type InquiryAsk, inquiryOf } from '../codec/index.js';
import { type Endpoint, lookup, type PlannedRequest, requestMaker, whyNotBroadcast, whyNotRead, whyNotWritten } from '../plan/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** How one point is read or written by hand: the request, where it goes, and which bits of its registers are the point’s own. */
export interface HandWrite {
  endpoint: Endpoint;
  request: PlannedRequest;
  masks: number[] | null;
}

/** The request that writes one point, or that place of every unit of its serial line. A problem says why it cannot be written. */
export function compileWrite(document: ProjectDocument, point: Point, isBroadcast = false): Outcome<HandWrite> {
  const look = lookup(document);
  const way = look.way(point.deviceId);
  if (!way.ok) return bad(way.problem.message);
  const { asked: device } = way.value;
  const why = whyNotWritten(point, device);
  if (why) return bad(why);
  const masks = masksOf({ destination: point, transforms: [] });
  const isPartial = masks !== null && !isBitTable(point.table);
  const whyNotToAll = isBroadcast ? whyNotBroadcast(point, device, way.value, isPartial) : null;
  if (whyNotToAll) return bad(whyNotToAll);
  const maker = requestMaker(look);
  const { requests } = maker.make({
    kind: 'write',
    carrierId: null,
    round: null,
    points: [point],
    isPartial,
    isBroadcast,
    mark: 'by hand',
  });
  const [endpoint] = maker.endpoints.values();
  return good({ endpoint: endpoint!, request: requests[0]!, masks });
}

/** The request that reads one point. A problem says why it cannot be read. */
export function compileRead(document: ProjectDocument, point: Point): Outcome<Omit<HandWrite, 'masks'>> {
  const look = lookup(document);
  const way = look.way(point.deviceId);
  if (!way.ok) return bad(way.problem.message);
  const { asked: device } = way.value;
  const why = whyNotRead(point, device);
  if (why) return bad(why);
  const maker = requestMaker(look);
  const { requests } = maker.make({ kind: 'watch', carrierId: null, round: null, points: [point], mark: 'by hand' });
  const [endpoint] = maker.endpoints.values();
  return good({ endpoint: endpoint!, request: requests[0]! });
}

/** A question to a device that reaches no register, and where it goes. */
export interface HandInquiry {
  endpoint: Endpoint;
  ask: InquiryAsk;
  deviceId: string;
  unitId: number;
  timeoutMs: number;
  tries: number;
}

/** The way of such a question. A problem says why it cannot be asked. */
export function compileInquiry(document: ProjectDocument, deviceId: string, ask: InquiryAsk): Outcome<HandInquiry> {
  const look = lookup(document);
  const way = look.way(deviceId);
  if (!way.ok) return bad(way.problem.message);
  const { asked: device } = way.value;
  const { endpoint, unitId } = way.value;
  const { code, name, serialOnly } = inquiryOf(ask.functionCode)!;
  if (serialOnly && endpoint.via === 'ethernet' && endpoint.framing === 'tcp' && endpoint.id === deviceId)
    return bad(`Function ${code}, ${name}, is for serial lines only, and ${device.name} is asked over Ethernet.`);
  return good({ endpoint, ask, deviceId, unitId, timeoutMs: device.timeoutMs, tries: device.tries });
}
