import { createRequire } from 'node:module';
import { createServer } from 'node:net';
import { fernhollow } from '@plain-envoy/core/demo';
import { controlInterface } from '../control/index.js';
import { Plant } from './index.js';

const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default;

const demo = fernhollow();
const CONTROLLER = '127.40.8.10';
const GATEWAY = '127.40.8.30';
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;

function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer().listen(0, CONTROLLER, () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });
}

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
    port = await freePort();
    plant = new Plant(demo, port);
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
      const response = await controlInterface(plant).inject('/stand-ins');
      expect((response.json() as { name: string }[]).map(({ name }) => name)).toEqual(demo.devices.map(({ name }) => name));
    });

    it('holds a register at a value until it is released', async () => {
      const control = controlInterface(plant);
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
      const control = controlInterface(plant);
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
      const control = controlInterface(plant);
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

  it('says so when its address is taken, and leaves nothing behind', async () => {
    const second = new Plant(demo, port);
    await expectAsync(second.start()).toBeRejectedWith(jasmine.objectContaining({ code: 'EADDRINUSE' }));
  });
});
