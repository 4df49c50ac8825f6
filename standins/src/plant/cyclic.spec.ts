import { mendedFernhollow } from '@plain-envoy/core/demo';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { comesTrue } from './comes-true.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';

const demo = mendedFernhollow();
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const [opener, station] = ['Kiln controller', 'Silo conveyor'].map(idOf) as [string, string];
const WITHIN_MS = 5000;
/** Where the kiln controller has what comes, and what goes. */
const [CARRIED, BACK, VALID, MISSED, OUTPUTS] = [404, 406, 407, 408, 420];

describe('the ends of a cyclic link', () => {
  let plant: Plant;
  beforeEach(async () => {
    plant = new Plant(wiringOf(demo), await freePort('127.40.8.10'));
    await plant.start();
  });
  afterEach(() => plant.stop());
  const bankOf = (device: string) => plant.member(device)!.standIn!.bank;
  const stateOf = (device: string) => [...plant.member(device)!.standIn!.linkSides.values()][0]!.state();
  const isValid = () => (bankOf(opener).get('holding', VALID) & 1) === 1;
  const write = (first: number, ...words: number[]) => {
    bankOf(opener).set('holding', first, ...words);
    plant.member(opener)!.standIn!.wrote({ table: 'holding', first, count: words.length });
  };
  /** The demo in which an end is set otherwise. */
  const set = (role: string, fields: object): ProjectDocument => ({
    ...demo,
    ports: demo.ports.map((port) => (port.kind === 'cyclic' && port.role === role ? { ...port, ...fields } : port)),
  });

  it('bring what the station says into the registers of who opened it, and back comes the number, and one', async () => {
    expect(await comesTrue(isValid, WITHIN_MS)).toBeTrue();
    write(OUTPUTS, 1, 1, 150, 0x1234);
    expect(await comesTrue(() => bankOf(opener).get('holding', BACK) === 0x1235, WITHIN_MS)).toBeTrue();
    expect([...bankOf(station).slice('holding', OUTPUTS, 4)]).toEqual([1, 1, 150, 0x1234]);
    expect(await comesTrue(() => bankOf(opener).get('holding', CARRIED + 1) > 0, WITHIN_MS)).toBeTrue();
    expect([stateOf(opener).state, stateOf(station).state, stateOf(opener).problem]).toEqual(['running', 'running', null]);
    const { program } = stateOf(opener);
    expect([program?.problem, stateOf(station).program]).toEqual([null, null]);
    expect(program!.runs).withContext('the Structured Text of the controller').toBeGreaterThan(3);
    const { entries } = plant.traffic.since(0);
    expect(Math.abs(entries.at(-1)!.atMs! - Date.now())).toBeLessThan(60_000);
    expect(entries.filter(({ framing, end }) => framing === 'cyclic' && end === 'arrived').length).toBeGreaterThan(3);
  });

  it('stand at zero while nobody says that the outputs are valid', async () => {
    write(OUTPUTS, 0, 1, 150, 9);
    expect(await comesTrue(() => stateOf(station).state === 'not valid', WITHIN_MS)).toBeTrue();
    expect([...bankOf(station).slice('holding', OUTPUTS, 4)]).toEqual([0, 0, 0, 0]);
    write(OUTPUTS, 1);
    expect(await comesTrue(() => bankOf(station).get('holding', OUTPUTS + 3) === 9, WITHIN_MS)).toBeTrue();
  });

  it('are lost when one is cut off, let the outputs fall to zero, and find each other again', async () => {
    write(OUTPUTS, 1, 1, 150, 9);
    expect(await comesTrue(() => bankOf(station).get('holding', OUTPUTS + 3) === 9, WITHIN_MS)).toBeTrue();
    await plant.cutOff(opener, true);
    expect(await comesTrue(() => bankOf(station).get('holding', OUTPUTS + 3) === 0, WITHIN_MS)).toBeTrue();
    expect(stateOf(station).state).toBe('lost');
    await plant.cutOff(opener, false);
    expect(await comesTrue(() => bankOf(station).get('holding', OUTPUTS + 3) === 9 && isValid(), WITHIN_MS)).toBeTrue();
    await plant.cutOff(station, true);
    expect(await comesTrue(() => !isValid(), WITHIN_MS)).toBeTrue();
    expect(plant.traffic.since(0).entries.some(({ framing, end }) => framing === 'cyclic' && end === 'silent')).toBeTrue();
  });

  it('refuse each other where their sizes differ, until they are the same', async () => {
    await plant.rewire(wiringOf(set('opens', { outputBytes: 14 })));
    expect(await comesTrue(() => stateOf(opener).state === 'refused', WITHIN_MS)).toBeTrue();
    expect(stateOf(opener).problem).toBe('It has 16 bytes in and 12 out, and is opened with 16 bytes in and 14 out.');
    expect(isValid()).toBeFalse();
    await plant.rewire(wiringOf(demo));
    expect(await comesTrue(isValid, WITHIN_MS)).toBeTrue();
  });

  it('count what a station leaves out or sends twice, and lose one that is silent', async () => {
    expect(await comesTrue(isValid, WITHIN_MS)).toBeTrue();
    plant.setFaults(station, [{ kind: 'twice' }]);
    expect(await comesTrue(() => stateOf(opener).doubled > 3, WITHIN_MS)).toBeTrue();
    plant.setFaults(station, [{ kind: 'lost', percent: 40 }]);
    expect(await comesTrue(() => bankOf(opener).get('holding', MISSED) > 2, WITHIN_MS)).toBeTrue();
    plant.setFaults(station, [{ kind: 'silent' }]);
    expect(await comesTrue(() => !isValid() && stateOf(opener).lost > 0, WITHIN_MS)).toBeTrue();
    plant.setFaults(station, []);
    expect(await comesTrue(isValid, WITHIN_MS)).toBeTrue();
  });
});
