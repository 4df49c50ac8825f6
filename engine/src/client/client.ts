import { GATEWAY_TARGET_FAILED, readAnswer, requestPdu, type PduRequest } from '@plain-envoy/core/frame';
import type { ClientTransport } from '../transport/index.js';

/** A request to a unit, with how long and how often to try. */
export interface Ask extends PduRequest {
  unitId: number;
  timeoutMs: number;
  tries: number;
}

/** How a request ended after all its tries. `damaged` counts the tries whose answers were unusable. */
export type Outcome =
  | { kind: 'values'; values: number[] }
  | { kind: 'written' }
  | { kind: 'exception'; code: number }
  | { kind: 'no response' }
  | { kind: 'corrupt'; why: string }
  | { kind: 'not connected'; why: string };

/**
 * Asks, and asks again where no sound answer comes, up to `tries` times. An exception is an answer, and is not
 * asked again, but for the one by which a gateway says that nothing came from the device.
 * `onTry` hears how each single try ended and how long it took, for the counters.
 */
export async function ask(transport: ClientTransport, request: Ask, onTry?: (outcome: Outcome, ms: number) => void): Promise<Outcome> {
  const pdu = requestPdu(request);
  let outcome: Outcome = { kind: 'no response' };
  for (let attempt = 0; attempt < request.tries; attempt++) {
    const from = onTry ? performance.now() : 0;
    const exchange = await transport.exchange(request.unitId, pdu, request.timeoutMs);
    outcome = exchange.kind === 'answer' ? sound(request, exchange.pdu) : exchange;
    onTry?.(outcome, performance.now() - from);
    if (!mayComeStill(outcome)) return outcome;
  }
  return outcome;
}

function mayComeStill(outcome: Outcome): boolean {
  if (outcome.kind === 'exception') return outcome.code === GATEWAY_TARGET_FAILED;
  return outcome.kind === 'no response' || outcome.kind === 'corrupt';
}

function sound(request: PduRequest, pdu: Uint8Array): Outcome {
  const answer = readAnswer(request, pdu);
  return answer.kind === 'unusable' ? { kind: 'corrupt', why: answer.why } : answer;
}
