import { mendedFernhollow } from '@plain-envoy/core/demo';
import type { Line } from '@plain-envoy/core/media';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { dialOf, wayTo } from '@plain-envoy/core/plan';
import { openDial } from '@plain-envoy/engine/transports';
import { createConnection } from 'node:net';
import { comesTrue } from './comes-true.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';

const demo = mendedFernhollow();
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const pointOf = (name: string) => demo.points.find((point) => point.name === name && point.deviceId === station)!;
const [converter, station] = ['Grid converter', 'Grid station'].map(idOf) as [string, string];
const WITHIN_MS = 8000;
/** Where Modbus writes power, energy, alarm and number; where it reads curtailment, stop, the number back, and how the link is. */
const [POWER, ENERGY, ALARM, NUMBER] = [0, 1, 3, 4];
const [CURTAILMENT, STOP, BACK, UP] = [0, 1, 2, 3];

/** The demo whose grid link follows a standard, and has its points at addresses that this can have. */
function by(standard: 'ieee1815' | 'iec60870-5-104', fields: Partial<Extract<Line, { kind: 'telecontrol' }>> = {}): ProjectDocument {
  return {
    ...demo,
    lines: demo.lines.map((line) =>
      line.kind === 'telecontrol' ? { ...line, standard, answersMs: 1000, confirmMs: 500, t2Ms: 500, ...fields } : line,
    ),
    points: demo.points.map((point, index) =>
      point.place.kind === 'event' && standard !== 'ieee1815' ? { ...point, place: { ...point.place, index: 100 + index } } : point,
    ),
  };
}

