import { mendedFernhollow } from '@plain-envoy/core/demo';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { withWholeFrames } from '@plain-envoy/core/testing';
import { comesTrue } from './comes-true.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';

const demo = mendedFernhollow();
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const line = demo.lines.find(({ kind }) => kind === 'can')!;
const [turner, converter] = ['Floor turner', 'Turner converter'].map(idOf) as [string, string];
const WITHIN_MS = 5000;

describe('devices on CAN', () => {
  let plant: Plant;
  beforeEach(async () => {
    plant = new Plant(wiringOf(demo), await freePort('127.40.8.10'));
    await plant.start();
  });
  afterEach(() => plant.stop());
  const bankOf = (device: string) => plant.member(device)!.standIn!.bank;
  const validAt = () => bankOf(converter).get('input', 5) & 1;
  const errorsOf = (device: string) => [...plant.member(device)!.standIn!.canSides.values()][0]!.state().errors!;
  /** The demo in which ports of a device on CAN are set otherwise. */
  const set = (device: string, fields: object): ProjectDocument => ({
    ...demo,
    ports: demo.ports.map((port) => (port.kind === 'can' && port.deviceId === device ? { ...port, ...fields } : port)),
  });

  it('bring what they say into the registers of their converter, and take what is written there', async () => {
    const sequences = new Set<number>();
    expect(await comesTrue(() => sequences.add(bankOf(converter).get('input', 4)).size > 5, WITHIN_MS)).toBeTrue();
    expect(validAt()).toBe(1);
    const image = plant.member(converter)!.standIn!;
    bankOf(converter).set('holding', 0, 1500, 1, 7);
    image.wrote({ table: 'holding', first: 0, count: 3 });
    expect(await comesTrue(() => bankOf(turner).get('holding', 2) === 7, WITHIN_MS)).toBeTrue();
    expect([...bankOf(turner).slice('holding', 0, 3)]).toEqual([1500, 1, 7]);
    const seen = plant.canLine(line.id)!.state();
    expect(seen.frames.map(({ identifier }) => identifier.toString(16))).toEqual(['18a01003', '18a02003', '18a07f03']);
    expect([seen.damaged, seen.silent]).toEqual([0, 0]);
    expect(plant.traffic.since(0).entries.some(({ framing, end }) => framing === 'can' && end === 'arrived')).toBeTrue();
  });

  it('pass whole through a converter, both ways, for the controller to read and to make', async () => {
    const whole = withWholeFrames(demo);
    await plant.rewire(wiringOf(whole));
    const at = (name: string) => whole.points.find((point) => point.name === name)!;
    const held = (name: string) => {
      const { table, offset, type } = at(name);
      return [...bankOf(converter).slice(table, offset, type === 'uint32' ? 2 : 1)];
    };
    const identifiers = new Set<string>();
    const look = () => {
      for (const record of [1, 2])
        identifiers.add(
          held(`All of it ${record} identifier`)
            .map((word) => word.toString(16))
            .join(' '),
        );
      return identifiers.has('18a0 1003') && identifiers.has('18a0 7f03');
    };
    expect(await comesTrue(look, WITHIN_MS))
      .withContext([...identifiers].join())
      .toBeTrue();
    expect(held('All of it 1 length')[0]).toBeGreaterThan(0);
    const make = (name: string, ...words: number[]) => {
      const { table, offset } = at(name);
      bankOf(converter).set(table, offset, ...words);
      plant.member(converter)!.standIn!.wrote({ table, first: offset, count: words.length });
    };
    make('Made identifier', 0x18a0, 0x2003);
    make('Made length', 4);
    make('Made data 0', 0xdc05);
    make('Made data 2', 0x0163);
    make('Made count', 1);
    expect(await comesTrue(() => bankOf(turner).get('holding', 2) === 0x63, WITHIN_MS)).toBeTrue();
    expect([...bankOf(turner).slice('holding', 0, 3)]).toEqual([1500, 1, 0x63]);
    expect(await comesTrue(() => held('Made count sent')[0] === 1, WITHIN_MS)).toBeTrue();
  });

  it('are told as lost when one is cut off, and the other’s frames as heard by nobody, until it is back', async () => {
    expect(await comesTrue(() => validAt() === 1, WITHIN_MS)).toBeTrue();
    await plant.cutOff(turner, true);
    expect(await comesTrue(() => validAt() === 0, WITHIN_MS)).toBeTrue();
    expect(await comesTrue(() => plant.canLine(line.id)!.state().silent > 0, WITHIN_MS)).toBeTrue();
    expect(await comesTrue(() => errorsOf(converter).state === 'error passive', WITHIN_MS)).toBeTrue();
    await plant.cutOff(turner, false);
    expect(await comesTrue(() => validAt() === 1 && errorsOf(converter).state === 'error active', WITHIN_MS)).toBeTrue();
  });

  it('say nothing that counts while their frames are destroyed, and come back by themselves', async () => {
    expect(await comesTrue(() => validAt() === 1, WITHIN_MS)).toBeTrue();
    plant.setFaults(turner, [{ kind: 'damaged', percent: 100 }]);
    expect(await comesTrue(() => validAt() === 0 && plant.canLine(line.id)!.state().damaged > 10, WITHIN_MS)).toBeTrue();
    plant.setFaults(turner, []);
    expect(await comesTrue(() => validAt() === 1, WITHIN_MS)).toBeTrue();
  });

  it('come as those of another station, or with bytes missing, where that is its fault, and nothing of them is taken', async () => {
    expect(await comesTrue(() => validAt() === 1, WITHIN_MS)).toBeTrue();
    const heard = () => {
      const { frames, strangers } = [...plant.member(converter)!.standIn!.canSides.values()][0]!.state();
      return {
        damaged: frames.find(({ way }) => way === 'heard')!.damaged,
        strangers: strangers.map(({ identifier }) => identifier.toString(16)),
      };
    };
    plant.setFaults(turner, [{ kind: 'wrong unit' }]);
    expect(await comesTrue(() => validAt() === 0 && heard().strangers.includes('18a01004'), WITHIN_MS)).toBeTrue();
    plant.setFaults(turner, [{ kind: 'cut short' }]);
    expect(await comesTrue(() => heard().damaged > 2, WITHIN_MS)).toBeTrue();
    expect(validAt()).toBe(0);
    plant.setFaults(turner, []);
    expect(await comesTrue(() => validAt() === 1, WITHIN_MS)).toBeTrue();
  });

  it('disturb all others where one is set to another bit rate, until it is off', async () => {
    expect(await comesTrue(() => validAt() === 1, WITHIN_MS)).toBeTrue();
    await plant.rewire(wiringOf(set(converter, { bitrate: 125_000 })));
    expect(
      await comesTrue(() => errorsOf(turner).state !== 'error active' || plant.canLine(line.id)!.state().damaged > 0, WITHIN_MS),
    ).toBeTrue();
    await plant.rewire(wiringOf(demo));
    expect(await comesTrue(() => validAt() === 1 && errorsOf(turner).state === 'error active', WITHIN_MS)).toBeTrue();
  });
});
