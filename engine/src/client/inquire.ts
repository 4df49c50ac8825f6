import { type Fact, type InquiryAsk, inquiryOf } from '@plain-envoy/core/codec';
import { GATEWAY_TARGET_FAILED, notAnswerTo } from '@plain-envoy/core/frame';
import { USUAL_TURNAROUND_MS } from '@plain-envoy/core/line';
import { type ClientTransport, type Exchange, failed, type Failed } from '../links/index.js';
import { type OnTry, tried } from './client.js';

/** A question to a unit that reaches no register, with how long and how often to try. */
export interface Inquire {
  ask: InquiryAsk;
  unitId: number;
  timeoutMs: number;
  tries: number;
}

/** What was answered: facts, which are none where nothing is answered to it. */
export type InquiryResult = { kind: 'told'; facts: Fact[] } | Failed;

/** An answer that always announces more would be asked for without end. */
const MAX_PARTS = 64;

/** Asks a device about itself, and on where it says that there is more; see `ask` for tries. */
export async function inquire(
  transport: ClientTransport,
  { ask, unitId, timeoutMs, tries }: Inquire,
  onTry?: OnTry<InquiryResult>,
): Promise<InquiryResult> {
  const inquiry = inquiryOf(ask.functionCode)!;
  const facts: Fact[] = [];
  let next: InquiryAsk | null = ask;
  for (let part = 0; next && part < MAX_PARTS; part++) {
    const asked: InquiryAsk = next;
    const pdu = inquiry.request(asked);
    let more: InquiryAsk | null = null;
    const outcome = await tried<InquiryResult>(tries, onTry, async (frames) => {
      if (!inquiry.isAnswered(asked)) return toldOf(await transport.tell(unitId, pdu, USUAL_TURNAROUND_MS, frames));
      const exchange = await transport.exchange(unitId, pdu, timeoutMs, frames);
      const answer = answerOf(exchange, asked);
      if (answer.kind === 'told') more = answer.next;
      return answer;
    });
    if (outcome.kind === 'failed') return outcome;
    facts.push(...outcome.facts);
    next = more;
  }
  return { kind: 'told', facts };
}

/** A gateway that waits for what is never answered says that nothing came. */
function toldOf(told: { kind: 'sent' } | Failed): InquiryResult {
  const isSilence = told.kind === 'failed' && told.failure.code === 'exception' && told.failure.exception === GATEWAY_TARGET_FAILED;
  return told.kind === 'sent' || isSilence ? { kind: 'told', facts: [] } : told;
}

function answerOf(exchange: Exchange, ask: InquiryAsk): { kind: 'told'; facts: Fact[]; next: InquiryAsk | null } | Failed {
  if (exchange.kind === 'failed') return exchange;
  const { pdu } = exchange;
  const unlike = notAnswerTo(ask.functionCode, pdu);
  return unlike ? failed(unlike) : inquiryOf(ask.functionCode)!.read(ask, pdu);
}
