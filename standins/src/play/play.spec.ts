import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { tcpFrame } from '@plain-envoy/core/codec';
import { recordedExchange, SmallProject } from '@plain-envoy/core/testing';
import { writePcapng } from '@plain-envoy/core/trace';
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../plant/free-port.spec-helper.js';
import { comesTrue } from '../plant/comes-true.spec-helper.js';
import { lentLines, play } from './index.js';

const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default;
const program = 'PROGRAM P Level := Level + 1; END_PROGRAM';

describe('stand-ins that are played for others', () => {
  let project: SmallProject;
  let port: number;
  let played: Awaited<ReturnType<typeof play>> | null;
  const wish = (also = {}) => ({ port, host: null, serial: [], ...also });

  beforeEach(async () => {
    played = null;
    project = new SmallProject();
    const net = project.net('Net', { network: '10.93.4.0/24' });
    const bus = project.bus('Pump bus');
    const tank = project.device('Tank', { standIn: BY_ITS_MAP, program });
    project.port(tank, net, { ip: '10.93.4.5', standInAddress: '127.93.4.5' });
    project.point(tank, 'Level', { offset: 0 });
    project.gateway('Gateway', net, bus, { standIn: 'gateway' });
    for (const [name, unitId] of [
      ['Pump 1', 11],
      ['Pump 2', 12],
    ] as const) {
      const pump = project.device(name, { standIn: BY_ITS_MAP, program });
      project.port(pump, bus, { unitId });
      project.point(pump, 'Level', { offset: 0 });
    }
    port = await freePort('127.93.4.5');
  });
  afterEach(() => played?.stop());

  it('say who listens where, and answer a client of other hands while their programs run', async () => {
    played = await play(project.document, wish());
    const places = played.answering.map(({ device, at }) => `${device} ${at}`);
    expect(places).toContain(`Tank 127.93.4.5:${port}, any unit`);
    expect(places.some((place) => /^Pump 2 127\.\d+\.\d+\.\d+:\d+, unit 12$/.test(place)))
      .withContext(places.join('; '))
      .toBeTrue();
    const client = new ModbusRTU();
    await client.connectTCP('127.93.4.5', { port });
    client.setID(255);
    const level = async () => (await client.readHoldingRegisters(0, 1)).data[0]!;
    const first = await level();
    let last = first;
    expect(await comesTrue(() => (void level().then((now) => (last = now)), last > first + 3), 3000)).toBeTrue();
    client.close(() => undefined);
  });

  it('are all at one address where that is wanted, each at a port of its own', async () => {
    played = await play(project.document, wish({ host: '127.93.4.9' }));
    const own = played.answering.filter(({ at }) => !at.includes('unit 1')).map(({ at }) => at.split(',')[0]);
    expect(own).toEqual([`127.93.4.9:${port}`, `127.93.4.9:${port + 1}`]);
  });

  it('answer as was recorded, refusals and silence and times too, out of what is attached to their device', async () => {
    const who = { endpointId: '10.93.4.5:502', unit: 1 };
    const refused = { end: 'refused' as const, got: tcpFrame(1, { unit: 1, pdu: Uint8Array.of(0x83, 2) }), ms: 1 };
    const recorded = [
      recordedExchange({ ...who, atMs: 1000, ms: 120 }, 5, [700, 800]),
      recordedExchange({ ...who, atMs: 1500, ...refused }, 6, [1]),
      recordedExchange({ ...who, atMs: 60_000, ms: 5 }, 9, [1]),
    ];
    const bytes = writePcapng(recorded, () => ({ ip: '10.93.4.5', port: 502 }));
    const tank = project.document.devices.find(({ name }) => name === 'Tank')!;
    const attachment = {
      deviceId: tank.id,
      name: 'tank.pcapng',
      at: '2026-01-01T00:00:00Z',
      by: null,
      base64: Buffer.from(bytes).toString('base64'),
    };
    tank.recording = { file: 'tank.pcapng', ...who };
    played = await play(project.document, wish(), [attachment]);
    expect(played.silent).toEqual([]);
    const client = new ModbusRTU();
    await client.connectTCP('127.93.4.5', { port });
    client.setID(1);
    const from = performance.now();
    expect((await client.readHoldingRegisters(5, 2)).data).toEqual([700, 800]);
    expect(performance.now() - from).toBeGreaterThan(110);
    expect((await client.readHoldingRegisters(9, 1)).data).toEqual([1]);
    const codeOf = (offset: number) =>
      client.readHoldingRegisters(offset, 1).then(
        () => 0,
        ({ modbusCode }: { modbusCode: number }) => modbusCode,
      );
    expect([await codeOf(6), await codeOf(50)]).toEqual([2, 2]);
    client.close(() => undefined);
    await played.stop();
    played = await play(project.document, wish());
    expect(played.silent).toEqual([{ device: 'Tank', why: 'The recording “tank.pcapng” is not attached to this device any more.' }]);
  });

  it('answer on a serial port as the devices of a line would, and are silent where nobody is', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'envoy-play-'));
    const [near, far] = [join(folder, 'near'), join(folder, 'far')];
    const socat = spawn('socat', [`pty,raw,echo=0,link=${near}`, `pty,raw,echo=0,link=${far}`], { stdio: 'ignore' });
    expect(await comesTrue(() => existsSync(near) && existsSync(far), 3000)).toBeTrue();
    played = await play(project.document, wish({ serial: [{ line: 'pump bus', path: far }] }));
    expect(played.answering.filter(({ at }) => at.startsWith(far)).map(({ device, at }) => `${device} ${at.split(', ')[1]}`)).toEqual([
      'Pump 1 unit 11',
      'Pump 2 unit 12',
    ]);
    const controller = new ModbusRTU();
    await controller.connectRTUBuffered(near, { baudRate: 19_200, parity: 'even' });
    controller.setTimeout(2500);
    controller.setID(12);
    expect((await controller.readHoldingRegisters(0, 1)).data[0]).toBeGreaterThan(0);
    expect(await controller.readHoldingRegisters(5, 1).catch(({ modbusCode }: { modbusCode: number }) => modbusCode)).toBe(2);
    controller.setID(13);
    expect(await controller.readHoldingRegisters(0, 1).catch(({ name }: Error) => name)).toBe('TransactionTimedOutError');
    controller.setID(11);
    expect((await controller.readHoldingRegisters(0, 1)).data.length).toBe(1);
    await new Promise((closed) => controller.close(closed));
    await played.stop();
    played = null;
    const ended = new Promise((done) => socat.once('exit', done));
    socat.kill();
    await ended;
    rmSync(folder, { recursive: true, force: true });
  });

  it('send and take text on a serial port as the devices of its line would', async () => {
    const cable = project.bus('Scale cable', { framing: 'text', standard: 'rs232' });
    const scale = project.device('Scale', {
      standIn: BY_ITS_MAP,
      program: "PROGRAM P VAR got : STRING; END_VAR got := RECEIVED(); IF got = 'W$R' THEN SEND('  18405 kg$R$L'); END_IF; END_PROGRAM",
    });
    project.port(scale, cable, { framing: 'text', unitId: null });
    const folder = mkdtempSync(join(tmpdir(), 'envoy-play-'));
    const [near, far] = [join(folder, 'near'), join(folder, 'far')];
    const socat = spawn('socat', [`pty,raw,echo=0,link=${near}`, `pty,raw,echo=0,link=${far}`], { stdio: 'ignore' });
    expect(await comesTrue(() => existsSync(near) && existsSync(far), 3000)).toBeTrue();
    played = await play(project.document, wish({ serial: [{ line: 'scale cable', path: far }] }));
    expect(played.answering.find(({ device }) => device === 'Scale')?.at).toBe(`${far}, text`);
    const terminal = spawn('socat', ['-', `${near},raw,echo=0`]);
    let shown = '';
    terminal.stdout.on('data', (text: Buffer) => (shown += text.toString()));
    terminal.stdin.write('W\r');
    expect(await comesTrue(() => shown.includes('  18405 kg\r\n'), 3000))
      .withContext(shown)
      .toBeTrue();
    await played.stop();
    played = null;
    for (const own of [terminal, socat]) {
      const ended = new Promise((done) => own.once('exit', done));
      own.kill();
      await ended;
    }
    rmSync(folder, { recursive: true, force: true });
  });

  it('refuse a line that is none, and leave nothing listening where a serial port is not there', async () => {
    const refused = lentLines(project.document, [{ line: 'Pomp bus', path: '/dev/x' }]);
    expect(refused.ok ? '' : refused.problem.message).toBe('“Pomp bus” is no serial line of this project. Its serial lines: Pump bus.');
    await expectAsync(play(project.document, wish({ serial: [{ line: 'Pump bus', path: '/dev/tty-not-there' }] }))).toBeRejectedWithError(
      /tty-not-there cannot be opened/,
    );
    played = await play(project.document, wish());
    expect(played.answering.length).toBe(4);
  });
});
