import { fernhollow } from '../demo/index.js';
import { compile } from '../compile/index.js';
import { causesFirst } from '../findings/index.js';
import type { Device, Point, ProjectDocument } from '../model/index.js';
import { blankPoint } from '../model/index.js';
import { isFar } from '../place/index.js';
import { describeRequest } from '../plan/index.js';
import { forecast } from '../forecast/index.js';
import type { SideWindow } from '../image/index.js';
import { askedFor, converterOf, farLineOf } from './index.js';
import { orderOf, placeFar, placeAnew } from '../placing/index.js';
import { imageBytes, mappingSheet, namesOfByte, spansInImage } from '../mapping/index.js';
import { ImageMemory } from '../playing/index.js';
import { fieldHolds, pointsOfTelegram, readSamples, refreshOf } from '../text-line/index.js';
import { withWholeFrames } from '../testing/index.js';

const demo = fernhollow();
const device = (name: string, of: ProjectDocument = demo): Device => of.devices.find((row) => row.name === name)!;
const pointOf = (name: string, of: ProjectDocument = demo): Point => of.points.find((row) => row.name === name && isFar(row.place))!;
const weighbridge = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const textPort = device('Text port');

function withImage(change: (windows: SideWindow[]) => SideWindow[]): ProjectDocument {
  const image = { ...textPort.image!, windows: change(textPort.image!.windows) };
  return { ...demo, devices: demo.devices.map((row) => (row.id === textPort.id ? { ...row, image } : row)) };
}
function withPoint(name: string, fields: Partial<Point>): ProjectDocument {
  return { ...demo, points: demo.points.map((row) => (row === pointOf(name) ? { ...row, ...fields } : row)) };
}

describe('A device behind a converter', () => {
  it('is asked at the converter, whose registers its points are', () => {
    expect(farLineOf(demo, device('Weigh indicator').id)).toBe(weighbridge);
    expect(converterOf(demo, device('Weigh indicator').id)).toEqual({ converter: textPort, line: weighbridge });
    expect([farLineOf(demo, textPort.id), farLineOf(demo, device('Kiln controller').id)]).toEqual([null, null]);
    const askedAt = askedFor(demo);
    expect(askedAt(device('Moisture analyser').id)).toBe(textPort.id);
    expect(askedAt(device('Burner control').id)).toBe(device('Burner control').id);
  });

  it('shares its requests with the others behind the same converter', () => {
    const { plan, findings } = compile(demo);
    const reads = plan.requests.filter(({ deviceId, kind }) => deviceId === textPort.id && kind === 'read');
    expect(reads.map((request) => describeRequest(request, plan.endpoints))).toEqual([
      'reads 24 input registers from offset 0 of Text port, unit 255, with function 4, every 2000 ms',
    ]);
    expect(plan.routes.find(({ name }) => name === 'Gross weight')?.readId).toBe(reads[0]!.id);
    expect(findings.filter(({ at }) => at.entity === 'telegram' || at.id === textPort.id)).toEqual([]);
  });
});

