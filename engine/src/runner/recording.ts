import { groupOf, type FailureGroup } from '@plain-envoy/core/failure';
import { type End, headOf, type TraceEntry, type TraceRecord } from '@plain-envoy/core/trace';
import type { Endpoint, PlannedRequest } from '@plain-envoy/core/plan';
import type { InquiryResult, RequestResult } from '../client/index.js';
import type { Frames } from '../links/index.js';

/** One try of a request, as the trace keeps it. */
export function recordOf(
  outcome: RequestResult | InquiryResult,
  ms: number,
  { sent, got }: Frames,
  { request, endpoint }: { request: Pick<PlannedRequest, 'unitId'> & { id: string | null }; endpoint: Endpoint },
  { functionCode }: { functionCode: number },
): Omit<TraceRecord, 'number'> {
  const atMs = performance.timeOrigin + performance.now() - ms;
  const { id: requestId, unitId: unit } = request;
  const failure = outcome.kind === 'failed' ? outcome.failure : null;
  const end = failure ? endings[groupOf(failure)] : got ? 'answered' : 'sent';
  return { atMs, endpointId: endpoint.id, requestId, framing: framingAt(endpoint), unit, functionCode, sent, got, ms, end, failure };
}

/** Frames of Modbus go there; what is heard of others is recorded as it comes. */
export function isAsked({ via }: Endpoint): boolean {
  return via !== 'text' && via !== 'station';
}

/** A frame of telecontrol that Plain Envoy sent or heard. */
function stationEntry(
  bytes: Uint8Array,
  way: 'heard' | 'sent',
  { station, place, id }: Extract<Endpoint, { via: 'station' }>,
): Omit<TraceEntry, 'number'> {
  const framing = station.line.standard === 'ieee1815' ? 'ieee1815' : 'iec104';
  const common = {
    atMs: Date.now(),
    endpointId: station.line.id,
    framing,
    unit: place + 1,
    functionCode: 0,
    ms: null,
    failure: null,
  } as const;
  return { ...common, requestId: way === 'heard' ? id : null, sent: bytes, got: bytes, end: 'arrived' };
}

/** How frames go there; on a text line there are none, and nothing is recorded. */
function framingAt(endpoint: Endpoint): TraceRecord['framing'] {
  return endpoint.via === 'text' || endpoint.via === 'station' ? 'rtu' : endpoint.framing;
}

const endings: Record<FailureGroup, End> = {
  'no answer': 'silent',
  refused: 'refused',
  damaged: 'damaged',
  'not connected': 'not connected',
  late: 'late',
};

/** An answer that came after nobody waited for it any more, so many ms after its question where that is known. */
export function strayRecord(frame: Uint8Array, ms: number | null, endpoint: Endpoint): Omit<TraceRecord, 'number'> {
  const { endpointId, framing } = { endpointId: endpoint.id, framing: framingAt(endpoint) };
  const { unit, functionCode } = headOf(frame, framing);
  const common = { atMs: Date.now(), endpointId, requestId: null, framing, unit, functionCode, sent: null, ms };
  return { ...common, got: frame, end: 'late', failure: { code: 'late' } };
}

/** A question that was asked only so that the answer to another can be trusted, and its answer. */
export function probeRecord({ sent, got }: Frames, ms: number, endpoint: Endpoint): Omit<TraceRecord, 'number'> {
  const { endpointId, framing } = { endpointId: endpoint.id, framing: framingAt(endpoint) };
  const { unit, functionCode } = headOf(sent!, framing);
  const atMs = performance.timeOrigin + performance.now() - ms;
  return { atMs, endpointId, requestId: null, framing, unit, functionCode, sent, got, ms, end: 'answered', failure: null };
}

/** What is heard and sent where no question is: a text, of which is not known who sent it but for what it says, or a frame of telecontrol. */
export function heardEntry(bytes: Uint8Array, way: 'heard' | 'sent', endpoint: Endpoint): Omit<TraceEntry, 'number'> {
  if (endpoint.via === 'station') return stationEntry(bytes, way, endpoint);
  const common = {
    atMs: Date.now(),
    endpointId: endpoint.id,
    requestId: null,
    framing: 'text',
    unit: 0,
    functionCode: 0,
    ms: null,
    failure: null,
  } as const;
  return way === 'heard' ? { ...common, sent: null, got: bytes, end: 'arrived' } : { ...common, sent: bytes, got: null, end: 'sent' };
}
