import { rtuFrame, type Addressed } from '@plain-envoy/core/codec';
import { LineTransport } from './line-transport.js';
import type { Exchange } from './transport.js';
import { asHeard, type Station, VirtualLine } from './virtual-line.js';

const settings = { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
const question = Uint8Array.of(3, 0, 0, 0, 1);
const answer = Uint8Array.of(3, 2, 0x12, 0x34);

describe('LineTransport', () => {
  let line: VirtualLine;
  let transport: LineTransport;
  /** What stands at the line answers to each question that it hears. */
  let replies: (heard: Addressed) => Uint8Array[];
  let heard: Addressed[];
  let device: Station;

  beforeEach(() => {
    line = new VirtualLine(settings);
    transport = new LineTransport(line);
    heard = [];
    replies = ({ unit }) => [rtuFrame({ unit, pdu: answer })];
    device = {
      settings,
      hear(frame) {
        const read = line.codec.decode(frame);
        if (!read) return;
        heard.push({ unit: read.unit, pdu: read.pdu.slice() });
        void (async () => {
          for (const reply of replies(read)) await line.send(device, reply);
        })();
      },
    };
    line.attach(device);
  });
  afterEach(() => transport.close());

  const code = (exchange: Exchange) => (exchange.kind === 'failed' ? exchange.failure.code : [...exchange.pdu]);
  const ask = async (unit = 9, timeoutMs = 500) => code(await transport.exchange(unit, question, timeoutMs));

  it('brings the answer of the unit that was asked', async () => {
    expect(await ask()).toEqual([...answer]);
    expect(heard).toEqual([{ unit: 9, pdu: question }]);
  });

  it('does not take the answer of another unit', async () => {
    replies = ({ unit }) => [rtuFrame({ unit: 8, pdu: Uint8Array.of(3, 2, 9, 9) }), rtuFrame({ unit, pdu: answer })];
    expect(await ask()).toEqual([...answer]);
  });

  it('counts how late an answer is from the moment at which the question had left, not from when its hearers are done with it', async () => {
    const BUSY_MS = 40;
    let heardAt = 0;
    let busyMs = 0;
    const now = performance.now.bind(performance);
    spyOn(performance, 'now').and.callFake(() => now() + busyMs);
    replies = () => {
      heardAt = performance.now();
      busyMs += BUSY_MS;
      return [];
    };
    const stray = new Promise<number>((done) => (transport.onStray = (_frame, afterMs) => done(afterMs!)));
    expect(await ask(9, 20)).toBe('no-answer');
    const spentMs = performance.now() - heardAt;
    await line.send(device, rtuFrame({ unit: 9, pdu: answer }));
    expect(await stray).toBeGreaterThanOrEqual(spentMs);
    expect(spentMs).toBeGreaterThanOrEqual(BUSY_MS);
  });

  it('calls a frame with a wrong checksum damaged', async () => {
    replies = ({ unit }) => {
      const frame = rtuFrame({ unit, pdu: answer });
      frame[3]! ^= 1;
      return [frame];
    };
    expect(await ask()).toBe('checksum');
  });

  it('ends at the timeout where nobody answers, and asks the next all the same', async () => {
    const both = replies;
    replies = () => [];
    expect(await ask(9, 20)).toBe('no-answer');
    replies = both;
    expect(await ask()).toEqual([...answer]);
  });

  it('asks one at a time, in the order in which they came', async () => {
    const ended = await Promise.all([ask(1), ask(2), ask(3)]);
    expect(ended).toEqual([[...answer], [...answer], [...answer]]);
    expect(heard.map(({ unit }) => unit)).toEqual([1, 2, 3]);
  });

  it('ends with what is open when it is closed, and hears nothing more', async () => {
    replies = () => [];
    const open = ask(9, 10_000);
    while (heard.length === 0) await new Promise((done) => setImmediate(done));
    transport.close();
    expect(await open).toBe('closed');
    const hears = spyOn(transport, 'hear');
    await line.send(device, rtuFrame({ unit: 9, pdu: answer }));
    expect(hears).not.toHaveBeenCalled();
  });

  it('does not ask on a line that is closed', async () => {
    line.close();
    expect([line.isOpen, await ask()]).toEqual([false, 'closed']);
    expect(heard).toEqual([]);
  });
});

describe('what a station hears that is set otherwise', () => {
  const bytes = Uint8Array.from({ length: 256 }, (_, byte) => byte);
  const kept = (sent: object, expected: object) => {
    const got = asHeard(bytes, { ...settings, ...sent }, { ...settings, ...expected });
    return [...bytes].filter((byte) => got[byte] === byte);
  };
  const odd = (byte: number) => [...byte.toString(2)].filter((bit) => bit === '1').length % 2 === 1;

  it('is everything where only the stop bits differ', () => {
    expect(kept({}, { stopBits: 2 }).length).toBe(256);
    expect(asHeard(bytes, settings, settings)).toBe(bytes);
  });

  it('is right only in bytes whose parity bit happens to be what is expected there', () => {
    expect(kept({ parity: 'even' }, { parity: 'odd' })).toEqual([]);
    expect(kept({ parity: 'none' }, { parity: 'even' })).toEqual([...bytes].filter(odd));
    expect(kept({ parity: 'even' }, { parity: 'none' })).toEqual([...bytes].filter(odd));
    expect(kept({ parity: 'odd' }, { parity: 'none' })).toEqual([...bytes].filter((byte) => !odd(byte)));
  });

  it('is noise at another rate or length of data', () => {
    expect(kept({ baud: 9600 }, {}).length).toBeLessThan(5);
    expect(kept({ dataBits: 7 }, {}).length).toBeLessThan(5);
    expect(asHeard(Uint8Array.of(0, 0), settings, { ...settings, baud: 9600 })).toEqual(Uint8Array.of(91, 192));
  });
});
