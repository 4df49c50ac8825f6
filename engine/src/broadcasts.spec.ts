import { codecOf } from '@plain-envoy/core/codec';
import { type SerialSettings } from '@plain-envoy/core/line';
import { cable } from './cable.spec-helper.js';
import { ask, type Ask } from './client/index.js';
import { gatewayResponder } from './gateway/index.js';
import {
  ChannelTransport,
  type ClientTransport,
  type Frames,
  LineTransport,
  openSerialPort,
  TcpTransport,
  VirtualLine,
} from './links/index.js';
import { answerPdu, ChannelServer, LineServer, ModbusTcpServer, RegisterBank, type Responder } from './server/index.js';

const settings: SerialSettings = { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 };
const TURNAROUND_MS = 60;
const toAll: Ask = {
  functionCode: 16,
  offset: 3,
  count: 2,
  values: [615, 734],
  unitId: 0,
  timeoutMs: 500,
  tries: 1,
  turnaroundMs: TURNAROUND_MS,
};
const sent = { kind: 'written', isUnconfirmed: true };

/** Three devices on a line, and one that asks there. */
function lineOfThree(framing: 'rtu' | 'ascii') {
  const line = new VirtualLine(settings, framing);
  const banks = [7, 8, 9].map((unitId) => {
    const bank = new RegisterBank({ holding: 10 });
    new LineServer(line, (_unit, pdu) => answerPdu(bank, pdu), { unitId, delayMs: 0 }).start();
    return bank;
  });
  const held = () => banks.map((bank) => [...bank.slice('holding', 3, 2)]);
  return { line, held, master: new LineTransport(line) };
}

for (const framing of ['rtu', 'ascii'] as const)
  describe(`a broadcast over ${framing}`, () => {
    it('is taken by every unit, awaits no answer, and keeps the turnaround before the next question', async () => {
      const { line, held, master } = lineOfThree(framing);
      const from = performance.now();
      const next: Promise<number>[] = [];
      const told = ask(master, toAll);
      next.push(ask(master, { ...toAll, functionCode: 3, unitId: 8, turnaroundMs: null }).then(() => performance.now() - from));
      expect(await told).toEqual(sent as never);
      expect(held()).toEqual([1, 2, 3].map(() => [615, 734]));
      expect(await next[0]).toBeGreaterThan(TURNAROUND_MS);
      line.close();
    });

    it('gets past a gateway that passes unit 0 on, and holds its line as long', async () => {
      const { line, held, master } = lineOfThree(framing);
      const { client, server } = await behind(
        gatewayResponder(master, { timeoutMs: 200, forwardedUnits: [{ first: 0, last: 9 }], turnaroundMs: TURNAROUND_MS }),
      );
      expect(await ask(client, toAll)).toEqual(sent as never);
      expect(held()).toEqual([1, 2, 3].map(() => [615, 734]));
      expect((await ask(client, { ...toAll, functionCode: 3, unitId: 8, turnaroundMs: null })).kind).toBe('values');
      client.close();
      await server.stop();
      line.close();
    });

    it('does not get past another, to which unit 0 is itself, and that is told', async () => {
      const { line, held, master } = lineOfThree(framing);
      for (const forwardedUnits of [[], [{ first: 1, last: 247 }]]) {
        const { client, server } = await behind(gatewayResponder(master, { timeoutMs: 200, forwardedUnits }));
        expect(await ask(client, toAll)).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 10 } });
        client.close();
        await server.stop();
      }
      expect(held()).toEqual([1, 2, 3].map(() => [0, 0]));
      line.close();
    });
  });

async function behind(respond: Responder): Promise<{ client: ClientTransport; server: ModbusTcpServer }> {
  const server = new ModbusTcpServer(respond, { host: '127.0.0.1', port: 0, connections: 4 });
  await server.start();
  return { client: new TcpTransport('127.0.0.1', server.port), server };
}

describe('a broadcast on a serial port', () => {
  it('leaves as a frame of unit 0, and is not waited for', async () => {
    const { a, b, cut } = await cable();
    const bank = new RegisterBank({ holding: 10 });
    const units: number[] = [];
    const server = new ChannelServer(
      await openSerialPort(b, settings),
      (unit, pdu) => {
        units.push(unit);
        return answerPdu(bank, pdu);
      },
      'rtu',
    );
    const client = new ChannelTransport(() => openSerialPort(a, settings), 'rtu', 1.75);
    const frames: Frames = { sent: null, got: null };
    expect(await client.tell(0, Uint8Array.of(6, 0, 4, 0, 9), TURNAROUND_MS, frames)).toEqual({ kind: 'sent' });
    expect([codecOf('rtu').inside(frames.sent!).unit, frames.got, units, bank.get('holding', 4)]).toEqual([0, null, [0], 9]);
    expect(await ask(client, { ...toAll, functionCode: 3, unitId: 5, turnaroundMs: null })).toEqual({ kind: 'values', values: [0, 9] });
    client.close();
    server.stop();
    await cut();
  });

  it('is told not to have left where there is no port', async () => {
    const client = new ChannelTransport(() => openSerialPort('/dev/none', settings), 'rtu');
    expect((await ask(client, toAll)).kind).toBe('failed');
    client.close();
    expect(await ask(client, toAll)).toEqual({ kind: 'failed', failure: { code: 'closed' } });
  });
});
