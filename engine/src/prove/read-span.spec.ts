import type { ReadEvent } from '@plain-envoy/core/feed';
import { failed } from '../links/index.js';
import { answerPdu, exception, RegisterBank } from '../server/index.js';
import type { ClientTransport, Exchange } from '../links/index.js';
import { readSpan } from './index.js';

/** A transport that ends at a device with these registers, and counts what it is asked. */
function toBank(bank: RegisterBank, answer = (pdu: Uint8Array): Exchange => ({ kind: 'answer', pdu: answerPdu(bank, pdu) })) {
  const asked: [offset: number, count: number][] = [];
  let closed = false;
  const transport: ClientTransport = {
    exchange(_unit, pdu) {
      asked.push([(pdu[1]! << 8) | pdu[2]!, (pdu[3]! << 8) | pdu[4]!]);
      return Promise.resolve(answer(pdu));
    },
    tell: () => Promise.resolve({ kind: 'sent' }),
    close: () => void (closed = true),
  };
  return { asked, open: () => transport, isClosed: () => closed };
}

const common = { name: 'Meter', unitId: 31, timeoutMs: 50, tries: 1, everyMs: null, known: [] };

async function all(events: AsyncGenerator<ReadEvent>): Promise<ReadEvent[]> {
  const told: ReadEvent[] = [];
  for await (const event of events) told.push(event);
  return told;
}

describe('readSpan', () => {
  it('reads in requests as large as the standard allows', async () => {
    const bank = new RegisterBank({ input: 300 });
    bank.set('input', 299, 7);
    const way = toBank(bank);
    const events = await all(readSpan({ ...common, table: 'input', first: 0, count: 300, open: way.open }));
    expect(way.asked).toEqual([
      [0, 125],
      [125, 125],
      [250, 50],
    ]);
    expect(events.flatMap((event) => (event.kind === 'words' ? event.words : [])).at(-1)).toBe(7);
    expect(events.at(-1)).toEqual(jasmine.objectContaining({ kind: 'round', requests: 3, refused: 0 }));
    expect(way.isClosed()).toBeTrue();
  });

  it('finds to the register what is refused, by halving, and leaves it out when it reads again', async () => {
    const way = toBank(
      new RegisterBank({
        holding: [
          [100, 109],
          [114, 140],
        ],
      }),
    );
    const reading = readSpan({ ...common, table: 'holding', first: 98, count: 40, everyMs: 1, open: way.open });
    const first: ReadEvent[] = [];
    for await (const event of reading) {
      first.push(event);
      if (event.kind === 'round' && event.round === 2) break;
    }
    expect(first.flatMap((event) => (event.kind === 'refused' ? [event.offset] : []))).toEqual([98, 99, 110, 111, 112, 113]);
    expect(way.asked.slice(-2)).toEqual([
      [100, 10],
      [114, 24],
    ]);
    expect(way.isClosed()).toBeTrue();
  });

  it('ends with a sentence where nobody answers, or the gateway says so', async () => {
    const bank = new RegisterBank({ input: 8 });
    const ask = (answer: () => Exchange) =>
      all(readSpan({ ...common, table: 'input', first: 0, count: 8, open: toBank(bank, answer).open }));
    expect(await ask(() => failed({ code: 'no-answer' }))).toEqual([
      { kind: 'failed', sentence: 'Meter did not let itself be read: unit 31 did not answer.' },
    ]);
    const [told] = await ask(() => ({ kind: 'answer', pdu: exception(4, 11) }));
    expect(told).toEqual({ kind: 'failed', sentence: jasmine.stringContaining('the gateway says') as never });
  });
});