describe('Placing what comes from a far end', () => {
  const fresh = (name: string, fields: Partial<Point> = {}): Point => ({
    ...blankPoint({ id: `new ${name}`, projectId: demo.project.id, deviceId: device('Weigh indicator').id }),
    ...{ name, place: { ...pointOf('Gross weight').place, field: name } as Point['place'] },
    ...fields,
  });
  const places = (points: readonly Point[], of: ProjectDocument = demo) => {
    const placed = placeFar(of, device('Weigh indicator').id, points);
    return placed.ok ? placed.value.map(({ table, offset, bit, order }) => [table, offset, bit, order]) : placed.problem.message;
  };

  it('goes next to what is read already, within the bytes of its line, and moves nothing', () => {
    expect(places([fresh('net', { type: 'int16' })])).toEqual([['input', 5, null, 'ABCD']]);
    expect(places([fresh('a', { type: 'bit' }), fresh('b', { type: 'int32' })])).toEqual([
      ['input', 4, 1, 'ABCD'],
      ['input', 8, null, 'ABCD'],
    ]);
  });

  it('has the order that follows from both windows', () => {
    const order = (laid: SideWindow['order'], seen: SideWindow['order'], type: Point['type']) => {
      const of = withImage((windows) => windows.map((window) => ({ ...window, order: window.table ? seen : laid })));
      const found = places([fresh('x', { type, ...(type === 'string' ? { length: 2, encoding: 'ascii' as const } : {}) })], of);
      return typeof found === 'string' ? found : found[0]![3];
    };
    expect([order('high-first', 'high-first', 'int32'), order('high-first', 'low-first', 'int32')]).toEqual(['ABCD', 'BADC']);
    expect([order('low-first', 'high-first', 'int32'), order('low-first', 'low-first', 'int32')]).toEqual(['DCBA', 'CDAB']);
    expect([order('low-first', 'high-first', 'string'), order('low-first', 'low-first', 'string')]).toEqual(['ABCD', 'BADC']);
  });

  it('says what has no room, or no window', () => {
    const narrow = withImage((windows) => windows.map((window) => (window.lineId === weighbridge.id ? { ...window, bytes: 16 } : window)));
    expect(places([fresh('long', { type: 'string', length: 4, encoding: 'ascii' })], narrow)).toBe(
      'long finds no place in the image of Text port: There is no room for 4 registers in a row.',
    );
    expect(
      places(
        [fresh('x')],
        withImage((windows) => windows.filter(({ lineId }) => lineId !== weighbridge.id)),
      ),
    ).toBe('No window of Text port says which bytes of its image Weighbridge cable writes.');
  });

  it('puts all of them side by side when they are placed anew, but for those that are pinned', () => {
    const pinned = { ...pointOf('Gross weight').place, pinned: true } as Point['place'];
    const anew = (of: ProjectDocument) => {
      const found = placeAnew(of, textPort.id);
      return found.ok ? Object.fromEntries(found.value.map(({ name, offset }) => [name, offset])) : found.problem.message;
    };
    const fixed = withPoint('Gross weight', { offset: 8, place: pinned });
    const placed = anew(fixed);
    expect(Object.keys(placed)).not.toContain('Gross weight');
    const after = {
      ...fixed,
      points: fixed.points.map((point) =>
        (placed as Record<string, number>)[point.name] !== undefined && isFar(point.place)
          ? { ...point, offset: (placed as Record<string, number>)[point.name]! }
          : point,
      ),
    };
    expect(anew(after)).withContext('a second time').toEqual({});
    expect(compile(after).findings.filter(({ check }) => check.startsWith('image') || check === 'outside-windows')).toEqual([]);
    expect(compile(after).plan.requests.filter(({ deviceId, kind }) => deviceId === textPort.id && kind === 'read').length).toBe(1);
  });

  it('makes points of the fields that have none, by what the samples show', () => {
    const [weighing, sample] = demo.telegrams;
    const without = { ...demo, points: demo.points.filter(({ place }) => !isFar(place)) };
    const made = (index: 0 | 1) => {
      let count = 0;
      const found = pointsOfTelegram(without, [weighing!, sample!][index]!, () => `id ${++count}`);
      return found.ok
        ? found.value.map(({ name, type, scale, codes }) => [name, type, scale && 'factor' in scale ? scale.factor : codes.length])
        : found.problem;
    };
    expect(made(0)).toEqual([
      ['Number', 'int16', 0],
      ['Gross', 'int16', 0],
      ['Status', 'uint16', 2],
      ['Weighing is valid', 'bit', 0],
    ]);
    expect(made(1)).toEqual([
      ['Head', 'uint16', 1],
      ['Number', 'uint16', 0],
      ['Moisture', 'int16', 0.01],
      ['Temperature', 'int16', 0.1],
      ['Sample is valid', 'bit', 0],
    ]);
    const beside = { ...demo, points: demo.points.filter(({ deviceId }) => deviceId !== device('Weigh indicator').id) };
    let count = 0;
    const placed = pointsOfTelegram(beside, weighing!, () => `id ${++count}`);
    expect(placed.ok && placed.value.map(({ offset, bit }) => [offset, bit]))
      .withContext('beside those of the other line')
      .toEqual([
        [15, null],
        [14, null],
        [13, null],
        [12, 0],
      ]);
    expect(pointsOfTelegram(demo, weighing!, () => 'x'))
      .withContext('a checksum has none')
      .toEqual({ ok: true, value: [] });
  });
});

