import { type Failure, groupOf } from '@plain-envoy/core/failure';
import { GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '@plain-envoy/core/frame';
import { USUAL_TURNAROUND_MS } from '@plain-envoy/core/line';
import { BROADCAST_UNIT } from '@plain-envoy/core/plan';
import { exception, type Responder } from '../server/index.js';
import type { ClientTransport } from '../links/index.js';

export interface GatewayOptions {
  /** How long it waits for a device on its serial line. */
  timeoutMs: number;
  /** Unit IDs that it passes on, both ends included; every one of 1 to 247 where none are given. 0 is passed on, to all, only where it is among them. */
  forwardedUnits?: readonly { first: number; last: number }[];
  /** How long the devices of its line have to take what is sent to all of them. */
  turnaroundMs?: number;
  /** Hears what came of each question: null for a sound answer. */
  onOutcome?(unit: number, failure: Failure | null): void;
}

/**
 * Passes Modbus TCP requests on to a serial line by unit ID (Messaging on TCP/IP V1.0b, 4.4.1; exceptions: V1.1b3, 7).
 * What is sent to all of the line is answered by nobody. A question whose asker is gone before its turn comes is dropped. It answers exception 10 where no path leads to the unit, and 11 where the unit was asked and no sound answer came.
 */
export function gatewayResponder(
  line: ClientTransport,
  { timeoutMs, forwardedUnits = [], turnaroundMs = USUAL_TURNAROUND_MS, onOutcome }: GatewayOptions,
): Responder {
  const isForwarded = (unit: number) =>
    forwardedUnits.length === 0 || forwardedUnits.some(({ first, last }) => unit >= first && unit <= last);
  return async (unit, pdu, wish) => {
    const code = pdu[0] ?? 0;
    if (unit === BROADCAST_UNIT && forwardedUnits.length > 0 && isForwarded(unit)) {
      const told = await line.tell(unit, pdu.slice(), turnaroundMs, undefined, wish);
      return told.kind === 'sent' ? null : exception(code, GATEWAY_PATH_UNAVAILABLE);
    }
    if (unit < 1 || unit > 247 || !isForwarded(unit)) return exception(code, GATEWAY_PATH_UNAVAILABLE);
    const exchange = await line.exchange(unit, pdu.slice(), timeoutMs, undefined, wish);
    onOutcome?.(unit, exchange.kind === 'answer' ? null : exchange.failure);
    if (exchange.kind === 'answer') return exchange.pdu;
    return exception(code, groupOf(exchange.failure) === 'not connected' ? GATEWAY_PATH_UNAVAILABLE : GATEWAY_TARGET_FAILED);
  };
}
