import { sentenceOf, groupOf } from '@plain-envoy/core/failure';
import { type InquiryAsk, READ_DEVICE_IDENTIFICATION, REPORT_SERVER_ID } from '@plain-envoy/core/codec';
import { describeException, exceptions, GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED, requestPdu } from '@plain-envoy/core/frame';
import { type Identification, identificationOf } from '@plain-envoy/core/identity';
import { inquire } from '../client/index.js';
import type { ClientTransport } from '../links/index.js';

/** Who is at a unit: somebody who answers, a damaged answer, nobody, or no way to it. */
export type Presence =
  | { kind: 'answers'; how: string; exception: number | null; ms: number }
  | { kind: 'damaged'; why: string; ms: number }
  | { kind: 'silent'; ms: number }
  | { kind: 'no way'; why: string; byGateway: boolean; ms: number };

/** A gateway that gives up sooner than this part of its wait heard something that it could not use. */
const AT_ONCE = 0.6;

/**
 * Reads one holding register of a unit. Any answer of its own, an exception too, shows that somebody is there.
 * `gatewayWaitsMs` is how long the gateway in front gives a silent device; null where there is none.
 */
export async function probe(
  transport: ClientTransport,
  unit: number,
  timeoutMs: number,
  gatewayWaitsMs: number | null = null,
): Promise<Presence> {
  const from = performance.now();
  const exchange = await transport.exchange(unit, requestPdu({ functionCode: 3, offset: 0, count: 1 }), timeoutMs);
  const ms = performance.now() - from;
  if (exchange.kind === 'failed') {
    const why = sentenceOf(exchange.failure);
    switch (groupOf(exchange.failure)) {
      case 'no answer':
        return { kind: 'silent', ms };
      case 'not connected':
        return { kind: 'no way', why, byGateway: false, ms };
      default:
        return { kind: 'damaged', why, ms };
    }
  }
  const exception = (exchange.pdu[0]! & 0x80) !== 0 ? (exchange.pdu[1] ?? 0) : null;
  if (exception === GATEWAY_TARGET_FAILED) {
    if (gatewayWaitsMs === null || ms > gatewayWaitsMs * AT_ONCE) return { kind: 'silent', ms };
    return {
      kind: 'damaged',
      why: 'The gateway gave up at once, so something answered that it could not use: two devices with this unit ID, or other settings.',
      ms,
    };
  }
  if (exception === GATEWAY_PATH_UNAVAILABLE)
    return { kind: 'no way', why: `The gateway answers ${describeException(exception)}.`, byGateway: true, ms };
  return {
    kind: 'answers',
    how:
      exception === null
        ? 'gives a register'
        : `answers with exception ${exception}, ${exceptions[exception]?.name ?? 'which the standard does not name'}`,
    exception,
    ms,
  };
}

/** A server that serves one client needs a moment to see that a connection is closed; the transport waits as long before it tries again. */
const CLOSING_MS = 250;

/** The same just after another connection there was closed: a server that serves one client may not have seen that yet. */
export async function probeAfterClosing(...asked: Parameters<typeof probe>): Promise<Presence> {
  const presence = await probe(...asked);
  if (presence.kind !== 'no way' || presence.byGateway) return presence;
  await new Promise((done) => setTimeout(done, CLOSING_MS));
  return probe(...asked);
}

/** What a device says of itself, and by which function. Empty texts are left out. */
interface Identity {
  by: '43/14' | '17';
  texts: string[];
  /** Null where it is known by function 17 alone, which has no texts by name. */
  identification: Identification | null;
}

const ways: readonly { by: Identity['by']; ask: InquiryAsk }[] = [
  { by: '43/14', ask: { functionCode: READ_DEVICE_IDENTIFICATION, level: 'basic', object: 0 } },
  { by: '17', ask: { functionCode: REPORT_SERVER_ID } },
];

/** What the unit says of itself: device identification (43/14), else report server ID (17); null where it knows neither. */
export async function identify(transport: ClientTransport, unitId: number, timeoutMs: number): Promise<Identity | null> {
  for (const { by, ask } of ways) {
    const told = await inquire(transport, { ask, unitId, timeoutMs, tries: 1 });
    // Of a server ID the text alone; whether it runs is no name.
    if (told.kind === 'told') {
      const texts = told.facts.flatMap(({ text, value }) => (value === null && text ? [text] : []));
      return { by, texts, identification: ask.functionCode === READ_DEVICE_IDENTIFICATION ? identificationOf(told.facts) : null };
    }
    const group = groupOf(told.failure);
    if (group !== 'damaged' && group !== 'refused') return null;
  }
  return null;
}

/** `Fan drive, 2.1` */
export function describeIdentity({ by, texts }: Identity): string {
  return texts.length > 0 ? `${texts.join(', ')} (function ${by})` : `function ${by}, without a text`;
}