for (const standard of ['ieee1815', 'iec60870-5-104'] as const)
  describe(`the ends of a telecontrol link by ${standard}`, () => {
    let plant: Plant;
    beforeEach(async () => {
      plant = new Plant(wiringOf(by(standard)), await freePort('127.40.8.10'));
      await plant.start();
      await comesTrue(() => isUp(), WITHIN_MS);
    });
    afterEach(() => plant.stop());
    const bankOf = (device: string) => plant.member(device)!.standIn!.bank;
    const sideOf = (device: string) => [...plant.member(device)!.standIn!.stationSides.values()][0]![0]!;
    const isUp = () => (bankOf(converter).get('input', UP) & 1) === 1;
    const write = (first: number, ...words: number[]) => {
      bankOf(converter).set('holding', first, ...words);
      plant.member(converter)!.standIn!.wrote({ table: 'holding', first, count: words.length });
    };
    const archived = (name: string) => sideOf(station).archive(pointOf(name).id);
    const seen = (name: string) =>
      sideOf(station)
        .state()
        .points.find(({ pointId }) => pointId === pointOf(name).id)!;
    const becomes = (condition: () => boolean, what: string) =>
      comesTrue(condition, WITHIN_MS).then((came) => expect(came).withContext(what).toBeTrue());

    it('bring what the controller writes, with its quality and time, and the number and one back', async () => {
      await becomes(() => /invalid|not known/.test(seen('Plant alarm').quality), 'nothing is known yet');
      expect(seen('Plant alarm').isGood).toBeFalse();
      write(POWER, 1234, 0, 77, 1, 41);
      await becomes(() => bankOf(station).get('holding', POWER) === 1234, 'power');
      await becomes(
        () => bankOf(station).get('holding', ENERGY + 1) === 77 && bankOf(station).get('holding', ALARM) === 1,
        'energy and alarm',
      );
      await becomes(() => bankOf(station).get('holding', NUMBER) === 41 && bankOf(converter).get('input', BACK) === 42, 'the number back');
      expect([seen('Plant alarm').isGood, seen('Power drawn').said]).toEqual([true, 1234]);
      const before = Date.now();
      write(ALARM, 0);
      await becomes(() => archived('Plant alarm').at(-1)?.said === 0, 'the alarm goes');
      expect(Math.abs(archived('Plant alarm').at(-1)!.atMs - before)).toBeLessThan(3000);
      const framing = standard === 'ieee1815' ? 'ieee1815' : 'iec104';
      expect(plant.traffic.since(0).entries.filter((entry) => entry.framing === framing && entry.end === 'arrived').length).toBeGreaterThan(
        5,
      );
    });

    it('take commands: one that is selected first, and a pulse that ends by itself', async () => {
      bankOf(station).set('input', CURTAILMENT, 2);
      await becomes(() => bankOf(converter).get('input', CURTAILMENT) === 2, 'curtailment');
      expect(sideOf(station).command(pointOf('Stop the turner').id, 1)).toBeTrue();
      await becomes(() => (bankOf(converter).get('input', STOP) & 1) === 1, 'the pulse begins');
      await becomes(() => (bankOf(converter).get('input', STOP) & 1) === 0, 'the pulse ends');
      const ends = sideOf(station)
        .state()
        .commands.map(({ pointId, end }) => [pointId, end]);
      expect(ends).toContain([pointOf('Curtailment').id, 'done']);
      expect(sideOf(station).command('none', 1)).toBeFalse();
    });

    it('keep what happens while one is cut off, bring each once, and throw the oldest away where there is no more room', async () => {
      write(POWER, 0, 0, 0, 0, 0);
      await becomes(() => seen('Number').isGood && sideOf(converter).state().kept === 0, 'the first');
      const known = archived('Number').length;
      await plant.cutOff(station, true);
      expect(await comesTrue(() => !isUp(), WITHIN_MS)).toBeTrue();
      for (let number = 1; number <= 20; number++) {
        write(NUMBER, number);
        await new Promise((done) => setTimeout(done, 60));
      }
      await becomes(() => sideOf(converter).state().kept >= 20, 'they are kept');
      await plant.cutOff(station, false);
      await becomes(() => archived('Number').length === known + 20, 'all are there');
      expect(
        archived('Number')
          .slice(known)
          .map(({ said }) => said),
      ).toEqual(Array.from({ length: 20 }, (_, at) => at + 1));
      await becomes(() => sideOf(converter).state().kept === 0, 'none waits');
    });

    it('go on when their link is cut again and again, confirmations are lost, and frames come twice or are missing', async () => {
      write(POWER, 0, 0, 0, 0, 0);
      await becomes(() => seen('Number').isGood && sideOf(converter).state().kept === 0, 'the first');
      const known = archived('Number').length;
      plant.setFaults(converter, [{ kind: 'link cut', everyS: 2 }, ...(standard === 'ieee1815' ? ([{ kind: 'twice' }] as const) : [])]);
      plant.setFaults(station, [
        { kind: 'confirms lost', percent: 40 },
        { kind: 'number skipped', percent: 5 },
      ]);
      for (let number = 1; number <= 60; number++) {
        write(NUMBER, number);
        await new Promise((done) => setTimeout(done, 60));
      }
      for (const device of [converter, station]) plant.setFaults(device, []);
      await becomes(() => sideOf(converter).state().kept === 0 && archived('Number').at(-1)?.said === 60, 'all are there');
      expect(
        archived('Number')
          .slice(known)
          .map(({ said }) => said),
      ).toEqual(Array.from({ length: 60 }, (_, at) => at + 1));
    });

    it('say what is wrong: another address, and a clock that is off', async () => {
      plant.setFaults(converter, [{ kind: 'wrong unit' }]);
      await becomes(() => sideOf(station).state().strange + sideOf(converter).state().strange > 0, 'frames for somebody else');
      await becomes(
        () =>
          sideOf(station)
            .state()
            .points.every(({ isGood }) => !isGood),
        'nothing is good',
      );
      plant.setFaults(converter, [{ kind: 'clock off', minutes: 60 }]);
      await becomes(() => Math.abs(sideOf(converter).state().clockAheadMs - 3_600_000) < 60_000, 'an hour ahead');
    });

    it('begin anew with nothing kept', async () => {
      write(POWER, 1, 0, 0, 0, 0);
      await plant.reboot(converter, 300);
      await becomes(() => isUp() && sideOf(converter).state().kept === 0, 'up again');
      expect(bankOf(converter).get('holding', POWER)).toBe(0);
    });
  });

