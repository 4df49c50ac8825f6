import { groupOf } from '@plain-envoy/core/failure';
import { GATEWAY_TARGET_FAILED, readAnswer, requestPdu, type PduRequest } from '@plain-envoy/core/frame';
import { type ClientTransport, failed, type Failed, type Frames } from '../links/index.js';

/** A request to a unit, with how long and how often to try. */
export interface Ask extends PduRequest {
  unitId: number;
  timeoutMs: number;
  tries: number;
  /** For a write to every unit of a line, which nobody confirms: how long they have to take it. */
  turnaroundMs?: number | null;
}

/** A write is done: confirmed by the device, or sent to every unit, which nobody confirms. */
export interface Written {
  kind: 'written';
  isUnconfirmed?: boolean;
}

/** How a request ended after all its tries. */
export type RequestResult = { kind: 'values'; values: number[] } | Written | Failed;

/** Hears how each single try ended, how long it took and which frames went, for counters and trace. */
export type OnTry<Outcome> = (outcome: Outcome, ms: number, frames: Frames) => void;

/**
 * Asks, and asks again where no sound answer comes, up to `tries` times. An exception is an answer, and is not
 * asked again, but for the one by which a gateway says that nothing came from the device.
 */
export function ask(transport: ClientTransport, request: Ask, onTry?: OnTry<RequestResult>): Promise<RequestResult> {
  const pdu = requestPdu(request);
  const { unitId, timeoutMs, turnaroundMs } = request;
  return tried(request.tries, onTry, async (frames): Promise<RequestResult> => {
    if (turnaroundMs) {
      const told = await transport.tell(unitId, pdu, turnaroundMs, frames);
      return told.kind === 'sent' ? { kind: 'written', isUnconfirmed: true } : told;
    }
    const exchange = await transport.exchange(unitId, pdu, timeoutMs, frames);
    return exchange.kind === 'answer' ? readAnswer(request, exchange.pdu) : exchange;
  });
}

/** Does it again while nothing sound came, so many times in all; resolves with how the last ended. */
export async function tried<Outcome extends { kind: string }>(
  tries: number,
  onTry: OnTry<Outcome | Failed> | undefined,
  once: (frames: Frames | undefined) => Promise<Outcome | Failed>,
): Promise<Outcome | Failed> {
  let outcome: Outcome | Failed = failed({ code: 'no-answer' });
  for (let attempt = 0; attempt < tries; attempt++) {
    const from = onTry ? performance.now() : 0;
    const frames: Frames | undefined = onTry ? { sent: null, got: null } : undefined;
    outcome = await once(frames);
    if (frames) onTry?.(outcome, performance.now() - from, frames);
    if (!mayComeStill(outcome)) return outcome;
  }
  return outcome;
}

function mayComeStill(outcome: { kind: string } | Failed): boolean {
  if (!('failure' in outcome)) return false;
  const { failure } = outcome;
  if (failure.code === 'exception') return failure.exception === GATEWAY_TARGET_FAILED;
  return groupOf(failure) === 'no answer' || groupOf(failure) === 'damaged';
}
