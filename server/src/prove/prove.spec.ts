import { createServer } from 'node:net';
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fernhollow } from '@plain-envoy/core/demo';
import type { ProveEvent, ReadEvent } from '@plain-envoy/core/feed';
import { spansOf } from '@plain-envoy/core/library';
import { templateOf } from '@plain-envoy/core/model';
import { standInPort } from '@plain-envoy/core/plan';
import { answerPdu, ChannelServer, exception, ModbusTcpServer, RegisterBank } from '@plain-envoy/engine/server';
import { openSerialPort } from '@plain-envoy/engine/links';
import type { Service } from '../service.js';
import { eventually, makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const projectId = demo.project.id;
const deviceId = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const lineId = (name: string) => demo.lines.find((line) => line.name === name)!.id;
const PRESENT = [1, 2, 3, 4, 20];
/** A meter that nobody has designed. */
const UNKNOWN = 9;
const meter = templateOf(demo, deviceId('Plant meter'));

/** Two pseudo-terminals joined by socat, which stand for a serial port and what is at the far end of its line. */
async function cable(): Promise<{ near: string; far: string; cut(): Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'envoy-pty-'));
  const [near, far] = [join(folder, 'near'), join(folder, 'far')];
  const socat = spawn('socat', [`pty,raw,echo=0,link=${near}`, `pty,raw,echo=0,link=${far}`], { stdio: 'ignore' });
  await eventually(() => existsSync(near) && existsSync(far));
  return {
    near,
    far,
    async cut() {
      const ended = new Promise((done) => socat.once('exit', done));
      socat.kill();
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

describe('proofs', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;
  let controller: ModbusTcpServer;
  let gateway: ModbusTcpServer;
  let asked: number[];

  const post = (kind: string, body: object, signal?: AbortSignal) =>
    fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/prove/${kind}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ on: 'stand-ins', ...body }),
      ...(signal ? { signal } : {}),
    });
  const events = async (kind: string, body: object) =>
    (await (await post(kind, body)).text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as ProveEvent);
  const refusal = async (kind: string, body: object) => {
    const response = await post(kind, body);
    const { error } = (await response.json()) as { error: { message: string; path: unknown[] } };
    return [response.status, error.message, ...error.path];
  };
  const disarm = () => fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/bench/armed`, { method: 'DELETE' });
  const put = (path: string, body: object) =>
    fetch(`http://127.0.0.1:${service.port}/api/${path}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });

  beforeEach(async () => {
    asked = [];
    const bank = new RegisterBank({ holding: 512, coil: 512 });
    controller = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.40.8.10', port: 0, connections: 8 });
    await controller.start();
    gateway = new ModbusTcpServer(
      async (unit, pdu) => {
        asked.push(unit);
        if (unit === UNKNOWN)
          return answerPdu(
            new RegisterBank({ holding: spansOf(meter).map(({ first, count }) => [first, first + count - 1] as const) }),
            pdu,
          );
        if (PRESENT.includes(unit)) return answerPdu(bank, pdu);
        await new Promise((done) => setTimeout(done, 5));
        return exception(pdu[0]!, 11);
      },
      { host: '127.40.8.31', port: controller.port, connections: 4 },
    );
    await gateway.start();
    database = await makeDatabase();
    service = await serve(database.url, controller.port);
    const loft = demo.devices.find(({ name }) => name === 'Loft gateway')!;
    // A gateway that waits as long as this one does.
    const changes = [{ entity: 'device', id: loft.id, before: loft, after: { ...loft, timeoutMs: 20 } }];
    await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/change-sets`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ label: 'Faster', baseRevision: 0, changes }),
    });
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
    await gateway.stop();
    await controller.stop();
  });

  it('walk to a device, step by step, to a register that it is known to have', async () => {
    const steps = await events('reach', { deviceId: deviceId('Kiln controller') });
    expect(steps.map((step) => (step.kind === 'step' ? `${step.name} ${step.passed}` : step.kind))).toEqual([
      'network true',
      'connect true',
      'answer true',
      'identify true',
      'register true',
      'open true',
    ]);
    expect(steps.at(-2)).toEqual(jasmine.objectContaining({ sentence: jasmine.stringContaining('holds 0.') }));
    expect(steps.at(-1)).toEqual(jasmine.objectContaining({ sentence: jasmine.stringContaining('It answers 16 at a time') }));
    const nobody = await events('reach', { deviceId: deviceId('Burner control') });
    expect(nobody.at(-1)).toEqual(
      jasmine.objectContaining({ name: 'connect', passed: false, sentence: jasmine.stringContaining('nothing listens') }),
    );
  });

  it('walk to a device on another TCP port as the bench asks it, and find it there in a sweep', async () => {
    const port = demo.ports.find((row) => row.kind === 'ethernet' && row.deviceId === deviceId('Burner control'))!;
    const bank = new RegisterBank({ holding: 512, coil: 512 });
    const burner = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), {
      ...{ host: '127.40.8.21', port: standInPort(503, controller.port), connections: 2 },
    });
    await burner.start();
    const changes = [{ entity: 'port', id: port.id, before: port, after: { ...port, tcpPort: 503 } }];
    await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/change-sets`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ label: 'Another port', baseRevision: 1, changes }),
    });
    const steps = await events('reach', { deviceId: deviceId('Burner control') });
    expect(steps.map((step) => (step.kind === 'step' ? `${step.name} ${step.passed}` : step.kind))).toContain('register true');
    const sweep = { lineId: lineId('Process net'), first: '10.40.8.20', last: '10.40.8.22', ports: [502, 503], timeoutMs: 300 };
    const found = (await events('hosts', sweep)).flatMap((event) => (event.kind === 'host' ? [`${event.ip} ${event.port}`] : []));
    expect(found).toEqual(['10.40.8.21 503']);
    await burner.stop();
  });

  it('sweep addresses of the plant where its stand-ins listen, and nothing else of this machine', async () => {
    let strangers = 0;
    const stranger = createServer((socket) => {
      strangers += 1;
      socket.destroy();
    });
    await new Promise<void>((done) => stranger.listen(controller.port, '127.40.8.55', done));
    const swept = await events('hosts', {
      lineId: lineId('Process net'),
      first: '10.40.8.1',
      last: '10.40.8.60',
      ports: [502],
      timeoutMs: 300,
    });
    const found = swept.flatMap((event) => (event.kind === 'host' ? [`${event.ip} ${event.state}`] : []));
    expect(found.sort()).toEqual(['10.40.8.10 answers', '10.40.8.31 open']);
    expect(strangers).withContext('what else listens on this machine is not touched').toBe(0);
    await new Promise((done) => stranger.close(done));
  });

  it('sweep unit IDs behind a gateway, and end at once when nobody listens any more', async () => {
    const sweep = { lineId: lineId('Loft bus'), first: 1, last: 30, timeoutMs: 200 };
    const swept = await events('units', sweep);
    expect(swept.flatMap((event) => (event.kind === 'unit' && event.state === 'answers' ? [event.unit] : []))).toEqual([
      1,
      2,
      3,
      4,
      UNKNOWN,
      20,
    ]);
    asked = [];
    const hangUp = new AbortController();
    const response = await post('units', { ...sweep, last: 247 }, hangUp.signal);
    await response.body!.getReader().read();
    hangUp.abort();
    let before = -1;
    await eventually(async () => {
      const still = asked.length === before;
      before = asked.length;
      await new Promise((done) => setTimeout(done, 60));
      return still;
    });
    expect(asked.length).toBeLessThan(247);
  });

  it('tell an unknown unit by the registers that it has, where the library has its map', async () => {
    const sweep = { lineId: lineId('Loft bus'), first: 1, last: 12, timeoutMs: 200 };
    const told = async (also = {}) =>
      (await events('units', { ...sweep, ...also })).flatMap((event) =>
        event.kind === 'unit' && event.state === 'answers' ? [[event.unit, event.registers]] : [],
      );
    expect((await told()).map(([, registers]) => registers))
      .withContext('nothing is kept yet')
      .toEqual([null, null, null, null, null]);
    const kept = await fetch(`http://127.0.0.1:${service.port}/api/library`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ template: meter }),
    });
    const { id } = (await kept.json()) as { id: string };
    asked = [];
    expect(await told()).toEqual([
      ...[1, 2, 3, 4].map((unit) => [unit, null]),
      [UNKNOWN, { like: [{ id, name: 'Plant meter', version: 1 }], sentence: jasmine.stringContaining('registers of Plant meter') }],
    ] as never);
    const looked = asked.filter((unit) => unit === UNKNOWN).length;
    asked = [];
    expect((await told({ registers: false })).at(-1)).toEqual([UNKNOWN, null]);
    expect(asked.filter((unit) => unit === UNKNOWN).length).toBeLessThan(looked);
  });

  it('read any span of a device, and refuse one that no table has', async () => {
    const span = { deviceId: deviceId('Kiln controller'), table: 'holding', first: 500, count: 20 };
    const told = (await events('read', span)) as unknown as ReadEvent[];
    expect(told.flatMap((event) => (event.kind === 'words' ? event.words : [])).length).toBe(12);
    expect(told.filter(({ kind }) => kind === 'refused').length).toBe(8);
    expect(await refusal('read', { ...span, first: 65_530 })).toEqual([422, 'A table ends at offset 65535.', 'count']);
    expect((await refusal('read', { ...span, on: 'real' }))[0]).toBe(403);
  });

  it('refuse what makes no sense, each at its field', async () => {
    const units = { lineId: lineId('Loft bus'), first: 9, last: 3, timeoutMs: 200 };
    expect(await refusal('units', units)).toEqual([422, 'The last unit ID, 3, comes before the first, 9.', 'last']);
    expect(await refusal('units', { ...units, first: 0 })).toEqual([422, 'Unit IDs on a line are 1 to 247.', 'first']);
    expect((await refusal('units', { ...units, last: 20, lineId: lineId('Moisture cable') }))[1]).toContain('carries text, not Modbus');
    const hosts = { lineId: lineId('Process net'), first: '10.40.8.1', last: '10.40.8.2', ports: [502], timeoutMs: 200 };
    expect((await refusal('hosts', { ...hosts, last: '10.41.8.2' }))[1]).toContain('one sweep tries at most 8192');
    expect(await refusal('hosts', { ...hosts, ports: [70_000] })).toEqual([422, 'TCP ports end at 65535.', 'ports', 0]);
  });

  it('go to the real plant only when a person has armed it, and stay on its network', async () => {
    const hosts = { on: 'real', lineId: lineId('Process net'), first: '10.41.0.1', last: '10.41.0.2', ports: [502], timeoutMs: 50 };
    expect((await refusal('hosts', hosts)).slice(0, 2)).toEqual([403, jasmine.stringContaining('Real lines are not armed') as never]);
    expect((await put(`projects/${projectId}/armed`, { minutes: 5 })).status).toBe(200);
    expect((await refusal('hosts', hosts))[1]).toBe('A sweep stays on Process net, 10.40.8.0/24.');
    const search = { on: 'real', lineId: lineId('Kiln bus'), unitId: 12, timeoutMs: 50 };
    expect((await refusal('settings', search))[1]).toContain('is not bound to a serial port');
    await disarm();
    expect((await refusal('hosts', hosts))[0]).toBe(403);
  });

  it('go out on a serial port of this machine that a line is bound to', async () => {
    const pair = await cable();
    const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
    const bank = new RegisterBank({ holding: 16, input: 16 });
    const device = new ChannelServer(
      await openSerialPort(pair.far, settings),
      (unit, pdu) => (unit === 12 ? answerPdu(bank, pdu) : null),
      'rtu',
    );
    const bus = demo.lines.find(({ name }) => name === 'Kiln bus')!;
    await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/change-sets`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        label: 'Bind',
        baseRevision: 1,
        changes: [{ entity: 'line', id: bus.id, before: bus, after: { ...bus, boundTo: pair.near } }],
      }),
    });
    await put(`projects/${projectId}/armed`, { minutes: 5 });
    const swept = await events('units', { on: 'real', lineId: bus.id, first: 10, last: 14, timeoutMs: 400 });
    expect(swept.flatMap((event) => (event.kind === 'unit' ? [event.unit] : []))).toEqual([12]);
    const walked = await events('reach', { on: 'real', deviceId: deviceId('Fan drive south') });
    expect(walked.map((event) => event.kind === 'step' && [event.name, event.passed])).toEqual([
      ['answer', true],
      ['identify', true],
      ['register', true],
    ]);
    const hangUp = new AbortController();
    const search = await post('settings', { on: 'real', lineId: bus.id, unitId: 12, timeoutMs: 400 }, hangUp.signal);
    const reader = search.body!.pipeThrough(new TextDecoderStream()).getReader();
    let told = '';
    while (!told.includes('"settings"')) told += (await reader.read()).value ?? '';
    hangUp.abort();
    expect(told).toContain('"text":"19200 8E1","valid":true');
    const free = async () =>
      (await events('units', { on: 'real', lineId: bus.id, first: 12, last: 12, timeoutMs: 400 })).at(-1)?.kind === 'done';
    await eventually(free);
    const long = events('units', { on: 'real', lineId: bus.id, first: 100, last: 140, timeoutMs: 400 });
    await new Promise((done) => setTimeout(done, 600));
    await disarm();
    expect((await long).at(-1)).toEqual({ kind: 'failed', sentence: 'What was allowed on the real plant is over, so it ended here.' });
    device.stop();
    await pair.cut();
  });

  it('do not search for settings on a line that the bench is asking', async () => {
    const run = `http://127.0.0.1:${service.port}/api/projects/${projectId}/bench/run`;
    await fetch(run, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
    const search = { lineId: lineId('Kiln bus'), unitId: 12, timeoutMs: 50 };
    expect((await refusal('settings', search)).slice(0, 2)).toEqual([409, jasmine.stringContaining('Stop the bench first') as never]);
  });

  it('list the serial ports of this machine', async () => {
    const response = await fetch(`http://127.0.0.1:${service.port}/api/machine/serial-ports`);
    expect(response.status).toBe(200);
    expect(Array.isArray(await response.json())).toBeTrue();
  });
});
