import { readRtuFrame, rtuFrame } from '@plain-envoy/core/codec';
import { LineServer } from '../server/index.js';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { ChannelTransport } from './channel-transport.js';
import type { Channel } from './channel.js';
import { askLateDevice, LateDevice } from './late.spec-helper.js';
import { LineTransport } from './line-transport.js';
import { VirtualLine } from './virtual-line.js';

const UNIT = 9;
const TIMEOUT_MS = 20;

/** The same numbers in each run. */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

/** A device at the far end of a channel in memory. One that is careless works on several questions at a time. */
class LateChannel implements Channel {
  private hears: (bytes: Uint8Array) => void = () => undefined;
  private busyUntil = 0;

  constructor(
    private readonly device: LateDevice,
    private readonly how: { isCareless: boolean; knowsEcho: boolean },
  ) {}

  write(bytes: Uint8Array): Promise<void> {
    const { unit, pdu } = readRtuFrame(bytes)!;
    if (pdu[0] === 8 && !this.how.knowsEcho) return Promise.resolve();
    const answer = rtuFrame({ unit, pdu: pdu[0] === 8 ? pdu : this.device.answer(pdu) });
    const from = this.how.isCareless ? performance.now() : Math.max(performance.now(), this.busyUntil);
    this.busyUntil = from + this.device.delayMs();
    setTimeout(() => this.hears(answer), Math.ceil(this.busyUntil - performance.now()));
    return Promise.resolve();
  }

  listen(onBytes: (bytes: Uint8Array) => void): void {
    this.hears = onBytes;
  }

  close(): void {
    this.hears = () => undefined;
  }
}

describe('answers that come after their timeout, where frames carry no number', () => {
  let time: VirtualTime;
  beforeEach(() => (time = new VirtualTime()));
  afterEach(() => time.end());

  const ways = [
    { isCareless: false, knowsEcho: true, what: 'a device that does one thing after the other' },
    { isCareless: false, knowsEcho: false, what: 'a device that stays silent to function 8' },
    { isCareless: true, knowsEcho: true, what: 'a device that works on several questions at a time' },
  ];
  for (const { what, ...how } of ways) {
    for (const tries of [1, 2]) {
      it(`are never taken for the answer to another question: ${what}, ${tries} tries`, async () => {
        const random = numbers(7 + tries);
        const device = new LateDevice(random, { fromMs: 0.5 * TIMEOUT_MS, toMs: 1.5 * TIMEOUT_MS });
        const transport = new ChannelTransport(() => Promise.resolve(new LateChannel(device, how)), 'rtu');
        let late = 0;
        transport.onStray = (_frame, afterMs) => (late += Number(afterMs! > TIMEOUT_MS));
        const asked = askLateDevice(transport, device, { exchanges: 300, random, unitId: UNIT, timeoutMs: TIMEOUT_MS, tries });
        const { answered, wrong } = await time.during(asked, 200_000);
        expect(wrong).toEqual([]);
        expect(answered).toBeGreaterThan(60);
        expect(late).toBeGreaterThan(20);
      });
    }
  }

  it('are never taken for the answer to another question on a simulated line, as a gateway asks there', async () => {
    const random = numbers(3);
    const line = new VirtualLine({ baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 });
    const device = new LateDevice(random, { fromMs: 0.5 * TIMEOUT_MS, toMs: 1.5 * TIMEOUT_MS });
    const respond = async (_unit: number, pdu: Uint8Array) => {
      await new Promise((done) => setTimeout(done, device.delayMs()));
      return device.answer(pdu);
    };
    new LineServer(line, respond, { unitId: UNIT, delayMs: 0 }).start();
    const transport = new LineTransport(line);
    let late = 0;
    transport.onStray = () => (late += 1);
    const asked = askLateDevice(transport, device, { exchanges: 150, random, unitId: UNIT, timeoutMs: TIMEOUT_MS, tries: 2 });
    const { answered, wrong } = await time.during(asked, 100_000);
    expect(wrong).toEqual([]);
    expect(answered).toBeGreaterThan(40);
    expect(late).toBeGreaterThan(10);
  });

  it('cost nothing where none come: each question leaves once, and at once', async () => {
    const device = new LateDevice(numbers(1), { fromMs: 3, toMs: 3 });
    const channel = new LateChannel(device, { isCareless: false, knowsEcho: true });
    const writes = spyOn(channel, 'write').and.callThrough();
    const transport = new ChannelTransport(() => Promise.resolve(channel), 'rtu');
    const from = performance.now();
    const asked = askLateDevice(transport, device, { exchanges: 50, random: numbers(2), unitId: UNIT, timeoutMs: TIMEOUT_MS, tries: 1 });
    const { answered } = await time.during(asked, 1000);
    expect([answered, writes.calls.count()]).toEqual([50, 50]);
    expect(performance.now() - from).toBeLessThan(50 * 4 + 5);
  });
});
