import { groupOf } from '@plain-envoy/core/failure';
import { createRequire } from 'node:module';
import { fernhollow } from '@plain-envoy/core/demo';
import type { DeviceTelegram, Point, ProjectDocument } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { ask } from '@plain-envoy/engine/client';
import { ChannelTransport, openSocket, TcpTransport } from '@plain-envoy/engine/links';
import { comesTrue } from './comes-true.spec-helper.js';
import { controlOf } from './control-of.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';
import { type Port } from '@plain-envoy/core/media';

const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default;

const demo = fernhollow();
const CONTROLLER = '127.40.8.10';
const GATEWAY = '127.40.8.30';
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;

describe('the plant', () => {
  let plant: Plant;
  let port: number;
  const clients: InstanceType<typeof ModbusRTU>[] = [];
  const client = async (host: string, unit: number) => {
    const made = new ModbusRTU();
    await made.connectTCP(host, { port });
    made.setID(unit);
    made.setTimeout(2000);
    clients.push(made);
    return made;
  };

  beforeEach(async () => {
    port = await freePort(CONTROLLER);
    plant = new Plant(wiringOf(demo), port);
    await plant.start();
  });
  afterEach(async () => {
    for (const made of clients.splice(0)) await new Promise<void>((done) => made.close(() => done()));
    await plant.stop();
  });

  it('is read and written by a client of other hands, directly and through the gateway', async () => {
    const controller = await client(CONTROLLER, 255);
    expect((await controller.readHoldingRegisters(65, 1)).data).toEqual([412]);
    await controller.writeRegisters(40, [615, 480]);
    expect((await controller.readHoldingRegisters(40, 2)).data).toEqual([615, 480]);
    const bus = await client(GATEWAY, 21);
    expect((await bus.readInputRegisters(100, 2)).data).toEqual([204_117 & 0xffff, 204_117 >>> 16]);
    bus.setID(41);
    await bus.writeRegister(0, 300);
    expect((await bus.readHoldingRegisters(0, 1)).data).toEqual([300]);
  });

  it('answers exception 11 for a unit that nobody has', async () => {
    const bus = await client(GATEWAY, 99);
    const error = await bus.readHoldingRegisters(0, 1).catch((reason: unknown) => reason as { modbusCode: number });
    expect((error as { modbusCode: number }).modbusCode).toBe(11);
  });

  describe('through its control interface', () => {
    it('lists the stand-ins', async () => {
      const response = await controlOf(plant).inject('/stand-ins');
      expect((response.json() as { name: string }[]).map(({ name }) => name)).toEqual(
        demo.devices.filter(({ standIn }) => standIn).map(({ name }) => name),
      );
    });

    it('holds a register at a value until it is released', async () => {
      const control = controlOf(plant);
      const airOn = idOf('Air-on transmitter');
      const held = await control.inject({
        method: 'PUT',
        url: `/stand-ins/${airOn}/registers`,
        payload: { table: 'input', offset: 10, words: [0, 0x42c8] },
      });
      expect(held.statusCode).toBe(200);
      const bus = await client(GATEWAY, 21);
      expect((await bus.readInputRegisters(10, 2)).data).toEqual([0, 0x42c8]);
      await control.inject({ method: 'PUT', url: `/stand-ins/${airOn}/release`, payload: { table: 'input', offset: 10, count: 2 } });
      expect((await bus.readInputRegisters(10, 2)).data).not.toEqual([0, 0x42c8]);
    });

    it('cuts a device off its bus, or off its socket, and puts it back', async () => {
      const control = controlOf(plant);
      const cut = (name: string, on: boolean) =>
        control.inject({ method: 'PUT', url: `/stand-ins/${idOf(name)}/cut`, payload: { cut: on } });
      const bus = await client(GATEWAY, 21);
      await cut('Air-on transmitter', true);
      await expectAsync(bus.readInputRegisters(10, 2)).toBeRejected();
      await cut('Air-on transmitter', false);
      expect((await bus.readInputRegisters(100, 1)).data.length).toBe(1);
      await cut('Kiln controller', true);
      await expectAsync(client(CONTROLLER, 255)).toBeRejected();
      await cut('Kiln controller', false);
      expect((await (await client(CONTROLLER, 255)).readHoldingRegisters(65, 1)).data).toEqual([412]);
    });

    it('refuses what does not fit, in words', async () => {
      const control = controlOf(plant);
      const put = async (path: string, payload: object) => {
        const response = await control.inject({ method: 'PUT', url: `/stand-ins/${path}`, payload });
        return [response.statusCode, (response.json() as { error: { message: string } }).error.message];
      };
      const airOn = idOf('Air-on transmitter');
      expect(await put(`${airOn}/registers`, { table: 'input', offset: 500, words: [1] })).toEqual([
        422,
        'This stand-in has no register there.',
      ]);
      expect(await put(`${airOn}/registers`, { table: 'input', offset: 65_536, words: [1] })).toEqual([
        422,
        'A table ends at offset 65535.',
      ]);
      expect(await put(`${airOn}/cut`, {})).toEqual([422, '“cut” is missing.']);
      expect(await put('nobody/cut', { cut: true })).toEqual([404, 'There is no stand-in for this device.']);
    });
  });

  it('carries texts over its cables into the registers of a converter, and tells of what is damaged', async () => {
    const textPort = await client('127.40.8.40', 255);
    const weight = async () => (await textPort.readInputRegisters(0, 5)).data;
    let [read, damaged] = [await weight(), 0];
    for (let tries = 0; tries < 40 && !((read[4]! & 1) === 1 && read[2]! > 0); tries++) {
      await new Promise((done) => setTimeout(done, 100));
      read = await weight();
    }
    expect([read[0], read[2]! > 0, read[4]! & 1]).toEqual([42, true, 1]);
    const { last, entries } = plant.traffic.since(0);
    const indicators = demo.ports.filter(({ deviceId }) => deviceId === idOf('Weigh indicator')).map(({ id }) => id);
    const sound = entries.find(({ requestId, end }) => indicators.includes(requestId!) && end === 'arrived');
    expect([sound?.framing, sound?.got?.at(-1), sound?.got?.length]).toEqual(['text', 13, 18]);
    expect(plant.traffic.since(last).entries.every(({ number }) => number > last)).toBeTrue();
    expect(plant.traffic.since(last + 1000).entries.length)
      .withContext('of stand-ins that were started anew')
      .toBeGreaterThan(0);
    plant.setFaults(idOf('Weigh indicator'), [{ kind: 'silent' }]);
    let isValid = true;
    for (let tries = 0; tries < 40 && isValid; tries++) {
      await new Promise((done) => setTimeout(done, 100));
      isValid = ((await weight())[4]! & 1) === 1;
    }
    expect(isValid).withContext('a scale that is silent on purpose').toBeFalse();
    plant.setFaults(idOf('Weigh indicator'), []);
    const ports = demo.ports.map((port) =>
      port.kind === 'serial' && port.deviceId === idOf('Weigh indicator')
        ? { ...port, dataBits: 8 as const, parity: 'none' as const }
        : port,
    );
    await plant.rewire(wiringOf({ ...demo, ports }));
    for (let tries = 0; tries < 40 && damaged === 0; tries++) {
      await new Promise((done) => setTimeout(done, 100));
      damaged = (await textPort.readInputRegisters(6, 2)).data[1]!;
    }
    expect(damaged).withContext('eight bits where seven and parity are expected').toBeGreaterThan(0);
    expect(plant.traffic.since(last).entries.some(({ end }) => end === 'damaged')).toBeTrue();
  });

  it('loses the texts that come to a full buffer, and by a handshake makes their sender wait', async () => {
    const [scale, port] = [idOf('Weigh indicator'), idOf('Text port')];
    const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
    const own = demo.ports.find(({ deviceId, lineId }) => deviceId === port && lineId === line.id)!;
    const texts = () => plant.member(port)!.standIn!.sides.get(own.id)!.state();
    const comes = (condition: () => boolean) => comesTrue(condition, 10_000);
    const bytesSoFar = () => texts().bytes;
    expect(await comes(() => bytesSoFar() > 0)).toBeTrue();
    plant.setFaults(port, [{ kind: 'takes nothing' }]);
    expect(await comes(() => texts().silentMs! > 1500))
      .withContext('nothing comes through')
      .toBeTrue();
    plant.setFaults(port, []);
    expect(await comes(() => texts().silentMs! < 500)).toBeTrue();
    const ports = demo.ports.map((row) =>
      row.kind === 'serial' && row.lineId === line.id ? { ...row, handshake: 'rts-cts' as const } : row,
    );
    await plant.rewire(wiringOf({ ...demo, ports }));
    expect(await comes(() => texts().bytes > 0)).toBeTrue();
    plant.setFaults(scale, [{ kind: 'takes nothing' }]);
    expect(await comes(() => texts().isHeld))
      .withContext('the port sees that the scale takes nothing')
      .toBeTrue();
    plant.setFaults(scale, []);
    expect(await comes(() => !texts().isHeld)).toBeTrue();
  });

  it('lets a device without a program send what its registers hold, and take what Modbus writes at the converter', async () => {
    const [scale, port] = [idOf('Weigh indicator'), idOf('Text port')];
    const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
    const [weighing] = demo.telegrams;
    const gross = demo.points.find(({ name }) => name === 'Gross weight')!;
    const target: DeviceTelegram = {
      ...weighing!,
      ...{ id: '019aa000-0000-7000-8000-00000000f001', name: 'Target', direction: 'taken', when: { on: 'change', atLeastMs: 200 } },
      telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: 'kg', at: { from: 0, length: 6 }, kind: 'integer' }] },
    };
    const place = { kind: 'field', telegramId: target.id, field: 'kg', pinned: false } as const;
    const asked: Point = {
      ...gross,
      id: '019aa000-0000-7000-8000-00000000f002',
      name: 'Target',
      table: 'holding',
      offset: 0,
      access: 'readWrite',
      place,
    };
    const project: ProjectDocument = {
      ...demo,
      telegrams: [...demo.telegrams, target],
      points: [...demo.points, asked],
      devices: demo.devices.map((device) => {
        if (device.id === scale) return { ...device, program: '' };
        if (device.id !== port) return device;
        const reads = { lineId: line.id, use: 'reads', byte: 80, bytes: 8, order: 'high-first' } as const;
        const writes = { ...device.image!.windows[0]!, use: 'writes', table: 'holding', byte: 80, bytes: 8 } as const;
        return { ...device, image: { ...device.image!, bytes: 88, windows: [...device.image!.windows, reads, writes] } };
      }),
    };
    await plant.rewire(wiringOf(project));
    const bank = plant.member(scale)!.standIn!.bank;
    bank.set('input', 1, 0, 4711);
    const textPort = await client('127.40.8.40', 255);
    const until = async (what: string, met: () => Promise<boolean>) => {
      for (let tries = 0; tries < 60; tries++) {
        if (await met()) return;
        await new Promise((done) => setTimeout(done, 50));
      }
      fail(what);
    };
    await until('its weight', async () => (await textPort.readInputRegisters(1, 2)).data[1] === 4711);
    await textPort.writeRegisters(0, [0, 815]);
    await until('what was written', () => Promise.resolve(bank.get('holding', 1) === 815));
  });

  it('answers as each device is set, and follows when a switch is moved', async () => {
    const bus = await client(GATEWAY, 12);
    bus.setTimeout(600);
    await expectAsync(bus.readInputRegisters(0, 1)).toBeRejected();
    const south = demo.ports.find((port) => port.deviceId === idOf('Fan drive south'))!;
    const ports = demo.ports.map((port) => (port === south ? ({ ...port, parity: 'even', unitId: 14 } as Port) : port));
    await plant.rewire(wiringOf({ ...demo, ports }));
    expect(plant.members().length).toBe(demo.devices.filter(({ standIn }) => standIn).length);
    bus.setID(14);
    expect((await bus.readInputRegisters(0, 1)).data.length).toBe(1);
    bus.setID(11);
    expect((await bus.readInputRegisters(0, 1)).data.length).toBe(1);
  });

  it('takes and gives up addresses as devices come, go and exchange them, and keeps their registers', async () => {
    const at = async (host: string, part: { functionCode: number; offset: number; values?: number[] }) => {
      const transport = new TcpTransport(host, port);
      const outcome = await ask(transport, { count: 1, unitId: 255, timeoutMs: 1000, tries: 1, ...part });
      transport.close();
      return outcome;
    };
    await at(CONTROLLER, { functionCode: 6, offset: 130, values: [4711] });
    const swapped = demo.ports.map((row) => {
      if (row.kind !== 'ethernet') return row;
      const host = { [CONTROLLER]: '127.40.8.11', '127.40.8.11': CONTROLLER }[row.standInAddress!] ?? row.standInAddress;
      return { ...row, standInAddress: host };
    });
    const devices = demo.devices.filter(({ name }) => name !== 'Burner control');
    await plant.rewire(wiringOf({ ...demo, devices, ports: swapped }));
    const readBack = { functionCode: 3, offset: 130 };
    expect(await at('127.40.8.11', readBack)).toEqual({ kind: 'values', values: [4711] });
    const gone = await at('127.40.8.21', readBack);
    expect(gone.kind === 'failed' && groupOf(gone.failure)).toBe('not connected');
    await plant.rewire(wiringOf(demo));
    expect(await at(CONTROLLER, readBack)).toEqual({ kind: 'values', values: [4711] });
    expect((await at('127.40.8.21', { functionCode: 3, offset: 0 })).kind).toBe('values');
  });

  it('speaks RTU over TCP where a port is set so', async () => {
    const ports = demo.ports.map((row) =>
      row.kind === 'ethernet' && row.standInAddress === CONTROLLER ? ({ ...row, framing: 'rtu' } as Port) : row,
    );
    await plant.rewire(wiringOf({ ...demo, ports }));
    const transport = new ChannelTransport(() => openSocket(CONTROLLER, port), 'rtu');
    const read = { functionCode: 3, offset: 65, count: 1, unitId: 255, timeoutMs: 1000, tries: 1 };
    expect(await ask(transport, read)).toEqual({ kind: 'values', values: [412] });
    transport.close();
  });

  it('lets an adapter ask on a line with the settings that it is given', async () => {
    const bus = demo.lines.find(({ name }) => name === 'Kiln bus')!;
    const control = controlOf(plant);
    const read = { functionCode: 4, offset: 0, count: 1, unitId: 12, timeoutMs: 200, tries: 1 };
    const askAt = async (parity: string) => {
      const payload = { baud: 19_200, dataBits: 8, parity, stopBits: 1 };
      const set = await control.inject({ method: 'PUT', url: `/lines/${bus.id}/adapter`, payload });
      const transport = new ChannelTransport(() => openSocket('127.0.0.1', (set.json() as { port: number }).port), 'rtu');
      const outcome = await ask(transport, read);
      transport.close();
      return outcome.kind;
    };
    expect(await askAt('even')).not.toBe('values');
    expect(await askAt('none')).toBe('values');
    const missing = await control.inject({
      method: 'PUT',
      url: '/lines/none/adapter',
      payload: { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 },
    });
    expect(missing.statusCode).toBe(404);
  });

  it('says so when its address is taken, and leaves nothing behind', async () => {
    const second = new Plant(wiringOf(demo), port);
    await expectAsync(second.start()).toBeRejectedWith(jasmine.objectContaining({ code: 'EADDRINUSE' }));
  });
});
