import { fernhollow } from '../demo/index.js';
import { compile } from '../compile/index.js';
import '../formula/index.js';
import { type Device, type Point, programParts, type Route } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { controllerProgram, PreparedCarrier, programTextOf } from './index.js';
import { RunProgram, SCAN_MS } from './run-program.spec-helper.js';

/** A controller that carries between a meter, a drive and itself; what each test wants is added before it runs. */
class Plant {
  readonly project = new SmallProject();
  readonly net = this.project.net();
  readonly controller = this.project.controller('Controller', this.net);
  readonly meter = this.device('Meter');
  readonly drive = this.device('Drive');
  readonly round = this.project.round(100);

  device(name: string, fields: Partial<Device> = {}): Device {
    const device = this.project.device(name, { tries: 2, ...fields });
    this.project.port(device, this.net);
    return device;
  }

  point(device: Device, name: string, fields: Partial<Point> = {}): Point {
    return this.project.point(device, name, fields);
  }

  route(from: Point, to: Point, fields: Partial<Route> = {}): Route {
    return this.project.route(from, to, this.round, { carrierId: this.controller.id, carry: 'value', ...fields });
  }

  run(isPortable = false): RunProgram {
    return new RunProgram(this.project.document, this.controller, isPortable);
  }

  text(): string {
    const { plan } = compile(this.project.document);
    const made = controllerProgram(this.project.document, plan, this.controller, { portable: false })!;
    return programTextOf(
      made,
      programParts.map(({ part }) => part),
    );
  }
}

