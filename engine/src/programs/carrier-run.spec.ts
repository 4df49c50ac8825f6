import { compile } from '@plain-envoy/core/compile';
import type { Device, Point } from '@plain-envoy/core/model';
import { SmallProject } from '@plain-envoy/core/testing';
import type { RequestResult } from '../client/index.js';
import { failed } from '../links/index.js';
import type { RequestWay } from '../settings/index.js';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { CarrierRun } from './carrier-run.js';

const SCAN_MS = 10;

describe('The program of a controller that is run in the place of its stand-in', () => {
  let time: VirtualTime;
  let project: SmallProject;
  let controller: Device;
  let meter: Device;
  let registers: Map<string, number>;
  let failing: RequestResult | null;
  let asked: string[];
  /** The words of each write to its own stand-in. */
  let given: number[][];

  /** Both are nothing but registers. */
  const way: RequestWay = {
    read({ request: { deviceId, table, offset, count, functionCode } }) {
      const isOwn = deviceId === controller.id;
      if (!isOwn && failing) return Promise.resolve(failing);
      if (!isOwn) asked.push(`${functionCode} ${offset}+${count}`);
      return Promise.resolve({
        kind: 'values',
        values: Array.from({ length: count }, (_, index) => registers.get(`${isOwn ? 'own' : 'meter'} ${table} ${offset + index}`) ?? 0),
      });
    },
    write({ request: { deviceId, table, offset, functionCode, functionCodes }, masks }, words) {
      const isOwn = deviceId === controller.id;
      if (!isOwn && failing) return Promise.resolve(failing);
      if (isOwn) given.push([...words]);
      else asked.push(`${functionCode} ${functionCodes.join()} ${offset}=${words.join()}${masks ? ` of ${masks.join()}` : ''}`);
      words.forEach((word, index) => registers.set(`${isOwn ? 'own' : 'meter'} ${table} ${offset + index}`, word));
      return Promise.resolve({ kind: 'written' });
    },
    close: () => undefined,
  };
  const runs = () => {
    const { plan } = compile(project.document);
    const run = new CarrierRun(project.document, plan, controller, way, { portable: false, scanMs: SCAN_MS });
    expect(run.problem).toBeNull();
    void run.start();
    return run;
  };
  const route = (from: Point, to: Point) =>
    project.route(from, to, project.document.rounds[0]!, { carrierId: controller.id, carry: 'value' });

  beforeEach(() => {
    time = new VirtualTime();
    project = new SmallProject();
    const net = project.net();
    controller = project.controller('Controller', net);
    meter = project.device('Meter', { tries: 2, functionCodes: [1, 2, 3, 4, 5, 6, 15, 16, 22] });
    project.port(meter, net);
    project.round(100);
    registers = new Map();
    failing = null;
    asked = [];
    given = [];
  });
  afterEach(() => time.end());

  it('gives what lies side by side by one request', async () => {
    for (const [index, name] of ['First', 'Second', 'Third', 'Apart'].entries())
      route(project.point(meter, name, { offset: index }), project.point(controller, name, { offset: index === 3 ? 9 : 20 + index }));
    for (let offset = 0; offset < 4; offset++) registers.set(`meter holding ${offset}`, 7 + offset);
    const run = runs();
    await time.wind(400);
    run.stop();
    expect(['20', '21', '22', '9'].map((offset) => registers.get(`own holding ${offset}`))).toEqual([7, 8, 9, 10]);
    expect(given.filter(({ length }) => length > 1).map(({ length }) => length)).toContain(3);
    expect(given.flat().length).toBe(8);
  });

  it('takes the registers of its stand-in, asks what it has to ask, and gives what it makes of it', async () => {
    route(project.point(meter, 'Level', { offset: 3 }), project.point(controller, 'Level', { offset: 1 }));
    route(project.point(controller, 'Wanted', { offset: 2 }), project.point(meter, 'Wanted', { offset: 9 }));
    registers.set('meter holding 3', 42).set('own holding 2', 7);
    const run = runs();
    await time.wind(400);
    expect(registers.get('own holding 1')).toBe(42);
    expect(registers.get('meter holding 9')).toBe(7);
    registers.set('meter holding 3', 43).set('own holding 2', 8);
    await time.wind(400);
    expect([registers.get('own holding 1'), registers.get('meter holding 9')]).toEqual([43, 8]);
    expect(run.scans).toBeGreaterThan(70);
    run.stop();
    const before = run.scans;
    await time.wind(100);
    expect(run.scans).toBe(before);
  });

  it('writes bits by a mask, and coils one by one', async () => {
    const on = project.point(controller, 'On', { offset: 2, type: 'bit', bit: 0 });
    route(on, project.point(meter, 'Bit', { offset: 9, type: 'bit', bit: 5 }));
    route(on, project.point(meter, 'Coil', { table: 'coil', offset: 4, type: 'bit' }));
    registers.set('own holding 2', 1);
    const run = runs();
    await time.wind(400);
    run.stop();
    expect(asked).toContain('22 22 9=32 of 32');
    expect(asked).toContain('5 5 4=1');
  });

  it('tells the program how a transaction failed: refused, without an answer, damaged or not connected', async () => {
    route(project.point(meter, 'Level', { offset: 3 }), project.point(controller, 'Level', { offset: 1 }));
    const run = runs();
    const result = async (how: RequestResult) => {
      failing = how;
      await time.wind(6000);
      return (run.prepared.value('requests') as { result: number }[])[0]!.result;
    };
    expect(await result(failed({ code: 'exception', exception: 2 }))).toBe(2);
    expect(await result(failed({ code: 'no-answer' }))).toBe(256);
    expect(await result(failed({ code: 'checksum' }))).toBe(257);
    expect(await result(failed({ code: 'unreachable', host: '10.0.0.1', port: 502 }))).toBe(258);
    failing = null;
    await time.wind(6000);
    expect((run.prepared.value('requests') as { good: boolean }[])[0]!.good).toBeTrue();
    run.stop();
  });

  it('is nothing where the controller carries nothing', () => {
    const { plan } = compile(project.document);
    const run = new CarrierRun(project.document, plan, controller, way, { portable: false, scanMs: SCAN_MS });
    expect(run.problem).toBe('Controller carries nothing.');
    run.start();
    expect(run.scans).toBe(0);
  });
});
