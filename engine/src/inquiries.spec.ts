import type { Fact, InquiryAsk } from '@plain-envoy/core/codec';
import { type SerialSettings } from '@plain-envoy/core/line';
import { ask, inquire, type InquiryResult } from './client/index.js';
import { gatewayResponder } from './gateway/index.js';
import { type ClientTransport, LineTransport, TcpTransport, VirtualLine } from './links/index.js';
import {
  answerInquiry,
  answerPdu,
  BusCounters,
  type DeviceSelf,
  FileStore,
  LineServer,
  ModbusTcpServer,
  RegisterBank,
  type Responder,
} from './server/index.js';

const settings: SerialSettings = { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 };
const UNIT = 11;

function itself(objects: ReadonlyMap<number, string> = new Map([[0, 'Works']])): DeviceSelf {
  return { bank: new RegisterBank({ holding: 60, coil: 4 }), files: new FileStore(2), serverId: 'Pump', objects };
}

function responder(self: DeviceSelf, counters: BusCounters | null): Responder {
  return (_unit, pdu) => answerInquiry(self, counters, pdu) ?? answerPdu(self.bank, pdu);
}

const asking = (transport: ClientTransport, question: InquiryAsk, timeoutMs = 300): Promise<InquiryResult> =>
  inquire(transport, { ask: question, unitId: UNIT, timeoutMs, tries: 1 });
const factsOf = (result: InquiryResult): Fact[] | string => (result.kind === 'told' ? result.facts : result.failure.code);
const lastValue = async (answer: Promise<InquiryResult>) => {
  const facts = factsOf(await answer);
  return typeof facts === 'string' ? facts : facts.at(-1)?.value;
};
const exceptionOf = async (answer: Promise<InquiryResult>) => {
  const result = await answer;
  return result.kind === 'failed' && result.failure.code === 'exception' ? result.failure.exception : null;
};
const diagnostics = (sub: number, data = 0): InquiryAsk => ({ functionCode: 8, sub, data });

for (const framing of ['rtu', 'ascii'] as const)
  describe(`a device behind a gateway, asked about itself over ${framing}`, () => {
    let line: VirtualLine;
    let server: ModbusTcpServer;
    let client: TcpTransport;
    let counters: BusCounters;
    let self: DeviceSelf;

    beforeEach(async () => {
      line = new VirtualLine(settings, framing);
      [self, counters] = [itself(), new BusCounters()];
      new LineServer(line, responder(self, counters), { unitId: UNIT, delayMs: 0, counters }).start();
      new LineServer(line, responder(itself(), null), { unitId: UNIT + 1, delayMs: 0 }).start();
      const respond = gatewayResponder(new LineTransport(line), { timeoutMs: 60 });
      server = new ModbusTcpServer(respond, { host: '127.0.0.1', port: 0, connections: 4 });
      await server.start();
      client = new TcpTransport('127.0.0.1', server.port);
    });
    afterEach(async () => {
      client.close();
      await server.stop();
      line.close();
    });

    it('answers each function of the standard', async () => {
      self.bank.set('coil', 0, 1, 0, 1);
      self.bank.set('holding', 20, 2, 440, 4740);
      expect(factsOf(await asking(client, { functionCode: 7 }))).toEqual([{ name: 'exception status', text: 'bits 0, 2', value: 5 }]);
      expect(await lastValue(asking(client, diagnostics(0, 0xa537)))).toBe(0xa537);
      expect(factsOf(await asking(client, { functionCode: 17 }))).toEqual([
        { name: 'server ID', text: 'Pump', value: null },
        { name: 'run indicator', text: 'runs', value: 255 },
      ]);
      expect(await lastValue(asking(client, { functionCode: 21, file: 2, record: 9998, values: [7, 8] }))).toBe(2);
      expect(factsOf(await asking(client, { functionCode: 20, file: 2, record: 9997, count: 3 }))).toEqual(
        [0, 7, 8].map((value, at) => ({ name: `record ${9997 + at}`, text: String(value), value })),
      );
      expect(await lastValue(asking(client, { functionCode: 24, offset: 20 }))).toBe(4740);
      expect(factsOf(await asking(client, { functionCode: 43, level: 'basic', object: 0 }))).toEqual([
        { name: 'vendor', text: 'Works', value: null },
      ]);
      expect(await lastValue(asking(client, { functionCode: 11 })))
        .withContext('commands carried out, this one not among them')
        .toBe(7);
      const log = factsOf(await asking(client, { functionCode: 12 }));
      expect(typeof log === 'string' ? log : log[3]!.text).toMatch(/^received; sent; received; sent/);
    });

    it('refuses what is not there, or is asked wrongly, with the exception of the standard', async () => {
      expect(await exceptionOf(asking(client, { functionCode: 20, file: 3, record: 0, count: 1 }))).toBe(2);
      expect(await exceptionOf(asking(client, { functionCode: 20, file: 1, record: 9999, count: 2 }))).toBe(2);
      expect(await exceptionOf(asking(client, { functionCode: 24, offset: 60 }))).toBe(2);
      self.bank.set('holding', 0, 32);
      expect(await exceptionOf(asking(client, { functionCode: 24, offset: 0 })))
        .withContext('more than 31 in the queue')
        .toBe(3);
      expect(await exceptionOf(asking(client, diagnostics(3, 0x3b00))))
        .withContext('a sub-function that it does not have')
        .toBe(1);
      expect(await exceptionOf(asking(client, diagnostics(11, 1)))).toBe(3);
    });

    it('counts what it hears, answers and refuses, and forgets it when it is told to', async () => {
      const count = (sub: number) => lastValue(asking(client, diagnostics(sub)));
      for (let turn = 0; turn < 3; turn++) await asking(client, diagnostics(0, turn));
      await asking(client, { functionCode: 20, file: 9, record: 0, count: 1 });
      await inquire(client, { ask: { functionCode: 43, level: 'basic', object: 0 }, unitId: UNIT + 1, timeoutMs: 300, tries: 1 });
      expect(await count(14))
        .withContext('messages to it, this one among them')
        .toBe(5);
      expect(await count(13)).toBe(1);
      expect(await count(11))
        .withContext('messages on the line, and what the other answers')
        .toBe(5 + 1 + 2 + 1);
      expect([await count(12), await count(15), await count(18)]).toEqual([0, 0, 0]);
      counters.heardDamage();
      expect(await count(12)).toBe(1);
      await asking(client, diagnostics(10));
      expect([await count(12), await count(13)]).toEqual([0, 0]);
    });

    it('falls silent when it is told to listen only, and comes back when its communications are restarted', async () => {
      expect(await asking(client, diagnostics(4)))
        .withContext('nothing is answered to that')
        .toEqual({ kind: 'told', facts: [] });
      expect(await exceptionOf(asking(client, diagnostics(0, 1)))).toBe(11);
      const write = { functionCode: 6, offset: 5, count: 1, values: [77], unitId: UNIT, timeoutMs: 300, tries: 1 };
      expect((await ask(client, write)).kind).toBe('failed');
      expect(self.bank.get('holding', 5)).withContext('it does nothing either').toBe(0);
      expect(await exceptionOf(asking(client, diagnostics(1))))
        .withContext('the restart itself is not answered')
        .toBe(11);
      expect(await lastValue(asking(client, diagnostics(0, 9)))).toBe(9);
      expect(await lastValue(asking(client, { functionCode: 11 })))
        .withContext('the restart and the echo')
        .toBe(2);
    });
  });