describe('Plain Envoy as an end of a telecontrol link with a stand-in', () => {
  const ports = demo.ports.filter(({ kind, deviceId }) => kind !== 'telecontrol' || deviceId !== converter);
  const open = (document: ProjectDocument, standInsPort: number) => {
    const way = wayTo(document, station);
    if (!way.ok) throw new Error(way.problem.message);
    return openDial(dialOf(way.value.endpoint, 'stand-ins', standInsPort), {
      adapter: () => Promise.reject(),
      serial: () => Promise.reject(),
    });
  };
  const read = (functionCode: 3 | 4, offset: number) => Uint8Array.of(functionCode, 0, offset, 0, 1);
  const answer = async (transport: ReturnType<typeof open>, pdu: Uint8Array) => {
    const exchange = await transport.exchange(1, pdu, WITHIN_MS);
    return exchange.kind === 'answer' ? [...exchange.pdu] : exchange.failure.code;
  };

  it('is the outstation that a control station calls', async () => {
    const document = { ...by('iec60870-5-104'), ports };
    const standInsPort = await freePort('127.40.8.10');
    const plant = new Plant(wiringOf(document), standInsPort);
    await plant.start();
    const transport = open(document, standInsPort);
    const bank = plant.member(station)!.standIn!.bank;
    expect(await answer(transport, Uint8Array.of(6, 0, POWER, 4, 210))).toEqual([6, 0, POWER, 4, 210]);
    expect(await comesTrue(() => bank.get('holding', POWER) === 1234, WITHIN_MS)).toBeTrue();
    bank.set('input', CURTAILMENT, 3);
    const until = performance.now() + WITHIN_MS;
    let told = await answer(transport, read(4, CURTAILMENT));
    while (told[3] !== 3 && performance.now() < until) {
      await new Promise((done) => setTimeout(done, 50));
      told = await answer(transport, read(4, CURTAILMENT));
    }
    expect(told).toEqual([4, 2, 0, 3]);
    transport.close();
    await plant.stop();
  });

  it('is the control station of one that listens', async () => {
    const document: ProjectDocument = {
      ...by('ieee1815'),
      ports: ports.map((port) => (port.kind === 'telecontrol' ? { ...port, role: 'answers' as const, ip: '10.40.8.77' } : port)),
      points: by('ieee1815').points.map((point) =>
        point.place.kind === 'event' ? { ...point, table: point.table === 'input' ? ('holding' as const) : ('input' as const) } : point,
      ),
    };
    const standInsPort = await freePort('127.40.8.77');
    const plant = new Plant(wiringOf(document), standInsPort);
    await plant.start();
    const transport = open(document, standInsPort);
    const bank = plant.member(station)!.standIn!.bank;
    bank.set('input', POWER, 77);
    expect(await answer(transport, read(4, POWER))).toEqual([4, 2, 0, 77]);
    expect(await answer(transport, Uint8Array.of(6, 0, CURTAILMENT, 0, 2))).toEqual([6, 0, CURTAILMENT, 0, 2]);
    expect(bank.get('holding', CURTAILMENT)).toBe(2);
    transport.close();
    await plant.stop();
  });
});

describe('an outstation that nobody of the project asks', () => {
  it('listens for whoever calls it', async () => {
    const alone = { ...by('iec60870-5-104'), devices: demo.devices.filter(({ id }) => id !== station) };
    const plant = new Plant(wiringOf(alone), await freePort('127.40.8.10'));
    await plant.start();
    const [host, port] = [...plant.member(converter)!.standIn!.stationSides.values()][0]![0]!.state().listensAt!.split(':') as [
      string,
      string,
    ];
    const socket = createConnection({ host, port: Number(port) });
    const heard: number[] = [];
    socket.on('data', (bytes) => heard.push(...bytes));
    socket.write(Uint8Array.of(0x68, 4, 7, 0, 0, 0));
    expect(await comesTrue(() => heard.length >= 6, WITHIN_MS)).toBeTrue();
    expect(heard.slice(0, 6)).toEqual([0x68, 4, 0x0b, 0, 0, 0]);
    socket.destroy();
    await plant.stop();
  });
});
