import { asciiFrame, rtuFrame } from '@plain-envoy/core/codec';
import { silenceMs } from '@plain-envoy/core/line';
import { cable } from './cable.spec-helper.js';
import { ask, type Ask } from './client/index.js';
import { type Channel, ChannelTransport, openSerialPort } from './links/index.js';
import { answerPdu, ChannelServer, RegisterBank } from './server/index.js';

const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
const how = { unitId: 9, timeoutMs: 150, tries: 1 };
const read: Ask = { ...how, functionCode: 3, offset: 2, count: 2 };
const writes: Ask[] = [
  { ...how, functionCode: 5, offset: 1, count: 1, values: [1] },
  { ...how, functionCode: 6, offset: 1, count: 1, values: [77] },
  { ...how, functionCode: 22, offset: 1, count: 1, values: [0xff00, 0x0055] },
];

describe('asking on a serial port', () => {
  let pair: Awaited<ReturnType<typeof cable>>;
  let far: Channel;
  let transport: ChannelTransport;

  beforeEach(async () => {
    pair = await cable();
    far = await openSerialPort(pair.b, settings);
  });
  afterEach(async () => {
    transport.close();
    far.close();
    await pair.cut();
  });
  const near = (...rest: [silence?: number, echo?: 'cut away' | 'told']) =>
    (transport = new ChannelTransport(() => openSerialPort(pair.a, settings), 'rtu', ...rest));

  /** What an adapter that hears itself brings: first what was sent, then what the device answers, where there is one. */
  function hearsItself(bank: RegisterBank | null): void {
    let respond: (bytes: Uint8Array) => void = () => undefined;
    if (bank) {
      const behind: Channel = {
        write: (bytes) => far.write(bytes),
        listen: (onBytes) => void (respond = onBytes),
        close: () => undefined,
      };
      new ChannelServer(behind, (_unit, pdu) => answerPdu(bank, pdu), 'rtu');
    }
    far.listen(
      (bytes) => {
        void far.write(bytes);
        respond(Uint8Array.from(bytes));
      },
      () => undefined,
    );
  }

  it('tells that it hears itself, and takes no echo for the confirmation of a write: with no device there', async () => {
    hearsItself(null);
    near(0, 'told');
    for (const write of writes) {
      const ended = await ask(transport, write);
      expect(ended.kind === 'failed' && ended.failure.code)
        .withContext(String(write.functionCode))
        .toBe('own-echo');
    }
    const ended = await ask(transport, read);
    expect(ended.kind === 'failed' && ended.failure.code).toBe('own-echo');
  });

  it('shows no value of another question where it hears itself and a device answers after the echo', async () => {
    const bank = new RegisterBank({ holding: 20 });
    for (let offset = 0; offset < 20; offset++) bank.set('holding', offset, 100 + offset);
    hearsItself(bank);
    near(0, 'told');
    for (let offset = 0; offset < 12; offset++) {
      const ended = await ask(transport, { ...read, offset, count: 1, timeoutMs: 60 });
      if (ended.kind === 'values') expect(ended.values).toEqual([100 + offset]);
      else expect(ended.kind).toBe('failed');
    }
  });

  it('cuts its echo away where that is set: reads and writes are those of the device', async () => {
    const bank = new RegisterBank({ holding: 10, coil: 4 });
    bank.set('holding', 2, 615, 734);
    hearsItself(bank);
    near(0, 'cut away');
    for (let round = 0; round < 3; round++) {
      expect(await ask(transport, read)).toEqual({ kind: 'values', values: [615, 734] });
      for (const write of writes) expect(await ask(transport, write)).toEqual({ kind: 'written' });
    }
    expect([bank.get('holding', 1), bank.get('coil', 1)]).toEqual([(77 & 0xff00) | 0x55, 1]);
  });

  it('does not confirm a write with its echo where that is cut away and no device is there', async () => {
    hearsItself(null);
    near(0, 'cut away');
    for (const write of writes) {
      const ended = await ask(transport, write);
      expect(ended.kind === 'failed' && ended.failure.code).toBe('no-answer');
    }
  });

  it('confirms writes at once where it hears nothing of itself, after one read that tells', async () => {
    const bank = new RegisterBank({ holding: 10, coil: 4 });
    const asked: number[] = [];
    new ChannelServer(
      far,
      (_unit, pdu) => {
        asked.push(pdu[0]!);
        return answerPdu(bank, pdu);
      },
      'rtu',
    );
    near(0, 'told');
    for (const write of writes) expect(await ask(transport, write)).toEqual({ kind: 'written' });
    expect(asked).toEqual([3, 5, 6, 22]);
  });

  it('keeps the silence of 3.5 characters before each question', async () => {
    const bank = new RegisterBank({ holding: 10 });
    new ChannelServer(far, (_unit, pdu) => answerPdu(bank, pdu), 'rtu');
    const silence = silenceMs(settings);
    let heardAt = -Infinity;
    const gaps: number[] = [];
    transport = new ChannelTransport(
      async () => {
        const port = await openSerialPort(pair.a, settings);
        return {
          ...port,
          write: (bytes) => {
            gaps.push(performance.now() - heardAt);
            return port.write(bytes);
          },
          listen: (onBytes, onEnd) =>
            port.listen((bytes) => {
              heardAt = performance.now();
              onBytes(bytes);
            }, onEnd),
        };
      },
      'rtu',
      silence,
    );
    for (let number = 0; number < 10; number++) expect((await ask(transport, { ...read, timeoutMs: 500 })).kind).toBe('values');
    expect(Math.min(...gaps)).toBeGreaterThanOrEqual(silence - 0.01);
  });

  it('looks on until the timeout when another unit’s answer comes first, in the same piece', async () => {
    far.listen(
      () => {
        const answer = Uint8Array.of(3, 4, 0, 1, 0, 2);
        void far.write(Buffer.concat([rtuFrame({ unit: 8, pdu: answer }), rtuFrame({ unit: 9, pdu: answer })]));
      },
      () => undefined,
    );
    near();
    expect(await ask(transport, read)).toEqual({ kind: 'values', values: [1, 2] });
  });

  it('reads ASCII with pauses of up to a second between characters, after noise, and a frame that begins anew', async () => {
    const frame = asciiFrame({ unit: 9, pdu: Uint8Array.of(3, 4, 0, 1, 0, 2) });
    far.listen(
      () => {
        void (async () => {
          await far.write(Uint8Array.of(0, 0x55, 0x0a, ...frame.subarray(0, 7)));
          await new Promise((done) => setTimeout(done, 120));
          await far.write(frame.subarray(0, 5));
          await new Promise((done) => setTimeout(done, 300));
          await far.write(frame.subarray(5));
        })();
      },
      () => undefined,
    );
    transport = new ChannelTransport(() => openSerialPort(pair.a, settings), 'ascii');
    expect(await ask(transport, { ...read, timeoutMs: 2000 })).toEqual({ kind: 'values', values: [1, 2] });
  });
});