describe('a device over Ethernet, asked about itself', () => {
  let server: ModbusTcpServer;
  let client: TcpTransport;

  const serve = async (self: DeviceSelf) => {
    server = new ModbusTcpServer(responder(self, null), { host: '127.0.0.1', port: 0, connections: 4 });
    await server.start();
    client = new TcpTransport('127.0.0.1', server.port);
  };
  afterEach(async () => {
    client.close();
    await server.stop();
  });

  it('has none of the functions of serial lines', async () => {
    await serve(itself());
    for (const question of [
      { functionCode: 7 },
      diagnostics(11),
      { functionCode: 11 },
      { functionCode: 12 },
      { functionCode: 17 },
    ] as const)
      expect(await exceptionOf(asking(client, question)))
        .withContext(`${question.functionCode}`)
        .toBe(1);
    expect(await lastValue(asking(client, { functionCode: 20, file: 1, record: 0, count: 1 }))).toBe(0);
  });

  it('is asked on while more of its identification follows, and what was told is whole', async () => {
    const text = 'x'.repeat(90);
    const objects = new Map([0, 1, 2, 3, 4, 130].map((id) => [id, `${id} ${text}`] as const));
    await serve(itself(objects));
    const told = async (level: 'basic' | 'regular' | 'extended' | 'one', object = 0) =>
      factsOf(await asking(client, { functionCode: 43, level, object }));
    const names = (facts: Fact[] | string) => (typeof facts === 'string' ? facts : facts.map((fact) => fact.name));
    expect(names(await told('basic'))).toEqual(['vendor', 'product code', 'revision']);
    expect(names(await told('extended'))).toEqual(['vendor', 'product code', 'revision', 'vendor URL', 'product name', 'object 130']);
    expect(await told('one', 130)).toEqual([{ name: 'object 130', text: `130 ${text}`, value: null }]);
    expect(names(await told('regular', 3))).toEqual(['vendor URL', 'product name']);
    expect(names(await told('basic', 77)))
      .withContext('from an object that is not there: from the first')
      .toEqual(['vendor', 'product code', 'revision']);
    expect(await exceptionOf(asking(client, { functionCode: 43, level: 'one', object: 77 }))).toBe(2);
    const raw = async (...pdu: number[]) => {
      const answer = await client.exchange(UNIT, Uint8Array.from(pdu), 300);
      return answer.kind === 'answer' ? [...answer.pdu] : [];
    };
    expect([await raw(43, 14, 5, 0), await raw(43, 13, 1, 0), await raw(43, 14, 1)]).toEqual([
      [0xab, 3],
      [0xab, 1],
      [0xab, 3],
    ]);
    expect((await raw(43, 14, 3, 0)).slice(0, 7)).toEqual([43, 14, 3, 0x83, 0xff, 2, 2]);
  });
});
