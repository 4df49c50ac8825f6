import { answerPdu, ModbusTcpServer, RegisterBank, LineServer, type Responder } from '../server/index.js';
import { ask, type Ask } from '../client/index.js';
import { LineTransport, TcpTransport, VirtualLine } from '../links/index.js';
import { gatewayResponder } from './index.js';
import { groupOf } from '@plain-envoy/core/failure';

const settings = { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
const read: Ask = { functionCode: 3, offset: 0, count: 2, unitId: 11, timeoutMs: 2000, tries: 1 };

describe('a gateway', () => {
  let line: VirtualLine;
  let server: ModbusTcpServer;
  let client: TcpTransport;
  const bank = new RegisterBank({ holding: 10 });

  beforeEach(async () => {
    bank.set('holding', 0, 615, 734);
    line = new VirtualLine(settings);
    const device: Responder = (_unit, pdu) => answerPdu(bank, pdu);
    new LineServer(line, device, { unitId: 11, delayMs: 0 }).start();
    const respond = gatewayResponder(new LineTransport(line), { timeoutMs: 400, forwardedUnits: [{ first: 11, last: 12 }] });
    server = new ModbusTcpServer(respond, { host: '127.0.0.1', port: 0, connections: 4 });
    await server.start();
    client = new TcpTransport('127.0.0.1', server.port);
  });

  afterEach(async () => {
    client.close();
    await server.stop();
    line.close();
  });

  it('passes a request on by its unit ID and the answer back', async () => {
    expect(await ask(client, read)).toEqual({ kind: 'values', values: [615, 734] });
    expect(await ask(client, { ...read, functionCode: 6, offset: 3, count: 1, values: [77] })).toEqual({ kind: 'written' });
    expect(bank.get('holding', 3)).toBe(77);
  });

  it('passes the device’s own exceptions on', async () => {
    expect(await ask(client, { ...read, offset: 9 })).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 2 } });
  });

  it('answers exception 11 for a unit that stays silent, and 10 for one that it has no way to', async () => {
    expect(await ask(client, { ...read, unitId: 12 })).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 11 } });
    expect(await ask(client, { ...read, unitId: 13 })).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 10 } });
    expect(await ask(client, { ...read, unitId: 0 })).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 10 } });
  });

  it('answers exception 10 when its line is closed', async () => {
    line.close();
    expect(await ask(client, read)).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 10 } });
  });

  it('serves questions that come at once one after the other', async () => {
    const answers = await Promise.all(Array.from({ length: 8 }, () => ask(client, read)));
    expect(answers.every((answer) => answer.kind === 'values')).toBeTrue();
  });
});

describe('two devices with one unit ID', () => {
  it('damage each other’s answers', async () => {
    const line = new VirtualLine(settings);
    const banks = [new RegisterBank({ holding: 4 }), new RegisterBank({ holding: 4 })];
    for (const bank of banks) new LineServer(line, (_unit, pdu) => answerPdu(bank, pdu), { unitId: 5, delayMs: 0 }).start();
    const outcome = await ask(new LineTransport(line), { ...read, unitId: 5, timeoutMs: 100 });
    expect(outcome.kind === 'failed' && groupOf(outcome.failure)).toBe('damaged');
    line.close();
  });
});