describe('The image of the demo’s text port', () => {
  it('has each value at its bytes, and names for them on every side', () => {
    const spans = spansInImage(demo, textPort);
    expect(spans.find(({ point }) => point.name === 'Gross weight')).toEqual(jasmine.objectContaining({ from: 2, to: 5 }));
    expect(spans.find(({ point }) => point.name === 'Weighing is valid')).toEqual(jasmine.objectContaining({ from: 9, to: 9 }));
    const [second, far] = [imageBytes(textPort.image!, spans, 2, 1)[0]!, imageBytes(textPort.image!, spans, 78, 10)];
    expect([second.writers, second.values.map(({ name }) => name)]).toEqual([[weighbridge.id], ['Gross weight']]);
    expect(far.map(({ byte }) => byte)).toEqual([78, 79]);
    expect(namesOfByte(textPort.image!, 34).map(({ byte, register }) => register ?? byte)).toEqual([17, 2]);
  });

  it('shows what one side lays through the windows of the others, and takes over what Modbus writes', () => {
    const held = new Map<string, number>();
    const registers = {
      get: (table: string, offset: number) => held.get(`${table} ${offset}`) ?? 0,
      set: (table: string, offset: number, ...words: number[]) => words.forEach((word, at) => held.set(`${table} ${offset + at}`, word)),
    };
    const windows: SideWindow[] = [
      { lineId: 'net', use: 'reads', table: 'input', offset: 10, byte: 0, bytes: 8, order: 'high-first' },
      { lineId: 'net', use: 'reads', table: 'discrete', offset: 0, byte: 0, bytes: 1, order: 'high-first' },
      { lineId: 'net', use: 'writes', table: 'holding', offset: 0, byte: 8, bytes: 8, order: 'low-first' },
      { lineId: 'text', use: 'writes', byte: 0, bytes: 8, order: 'low-first' },
      { lineId: 'text', use: 'reads', byte: 8, bytes: 8, order: 'high-first' },
    ];
    const memory = new ImageMemory({ bytes: 16, refreshMs: 10, evenWide: false, windows }, registers);
    const at = (fields: Partial<Point>): Point => ({ ...pointOf('Gross weight'), table: 'input', offset: 10, ...fields });
    memory.of('text').write(at({ type: 'int32' }), [0x0102, 0x0304]);
    expect([...memory.bytes.subarray(0, 4)]).toEqual([4, 3, 2, 1]);
    expect([registers.get('input', 10), registers.get('input', 11), registers.get('discrete', 2)]).toEqual([0x0403, 0x0201, 1]);
    memory.of('text').write(at({ type: 'string', length: 1, offset: 12 }), [0x4142]);
    expect(registers.get('input', 12)).toBe(0x4142);
    memory.of('text').write(at({ type: 'bit', bit: 9, offset: 13 }), [1]);
    expect(registers.get('input', 13)).toBe(0x0200);
    registers.set('holding', 0, 0x3412, 0x7856);
    memory.wrote({ table: 'holding', first: 0, count: 2 });
    expect(memory.of('text').read(at({ table: 'holding', offset: 0, type: 'int32' }))).toEqual([0x1234, 0x5678]);
    memory.of('text').write(at({ table: 'holding', offset: 0, type: 'int32' }), [1, 1]);
    expect(registers.get('holding', 0)).withContext('bytes that this side only reads').toBe(0x3412);
    memory.poke(0, [0xff]);
    expect(registers.get('input', 10)).toBe(0xff03);
    const slow = new ImageMemory({ bytes: 16, refreshMs: 200, evenWide: false, windows }, registers);
    slow.of('text').write(at({ type: 'int32' }), [0x0506, 0x0708]);
    slow.of('text').write(at({ type: 'bit', bit: 9, offset: 13 }), [1]);
    registers.set('holding', 0, 0x1100, 0x2200);
    slow.wrote({ table: 'holding', first: 0, count: 2 });
    slow.step(150);
    const seen = () => [registers.get('input', 10), registers.get('input', 13), slow.of('text').read(at({ table: 'holding', offset: 0 }))];
    expect(seen())
      .withContext('it carries five times a second only')
      .toEqual([0, 0, [0, 0]]);
    slow.step(50);
    expect(seen()).toEqual([0x0807, 0x0200, [0x0011, 0x0022]]);
  });
});

