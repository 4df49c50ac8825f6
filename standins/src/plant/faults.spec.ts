import { fernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import { groupOf } from '@plain-envoy/core/failure';
import { blankFaults, type Fault } from '@plain-envoy/core/feed';
import { ask } from '@plain-envoy/engine/client';
import { TcpTransport, until } from '@plain-envoy/engine/links';
import { controlOf } from './control-of.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';

const demo = fernhollow();
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const [KILN, GATEWAY] = ['127.40.8.10', '127.40.8.30'];

describe('a fault on purpose', () => {
  let plant: Plant;
  let port: number;
  let transports: Map<string, TcpTransport>;
  const transport = (host: string) => {
    const known = transports.get(host) ?? new TcpTransport(host, port);
    transports.set(host, known);
    return known;
  };
  /** The kiln controller directly, the damper through its gateway. */
  const read = async (name: 'Kiln controller' | 'Exhaust damper', offset = name === 'Exhaust damper' ? 0 : 65, timeoutMs = 400) => {
    const [host, unitId] = name === 'Exhaust damper' ? [GATEWAY, 41] : [KILN, 255];
    const outcome = await ask(transport(host), { functionCode: 3, offset, count: 1, unitId, timeoutMs, tries: 1 });
    if (outcome.kind !== 'failed') return outcome.kind;
    const { failure } = outcome;
    return failure.code === 'exception' ? `exception ${failure.exception}` : groupOf(failure);
  };
  const set = async (name: string, ...faults: Fault[]) => {
    const payload = { faults };
    const answer = await controlOf(plant).inject({ method: 'PUT', url: `/stand-ins/${idOf(name)}/faults`, payload });
    expect(answer.statusCode).toBe(200);
  };

  beforeEach(async () => {
    transports = new Map();
    port = await freePort(KILN);
    plant = new Plant(wiringOf(demo), port);
    await plant.start();
  });
  afterEach(async () => {
    for (const each of transports.values()) each.close();
    await plant.stop();
  });

  /** What one fault makes of a read: of a device on Ethernet, and of one behind a gateway, which tells what it heard. */
  const cases: [Fault, ethernet: string, serial: string][] = [
    [blankFaults.silent, 'no answer', 'exception 11'],
    [{ kind: 'lost', percent: 100 }, 'no answer', 'exception 11'],
    [{ kind: 'damaged', percent: 100 }, 'damaged', 'exception 11'],
    [blankFaults['wrong unit'], 'damaged', 'exception 11'],
    [{ kind: 'late', ms: 700 }, 'no answer', 'exception 11'],
    [blankFaults['cut short'], 'damaged', 'exception 11'],
    [blankFaults.twice, 'values', 'exception 11'],
    [{ kind: 'exception', code: 6, table: 'holding', first: 0, last: 100 }, 'exception 6', 'exception 6'],
    [{ kind: 'slow', ms: 60, spreadMs: 20 }, 'values', 'values'],
    [blankFaults.frozen, 'values', 'values'],
  ];
  for (const [fault, ethernet, serial] of cases) {
    it(`${fault.kind}: is ${ethernet} on Ethernet, ${serial} on a bus, and over when it is taken away`, async () => {
      await set('Kiln controller', fault);
      await set('Exhaust damper', fault);
      expect(await read('Kiln controller')).toBe(ethernet);
      expect(await read('Exhaust damper', 0, 2000)).toBe(serial);
      await set('Kiln controller');
      await set('Exhaust damper');
      transport(KILN).close();
      transports.delete(KILN);
      expect(await read('Kiln controller')).toBe('values');
      // A device on a bus finishes first what it was asked before.
      if (fault.kind === 'late') {
        await until(performance.now() + fault.ms);
        const { late } = plant.member(idOf('Exhaust damper'))!;
        expect(late?.count).withContext('its gateway heard it').toBe(1);
        expect(late?.worstMs).toBeGreaterThanOrEqual(fault.ms);
      }
      expect(await read('Exhaust damper', 0, 2000)).toBe('values');
    });
  }

  it('exception: only for the span that it is for', async () => {
    await set('Kiln controller', { kind: 'exception', code: 2, table: 'holding', first: 65, last: 65 });
    expect([await read('Kiln controller', 65), await read('Kiln controller', 66)]).toEqual(['exception 2', 'values']);
  });

  it('frozen: answers what it answered, though writes arrive', async () => {
    const value = async () => {
      const outcome = await ask(transport(KILN), { functionCode: 3, offset: 130, count: 1, unitId: 255, timeoutMs: 400, tries: 1 });
      return outcome.kind === 'values' ? outcome.values[0] : outcome.kind;
    };
    const write = (to: number) =>
      ask(transport(KILN), { functionCode: 6, offset: 130, count: 1, values: [to], unitId: 255, timeoutMs: 400, tries: 1 });
    await write(7);
    await set('Kiln controller', blankFaults.frozen);
    expect([await value(), (await write(8)).kind, await value()]).toEqual([7, 'written', 7]);
    await set('Kiln controller');
    expect(await value()).toBe(8);
  });

  it('half-open: a connection that died without a word is given up and opened anew by who asks', async () => {
    expect(await read('Kiln controller')).toBe('values');
    await set('Kiln controller', blankFaults['half-open']);
    const outcomes: string[] = [];
    for (let tries = 0; tries < 20 && outcomes.at(-1) !== 'values'; tries++) outcomes.push(await read('Kiln controller', 65, 40));
    expect(outcomes[0]).toBe('no answer');
    expect(outcomes.at(-1)).toBe('values');
  });

  it('a reboot: it is away for a while, and holds what it held when it was new', async () => {
    await ask(transport(KILN), { functionCode: 6, offset: 130, count: 1, values: [9], unitId: 255, timeoutMs: 400, tries: 1 });
    await controlOf(plant).inject({ method: 'PUT', url: `/stand-ins/${idOf('Kiln controller')}/reboot`, payload: { ms: 150 } });
    transport(KILN).close();
    transports.delete(KILN);
    const seen: string[] = [];
    for (let tries = 0; tries < 100 && seen.at(-1) !== 'values'; tries++) {
      seen.push(await read('Kiln controller', 130, 100));
      await new Promise((done) => setTimeout(done, 20));
    }
    expect(seen).toContain('not connected');
    const after = await ask(transport(KILN), { functionCode: 3, offset: 130, count: 1, unitId: 255, timeoutMs: 400, tries: 1 });
    expect(after).toEqual({ kind: 'values', values: [0] });
    const fan = await ask(transport(KILN), { functionCode: 3, offset: 65, count: 1, unitId: 255, timeoutMs: 400, tries: 1 });
    expect(fan).toEqual({ kind: 'values', values: [412] });
  });

  it('is refused in words where it does not fit', async () => {
    const put = async (payload: object) => {
      const url = `/stand-ins/${idOf('Kiln controller')}/faults`;
      const answer = await controlOf(plant).inject({ method: 'PUT', url, payload });
      return [answer.statusCode, (answer.json() as { error: { message: string } }).error.message];
    };
    expect(await put({ faults: [{ kind: 'slow', ms: 0, spreadMs: 0 }] })).toEqual([422, 'At least 1 ms.']);
    expect((await put({ faults: [{ kind: 'haunted' }] }))[0]).toBe(422);
    expect((await put({ faults: [blankFaults.silent, blankFaults.silent] }))[1]).toBe('One fault of a kind at a time.');
  });
});
