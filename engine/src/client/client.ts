import { groupOf } from '@plain-envoy/core/failure';
import { GATEWAY_TARGET_FAILED, readAnswer, requestPdu, type PduRequest } from '@plain-envoy/core/frame';
import { type ClientTransport, failed, type Failed, type Frames } from '../links/index.js';

/** A request to a unit, with how long and how often to try. */
export interface Ask extends PduRequest {
  unitId: number;
  timeoutMs: number;
  tries: number;
}

/** How a request ended after all its tries. */
export type RequestResult = { kind: 'values'; values: number[] } | { kind: 'written' } | Failed;

/**
 * Asks, and asks again where no sound answer comes, up to `tries` times. An exception is an answer, and is not
 * asked again, but for the one by which a gateway says that nothing came from the device.
 * `onTry` hears how each single try ended, how long it took and which frames went, for counters and trace.
 */
export async function ask(
  transport: ClientTransport,
  request: Ask,
  onTry?: (outcome: RequestResult, ms: number, frames: Frames) => void,
): Promise<RequestResult> {
  const pdu = requestPdu(request);
  let outcome: RequestResult = failed({ code: 'no-answer' });
  for (let attempt = 0; attempt < request.tries; attempt++) {
    const from = onTry ? performance.now() : 0;
    const frames: Frames | undefined = onTry ? { sent: null, got: null } : undefined;
    const exchange = await transport.exchange(request.unitId, pdu, request.timeoutMs, frames);
    outcome = exchange.kind === 'answer' ? readAnswer(request, exchange.pdu) : exchange;
    if (frames) onTry?.(outcome, performance.now() - from, frames);
    if (!mayComeStill(outcome)) return outcome;
  }
  return outcome;
}

function mayComeStill(outcome: RequestResult): boolean {
  if (outcome.kind !== 'failed') return false;
  const { failure } = outcome;
  if (failure.code === 'exception') return failure.exception === GATEWAY_TARGET_FAILED;
  return groupOf(failure) === 'no answer' || groupOf(failure) === 'damaged';
}