describe('The mapping sheet of a converter', () => {
  it('has every number as its set-up asks for it, in the order of the image', () => {
    const { rows, settings } = mappingSheet(demo, { ...textPort, notation: 'reference5' });
    const told = rows.map(({ far, bytes, farBytes, register, order }) => [far, bytes, farBytes, register, order]);
    expect(told.slice(0, 4)).toEqual([
      ['field number of Weighing', '0 to 1', '0 to 1', '30001', 'ABCD'],
      ['field gross of Weighing', '2 to 5', '2 to 5', '30002', 'ABCD'],
      ['field status of Weighing', '6 to 7', '6 to 7', '30004', 'ABCD'],
      ['valid of Weighing', '9.0', '9.0', '30005.0', ''],
    ]);
    expect(told[5]).toEqual(['field moisture of Sample', '40 to 41', '8 to 9', '30021', 'ABCD']);
    expect(settings).toContain('Process net reads bytes 0 to 79 of the image as input registers from 30001 on, high byte first.');
    expect(settings).toContain('Weighing is received every 500 ms, ends by <CR>.');
  });

  it('is there for a controller that keeps what it exchanges over a cyclic link', () => {
    const { rows, settings } = mappingSheet(demo, device('Kiln controller'));
    expect(settings.at(-1)).toBe(
      'Silo link exchanges 16 bytes of input (block 1), and 12 bytes of output (block 2), valid while its byte 0 is 1, every 100 ms; it is lost when more than 4 updates stay away, and then the outputs go to zero.',
    );
    expect(rows.map(({ far, register }) => [far, register]).filter((_, index) => [1, 4, 6, 8].includes(index))).toEqual([
      ['input bytes 2 to 3, little-endian', 'W401'],
      ['input bytes 8 to 11, little-endian', 'W404'],
      ['valid of the link', 'W407.0'],
      ['output byte 0', 'W420'],
    ]);
  });
});

describe('A converter that passes frames whole', () => {
  const whole = withWholeFrames(demo);
  const converter = device('Turner converter', whole);
  const line = whole.lines.find(({ kind }) => kind === 'can')!;

  it('has a sheet that says how the controller reads and makes them', () => {
    const { rows, settings } = mappingSheet(whole, converter);
    expect(settings.at(-2)).toBe(
      'All of it passes frames with identifiers 18A00000 to 18A0FFFF hex, of 29 bits, whole into 2 records, one after the other and then from the first again: a record holds a new frame when its count is another than before, and the highest is the newest; counts go from 1 to 65535 and then on from 1, and a count that is left out is a frame that was lost. None for 500 ms counts as lost.',
    );
    expect(settings.at(-1)).toContain('identifier, length and data are written first, and then a count that is one more');
    const at = (far: string) =>
      rows.filter((row) => row.far === far).map(({ direction, registers, order }) => [direction, registers, order]);
    expect(at('data from byte 2 on of record 2 of All of it')).toEqual([['into the image', 1, 'ABCD']]);
    expect(at('identifier of record 1 of Made')).toEqual([['out of the image', 2, 'ABCD']]);
    expect(at('done of Made')).toEqual([['into the image', 1, 'ABCD']]);
  });

  it('has the bytes of their data as they came, whatever its line lays first', () => {
    const low = {
      ...converter,
      image: {
        ...converter.image!,
        windows: converter.image!.windows.map((window) =>
          window.lineId === line.id ? { ...window, order: 'low-first' as const } : window,
        ),
      },
    };
    const of = { ...whole, devices: whole.devices.map((row) => (row === converter ? low : row)) };
    const part = (name: string) => of.points.find((point) => point.name === name)!;
    expect(['All of it 1 data 2', 'All of it 1 count', 'All of it 1 identifier'].map((name) => orderOf(of, part(name)))).toEqual([
      'ABCD',
      'DCBA',
      'DCBA',
    ]);
    const registers = { get: () => 0, set: () => undefined };
    const memory = new ImageMemory(low.image, registers);
    const from = (name: string) => spansInImage(of, low).find(({ point }) => point.name === name)!.from;
    memory.of(line.id).write(part('All of it 1 data 2'), [0x0102]);
    memory.of(line.id).write(part('All of it 1 count'), [0x0304]);
    const bytes = (name: string) => [...memory.bytes.subarray(from(name), from(name) + 2)];
    expect([bytes('All of it 1 data 2'), bytes('All of it 1 count')]).toEqual([
      [1, 2],
      [4, 3],
    ]);
  });
});

