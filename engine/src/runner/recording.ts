import { type End, type TraceRecord } from '@plain-envoy/core/trace';
import type { Endpoint, PlannedRequest } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';
import type { Frames } from '../links/index.js';

/** One try of a request, as the trace keeps it. */
export function recordOf(
  outcome: RequestResult,
  ms: number,
  { sent, got }: Frames,
  { request, endpoint }: { request: PlannedRequest; endpoint: Endpoint },
  { functionCode }: { functionCode: number },
): Omit<TraceRecord, 'number'> {
  const atMs = performance.timeOrigin + performance.now() - ms;
  const { id: requestId, unitId: unit } = request;
  const common = { atMs, endpointId: endpoint.id, requestId, framing: endpoint.framing, unit, functionCode, sent, got, ms };
  const why = outcome.kind === 'corrupt' || outcome.kind === 'not connected' ? outcome.why : null;
  return { ...common, end: endings[outcome.kind], why };
}

const endings: Record<RequestResult['kind'], End> = {
  values: 'answered',
  written: 'answered',
  exception: 'refused',
  'no response': 'silent',
  corrupt: 'damaged',
  'not connected': 'not connected',
};

/** An answer that came after nobody waited for it any more. */
export function strayRecord(frame: Uint8Array, { id: endpointId, framing }: Endpoint): Omit<TraceRecord, 'number'> {
  const [unit, functionCode] = framing === 'tcp' ? [frame[6] ?? 0, frame[7] ?? 0] : [frame[0] ?? 0, frame[1] ?? 0];
  const common = { atMs: Date.now(), endpointId, requestId: null, framing, unit, functionCode: functionCode & 0x7f, sent: null, ms: null };
  return { ...common, got: frame, end: 'late', why: 'It answers a question that nobody waited for any more.' };
}