describe('a program of a controller', () => {
  let plant: Plant;
  beforeEach(() => (plant = new Plant()));

  it('puts a substitute in a lost value’s place within one scan of its time, and the value again once it comes', () => {
    const level = plant.point(plant.meter, 'Level', { offset: 3 });
    const [own, out] = [plant.point(plant.controller, 'Own', { offset: 1 }), plant.point(plant.drive, 'Out', { offset: 1 })];
    const loss = { rule: 'value' as const, value: 77, validId: null, afterMs: 1000, stillMs: null };
    plant.route(level, own, { loss });
    plant.route(level, out, { loss });
    const run = plant.run();
    run.put(level, [12]);
    run.run(500);
    expect([run.words(own, 1), run.words(out, 1)]).toEqual([[12], [12]]);
    run.silent.add(plant.meter.id);
    const found: number[] = [];
    for (let at = 0; at < 1700; at += SCAN_MS) {
      run.run(SCAN_MS);
      if (run.words(own, 1)[0] === 77) found.push(run.nowMs);
    }
    expect(run.words(out, 1)).toEqual([77]);
    // The last good answer came up to a period before, and the first bad one up to a period after it.
    const [first] = found as [number];
    expect(first - 500).toBeGreaterThanOrEqual(1000);
    expect(first - 500).toBeLessThanOrEqual(1000 + 100 + 4 * SCAN_MS);
    run.silent.clear();
    run.run(5000);
    expect([run.words(own, 1), run.words(out, 1)]).toEqual([[12], [12]]);
  });

  it('brings a value again after a substitute stood for it, also one that goes out only when it changes', async () => {
    const level = plant.point(plant.meter, 'Level', { offset: 3 });
    const loss = { rule: 'value' as const, value: 77, validId: null, afterMs: 1000, stillMs: null };
    const own = ['A', 'B', 'C'].map((name, index) => plant.point(plant.controller, name, { offset: 10 * index }));
    const out = ['D', 'E', 'F'].map((name, index) => plant.point(plant.drive, name, { offset: 10 * index }));
    for (const to of [own, out]) {
      plant.route(level, to[0]!, { loss, onlyDifferent: true });
      plant.route(level, to[1]!, { loss, trigger: { on: 'change', deadband: 5 } });
      plant.route(level, to[2]!, { loss, transforms: [{ kind: 'deadband', by: 5 }] });
    }
    const run = plant.run();
    run.put(level, [12]);
    const all = () => [...own, ...out].map((point) => run.words(point, 1)[0]);
    run.run(800);
    expect(all()).toEqual([12, 12, 12, 12, 12, 12]);
    run.silent.add(plant.meter.id);
    run.run(2500);
    expect(all()).toEqual([77, 77, 77, 77, 77, 77]);
    run.silent.clear();
    run.run(6000);
    expect(all()).toEqual([12, 12, 12, 12, 12, 12]);
  });

  it('says by a bit whether a value is good, and does not where it is lost, stands still, or is cut off', () => {
    const beat = plant.point(plant.meter, 'Beat', { offset: 3, unit: 's' });
    const own = plant.point(plant.controller, 'Own', { offset: 1, unit: 's' });
    const valid = plant.point(plant.controller, 'Own is valid', { offset: 2, type: 'bit', bit: 4 });
    plant.route(beat, own, {
      transforms: [{ kind: 'clamp', low: 0, high: 1000 }],
      loss: { rule: 'invalid', value: null, validId: valid.id, afterMs: 500, stillMs: 800 },
    });
    const run = plant.run();
    const isValid = () => run.words(valid, 1)[0] !== 0;
    expect(isValid()).toBeFalse();
    for (let value = 1; value < 12; value++) {
      run.put(beat, [value]);
      run.run(200);
      expect(isValid()).withContext(String(value)).toBeTrue();
    }
    run.run(1100);
    expect(isValid()).withContext('stands still').toBeFalse();
    run.put(beat, [50]);
    run.run(300);
    expect(isValid()).toBeTrue();
    run.put(beat, [2000]);
    run.run(300);
    expect([run.words(own, 1), isValid()])
      .withContext('cut off')
      .toEqual([[1000], false]);
    run.put(beat, [60]);
    run.run(300);
    run.silent.add(plant.meter.id);
    run.run(700 + 100);
    expect([run.words(own, 1), isValid()])
      .withContext('lost')
      .toEqual([[60], false]);
  });

  it('goes out by its trigger and while it may, and only where it differs', () => {
    const source = plant.point(plant.meter, 'Wanted', { offset: 3 });
    const go = plant.point(plant.controller, 'Go', { offset: 9, type: 'bit', bit: 0 });
    const [edge, once, gated, changed, moved] = ['Edge', 'Once', 'Gated', 'Changed', 'Moved'].map((name, index) =>
      plant.point(plant.drive, name, { offset: 10 * (index + 1) }),
    ) as [Point, Point, Point, Point, Point];
    plant.route(source, edge, { trigger: { on: 'edge', pointId: go.id } });
    plant.route(source, once, { trigger: { on: 'start' } });
    plant.route(source, gated, { whileId: go.id });
    plant.route(source, changed, { onlyDifferent: true });
    plant.route(source, moved, { trigger: { on: 'change', deadband: 5 } });
    const run = plant.run();
    const all = () => [edge, once, gated, changed, moved].map((point) => run.words(point, 1)[0]);
    run.put(source, [10]);
    run.run(600);
    expect(all()).toEqual([0, 10, 0, 10, 10]);
    run.put(source, [13]);
    run.run(600);
    expect(all()).toEqual([0, 10, 0, 13, 10]);
    run.put(go, [1]);
    run.run(600);
    expect(all()).toEqual([13, 10, 13, 13, 10]);
    run.put(source, [16]);
    run.run(600);
    expect(all()).withContext('no edge again').toEqual([13, 10, 16, 16, 16]);
    run.put(go, [0]);
    run.run(300);
    const before = run.asked.filter(({ start, functionCode }) => start === changed.offset && functionCode === 6).length;
    run.run(1000);
    expect(run.asked.filter(({ start, functionCode }) => start === changed.offset && functionCode === 6).length)
      .withContext('nothing to say')
      .toBe(before);
    run.put(source, [17]);
    run.run(200);
    run.put(go, [1]);
    run.run(600);
    expect(all()).toEqual([17, 10, 17, 17, 16]);
  });

  it('makes heartbeats, follows what moves slowly, and holds back what has hardly moved', () => {
    const source = plant.point(plant.meter, 'Speed', { offset: 3 });
    const [count, slow, held] = ['Count', 'Slow', 'Held'].map((name, index) =>
      plant.point(plant.drive, name, { offset: 10 * (index + 1) }),
    ) as [Point, Point, Point];
    plant.route(source, count, { transforms: [{ kind: 'beat', pattern: 'counter', everyMs: 200 }] });
    plant.route(source, slow, {
      transforms: [
        { kind: 'rate', perSecond: 100 },
        { kind: 'round', decimals: 0, direction: 'nearest' },
      ],
    });
    plant.route(source, held, { transforms: [{ kind: 'deadband', by: 10 }] });
    const run = plant.run();
    run.put(source, [1000]);
    run.run(600);
    expect([run.words(slow, 1), run.words(held, 1)]).toEqual([[1000], [1000]]);
    run.put(source, [1009]);
    run.run(600);
    expect(run.words(held, 1)).toEqual([1000]);
    run.put(source, [1200]);
    const beats = run.words(count, 1)[0]!;
    run.run(1000);
    expect(run.words(count, 1)[0]! - beats).toBeGreaterThanOrEqual(4);
    expect(run.words(count, 1)[0]! - beats).toBeLessThanOrEqual(6);
    const reached = run.words(slow, 1)[0]!;
    expect(reached).toBeGreaterThan(1070);
    expect(reached).toBeLessThan(1120);
    expect(run.words(held, 1)).toEqual([1200]);
    run.run(2000);
    expect(run.words(slow, 1)).toEqual([1200]);
  });

  it('sets what releases a value before it, or after it', () => {
    const [source, release] = [plant.point(plant.controller, 'Wanted', { offset: 1 }), plant.point(plant.drive, 'Release', { offset: 90 })];
    const target = plant.point(plant.drive, 'Target', { offset: 5 });
    plant.route(source, target, { release: { pointId: release.id, value: 0x55, when: 'after' } });
    const other = plant.point(plant.meter, 'Limit', { offset: 7 });
    const lock = plant.point(plant.meter, 'Lock', { offset: 6 });
    plant.route(source, other, { release: { pointId: lock.id, value: 3, when: 'before' } });
    const run = plant.run();
    run.put(source, [42]);
    run.run(400);
    const order = (first: number, second: number) =>
      run.asked.filter(({ start, functionCode }) => functionCode === 6 && (start === first || start === second)).map(({ start }) => start);
    expect(order(5, 90).slice(0, 4)).toEqual([5, 90, 5, 90]);
    expect(order(6, 7).slice(0, 4)).toEqual([6, 7, 6, 7]);
    expect([run.words(target, 1), run.words(release, 1), run.words(other, 1), run.words(lock, 1)]).toEqual([[42], [0x55], [42], [3]]);
  });

  it('leaves the other bits of a register as they are, by a mask or by reading before, and coils beside its own', () => {
    const masked = plant.device('Masked', { functionCodes: [1, 2, 3, 4, 5, 6, 15, 16, 22] });
    const source = plant.point(plant.controller, 'On', { offset: 1, type: 'bit', bit: 0 });
    const [one, two] = [
      plant.point(masked, 'One', { type: 'bit', bit: 3, offset: 4 }),
      plant.point(plant.drive, 'Two', { type: 'bit', bit: 3, offset: 4 }),
    ];
    const whole = [plant.point(masked, 'Whole one', { offset: 4 }), plant.point(plant.drive, 'Whole two', { offset: 4 })];
    const coils = [20, 21, 23].map((offset) => plant.point(plant.meter, `Coil ${offset}`, { table: 'coil', type: 'bit', offset }));
    const beside = plant.point(plant.meter, 'Beside', { table: 'coil', type: 'bit', offset: 22 });
    plant.route(source, one);
    plant.route(source, two);
    for (const coil of coils) plant.route(source, coil);
    const run = plant.run();
    for (const point of whole) run.put(point, [0xff00]);
    run.put(beside, [1]);
    run.put(source, [1]);
    run.run(800);
    expect(whole.map((point) => run.words(point, 1)[0])).toEqual([0xff08, 0xff08]);
    expect([...coils, beside].map((point) => run.words(point, 1)[0])).toEqual([1, 1, 1, 1]);
    run.put(source, [0]);
    run.run(800);
    expect(whole.map((point) => run.words(point, 1)[0])).toEqual([0xff00, 0xff00]);
    expect([...coils, beside].map((point) => run.words(point, 1)[0])).toEqual([0, 0, 0, 1]);
    expect(run.asked.some(({ functionCode, area }) => functionCode === 22 && area[0] === 0xfff7)).toBeTrue();
  });

  it('asks a silent device again as often as it may, then leaves it alone for a while; one that refuses is not asked twice', () => {
    const good = plant.point(plant.meter, 'Good', { offset: 3 });
    const gone = plant.point(plant.drive, 'Gone', { offset: 3 });
    plant.route(good, plant.point(plant.controller, 'A', { offset: 1 }));
    plant.route(gone, plant.point(plant.controller, 'B', { offset: 2 }));
    const run = plant.run();
    run.silent.add(plant.drive.id);
    run.run(10_000);
    const requests = run.carrier.value('requests') as { silent: number; valid: number; good: boolean; result: number }[];
    const [first, second] = requests as [(typeof requests)[0], (typeof requests)[0]];
    expect(first).toEqual(jasmine.objectContaining({ silent: 0, good: true, result: 0 }));
    expect(first.valid).withContext('nothing held up').toBeGreaterThan(80);
    expect(second).toEqual(jasmine.objectContaining({ good: false, result: 256, valid: 0 }));
    expect(second.silent).toBeGreaterThanOrEqual(4);
    expect(second.silent).toBeLessThan(10);
    run.silent.clear();
    run.refusing.set(plant.drive.id, 2);
    run.run(8000);
    const after = (run.carrier.value('requests') as { refused: number; silent: number; result: number }[])[1]!;
    expect([after.result, after.silent]).toEqual([2, second.silent]);
    expect(after.refused).toBeGreaterThan(20);
    run.refusing.clear();
    run.put(gone, [5]);
    run.run(500);
    expect(
      run.words(
        plant.project.document.points.find(({ name }) => name === 'B')!,
        1,
      ),
    ).toEqual([5]);
  });

  it('carries texts, joined and chosen values, and numbers digit by digit', () => {
    const text = plant.point(plant.meter, 'Batch', { offset: 3, type: 'string', length: 4, order: 'BADC' });
    const label = plant.point(plant.drive, 'Label', { offset: 3, type: 'string', length: 4 });
    plant.route(text, label, { transforms: [{ kind: 'text', length: 6, pad: 'zero', side: 'left', cut: true }] });
    const [low, high] = [plant.point(plant.meter, 'Low', { offset: 20 }), plant.point(plant.meter, 'High', { offset: 21 })];
    const both = plant.point(plant.controller, 'Both', { offset: 20, type: 'uint32' });
    plant.route(low, both, { transforms: [{ kind: 'join', pointId: high.id, at: 16, count: 16 }] });
    const local = plant.point(plant.controller, 'Local', { offset: 40, type: 'bit', bit: 0 });
    const chosen = plant.point(plant.drive, 'Chosen', { offset: 40, type: 'bcd16' });
    plant.route(low, chosen, { transforms: [{ kind: 'select', pointId: local.id, otherwise: 0, otherwiseId: high.id }] });
    const run = plant.run();
    run.put(text, [0x424c, 0x2737, 0, 0]);
    run.put(low, [0x1234]);
    run.put(high, [42]);
    run.run(500);
    const letters = String.fromCharCode(...run.words(label, 4).flatMap((word) => [word >> 8, word & 0xff]));
    expect(letters).toBe("00LB7'\0\0");
    expect(run.words(both, 2)).toEqual([42, 0x1234]);
    expect(run.words(chosen, 1)).toEqual([0x42]);
    run.put(local, [1]);
    run.run(500);
    expect(run.words(chosen, 1)).toEqual([0x4660]);
  });

  it('has each name once, whatever its points and devices are called', () => {
    const odd = plant.device('Requests');
    const names = ['x', 'ready', 'Channel', 'IF', 'requests', '(* stop *)', 'ok'];
    for (const [index, name] of names.entries())
      plant.route(plant.point(odd, name, { offset: index }), plant.point(plant.controller, name, { offset: index }));
    const run = plant.run();
    for (const [index, name] of names.entries())
      run.put(
        plant.project.document.points.find((point) => point.name === name)!,
        [index + 1],
      );
    run.run(300);
    const own = plant.project.document.points.filter(({ deviceId }) => deviceId === plant.controller.id);
    expect(own.map((point) => run.words(point, 1)[0])).toEqual([1, 2, 3, 4, 5, 6, 7]);
    expect(plant.text()).not.toContain('§');
    const again = new Plant();
    const [bits, beside] = [{ bits: [{ bit: 0, name: 'on' }] }, {}].map((fields, index) =>
      again.point(again.meter, ['Status', 'Status bits'][index]!, { offset: index, ...fields }),
    ) as [Point, Point];
    const ready = again.point(again.drive, 'ready', { offset: 3 });
    again.route(bits, ready);
    again.route(beside, again.point(again.controller, 'Beside', { offset: 4 }));
    const other = again.run();
    other.put(bits, [9]);
    other.put(beside, [8]);
    other.run(400);
    expect([other.words(ready, 1), other.words(again.project.document.points.at(-1)!, 1)]).toEqual([[9], [8]]);
  });

  it('has the bits of a word by name, and says in words what a result means', () => {
    const status = plant.point(plant.meter, 'Status', {
      offset: 3,
      bits: [
        { bit: 0, name: 'running' },
        { bit: 5, name: 'too hot' },
      ],
    });
    plant.route(status, plant.point(plant.controller, 'Status', { offset: 3 }));
    const run = plant.run();
    run.put(status, [0x20]);
    run.run(300);
    expect(run.carrier.value('Meter')).toEqual({ Status: 32, Status_bits: { running: false, too_hot: true } });
    expect(plant.text()).toContain("256: ResultText := 'no answer';");
  });

  it('is nothing for a controller that carries nothing, and says what it leaves out and why', () => {
    const wide = plant.point(plant.meter, 'Wide', { offset: 3, type: 'float64' });
    plant.route(wide, plant.point(plant.controller, 'Wide', { offset: 3, type: 'float64' }));
    const { plan } = compile(plant.project.document);
    const made = controllerProgram(plant.project.document, plan, plant.controller, { portable: true })!;
    expect(made.leftOut.map(({ why }) => why)).toEqual(['Wide has 64 bits.']);
    expect(made.routeIds).toEqual([]);
    const valid = plant.point(plant.meter, 'Is valid', { offset: 40, type: 'uint64' });
    plant.route(plant.point(plant.meter, 'Plain', { offset: 50 }), plant.point(plant.controller, 'Plain', { offset: 50 }), {
      loss: { rule: 'invalid', value: null, validId: valid.id, afterMs: 1000, stillMs: null },
    });
    const again = compile(plant.project.document).plan;
    const narrow = controllerProgram(plant.project.document, again, plant.controller, { portable: true })!;
    expect(narrow.leftOut.map(({ why }) => why)).toEqual(['Wide has 64 bits.', 'Is valid has 64 bits.']);
    expect(new PreparedCarrier(plant.project.document, plan, plant.controller, { portable: true }).problem).toBeNull();
    expect(controllerProgram(plant.project.document, plan, plant.meter, { portable: false })).toBeNull();
    expect(new PreparedCarrier(plant.project.document, plan, plant.meter, { portable: false }).problem).toBe('Meter carries nothing.');
  });

  it('of every controller of the demo is read, checked and runs', () => {
    const document = fernhollow();
    const { plan } = compile(document);
    const carriers = document.devices.filter(({ id }) => plan.routes.some(({ carrierId }) => carrierId === id));
    expect(carriers.map(({ name }) => name)).toEqual(['Kiln controller', 'Steep controller']);
    for (const controller of carriers)
      for (const isPortable of [false, true]) {
        const run = new RunProgram(document, controller, isPortable);
        expect(run.carrier.made!.leftOut).toEqual([]);
        run.run(2000);
        expect(run.asked.length).toBeGreaterThan(0);
      }
  });
});