describe('What lies in a field', () => {
  it('is what its telegram can say, no longer than what came', () => {
    const can = (name: string, value: number) => fieldHolds(demo, pointOf(name), value);
    expect([65_536, 999_999, 1_000_000, -1].map((kg) => can('Gross weight', kg))).toEqual([true, true, false, true]);
    expect([can('Moisture', 46.6), can('Moisture', 655.35), can('Weighing status', 1), can('Weighing status', 2)]).toEqual([
      true,
      false,
      true,
      false,
    ]);
    expect(fieldHolds(demo, demo.points[0]!, 9e9)).toBeTrue();
  });

  it('is as old as the time between two telegrams, on the line and in the converter', () => {
    expect(refreshOf(demo, pointOf('Gross weight'))).toEqual({ meanMs: 250 + 18.75 + 5, worstMs: 500 + 18.75 + 10 });
    expect([refreshOf(demo, pointOf('Weighing is valid')), refreshOf(demo, demo.points[0]!)]).toEqual([null, null]);
    const { plan } = compile(demo);
    const ageOf = (document: ProjectDocument) =>
      forecast(document, plan, { horizonMs: 20_000, dead: [], backsOff: false }).routes.find(
        ({ id }) => id === plan.routes.find(({ name }) => name === 'Gross weight')!.id,
      )!.age!.worstMs;
    expect(ageOf(demo) - ageOf({ ...demo, telegrams: [] })).toBeCloseTo(528.75, 6);
  });
});

describe('Samples of a telegram', () => {
  const weighing = demo.telegrams[0]!;

  it('are read as they are typed, with and without their end', () => {
    expect(readSamples(weighing).map(({ ok }) => ok)).toEqual([true, true, true]);
    expect(readSamples({ ...weighing, samples: '0042;+018405;S;76' })[0]!.ok).toBeTrue();
    expect(readSamples({ ...weighing, samples: '0042;+018405;S;76<LF>\n\n' }).map(({ problem }) => problem)).toEqual([
      'It does not end with 0D.',
    ]);
  });
});

describe('What is wrong with a converter or a telegram', () => {
  const first = (of: ProjectDocument) => {
    const before = new Set(compile(demo).findings.map(({ check, at }) => `${check} ${at.id}`));
    return compile(of)
      .findings.filter(({ check, at }) => !before.has(`${check} ${at.id}`))
      .sort(causesFirst)[0];
  };
  const withTelegram = (
    index: number,
    change: (telegram: ProjectDocument['telegrams'][number]) => ProjectDocument['telegrams'][number],
  ) => ({
    ...demo,
    telegrams: demo.telegrams.map((row, at) => (at === index ? change(row) : row)),
  });
  const field = (index: number, name: string, change: object) =>
    withTelegram(index, (row) => ({
      ...row,
      telegram: { ...row.telegram, fields: row.telegram.fields.map((one) => (one.name === name ? ({ ...one, ...change } as never) : one)) },
    }));

  it('is named first for an end mark, a shifted field, decimals and the kind of a checksum', () => {
    expect(first(withTelegram(0, (row) => ({ ...row, telegram: { ...row.telegram, end: ['0A'] } })))?.check).toBe('samples-not-read');
    expect(first(field(1, 'moisture', { at: { from: 8, length: 5 } }))?.check).toBe('samples-not-read');
    expect(first(withPoint('Moisture', { scale: { factor: 0.1, offset: 0 } }))?.check).toBe('sample-lost');
    const wrong = first(field(0, 'check', { checksum: { kind: 'sum8', from: 0, to: -4, written: 'hex' } }));
    expect([wrong?.check, wrong?.message]).toEqual(['samples-not-read', jasmine.stringContaining('check is')]);
  });

  it('is named first for the order of a window, bytes of two writers, and registers that show something else', () => {
    const swapped = withImage((windows) => windows.map((window) => (window.table ? { ...window, order: 'low-first' } : window)));
    const order = first(swapped)!;
    expect([order.check, order.fixes[0]!.label]).toEqual(['image-order', 'Set the order of Weighing number to BADC']);
    const both = withImage((windows) => windows.map((window) => (window.byte === 32 ? { ...window, byte: 16 } : window)));
    expect(first(both)?.check).toBe('byte-two-writers');
    const moved = first(withPoint('Gross weight', { offset: 60 }))!;
    expect([moved.check, moved.fixes[0]!.label]).toEqual(['outside-windows', 'Place it at offset 1']);
    expect(first(withPoint('Gross weight', { offset: 2 }))?.check).toBe('image-overlap');
    const gone = compile({ ...demo, telegrams: [] }).findings.map(({ message }) => message);
    expect(gone).toContain('Gross weight lies in a telegram that is gone.');
    const none = { ...demo, devices: demo.devices.map((row) => (row.id === textPort.id ? { ...row, image: null } : row)) };
    expect(compile(none).findings.map(({ check }) => check)).toContain('no-image');
  });

  it('is named first for another parity, and for the other direction', () => {
    const ports = demo.ports.map((port) =>
      port.deviceId === device('Weigh indicator').id && port.kind === 'serial' ? { ...port, parity: 'odd' as const } : port,
    );
    expect(first({ ...demo, ports })?.check).toBe('settings-differ');
    expect(first(withTelegram(0, (row) => ({ ...row, direction: 'taken' })))?.check).toBe('outside-windows');
  });

  it('is named for times that do not go together, fields that share characters, and answers to nothing', () => {
    const rounds = demo.rounds.map((round) => (round.periodMs === 2000 ? { ...round, periodMs: 200 } : round));
    const routes = demo.routes.map((route) => ({ ...route, trigger: { on: 'round' as const } }));
    expect(compile({ ...demo, rounds, routes }).findings.map(({ check }) => check)).toContain('read-before-refreshed');
    const lost = first(withTelegram(0, (row) => ({ ...row, lostAfterMs: 600 })))!;
    expect([lost.check, lost.fixes[0]!.label]).toEqual(['lost-before-next', 'Lost after 1500 ms']);
    const slow = demo.lines.map((line) => (line.kind === 'serial' && line.id === weighbridge.id ? { ...line, baud: 300 as const } : line));
    expect(compile({ ...demo, lines: slow }).findings.map(({ check }) => check)).toContain('longer-than-period');
    expect(first(field(1, 'number', { at: { from: 5, length: 4 } }))?.check).toBeDefined();
    const checks = compile(field(1, 'number', { at: { from: 5, length: 4 } })).findings.map(({ check }) => check);
    expect(checks).toContain('fields-overlap');
    expect(first(withTelegram(0, (row) => ({ ...row, when: { on: 'request', telegramId: row.deviceId } })))?.check).toBe('answers-nothing');
    expect(first(field(0, 'gross', { name: 'net' }))?.check).toBe('field-gone');
  });

  it('does not change what follows from windows that are right', () => {
    for (const point of demo.points.filter(({ place }) => isFar(place))) expect(orderOf(demo, point)).withContext(point.name).toBe('ABCD');
  });
});
