import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import {
  addDevices,
  blankLine,
  nextName,
  templateOf,
  blankPort,
  applyChanges,
  type Change,
  checkChanges,
  deletion,
  inverse,
  Point,
  ProjectDocument,
  undoStacks,
} from './index.js';
import { readTemplate } from '../project-file/index.js';
import { Line, Port } from '../media/index.js';

const demo = fernhollow();

function firstMessage(schema: { safeParse(value: unknown): { error?: { issues: { message: string }[] } } }, value: unknown) {
  return schema.safeParse(value).error?.issues[0]?.message;
}

describe('the demo', () => {
  it('fits its schemas and is as large as it should be', () => {
    expect(ProjectDocument.safeParse(demo).error).toBeUndefined();
    expect(demo.points.length).toBeGreaterThanOrEqual(25);
    expect(demo.routes.length).toBeGreaterThanOrEqual(15);
  });
});

describe('points and ports', () => {
  const point = demo.points[0]!;
  const serial = demo.ports.find((port) => port.kind === 'serial' && port.unitId !== null)!;

  it('are refused with a sentence where they do not fit', () => {
    expect(firstMessage(Point, { ...point, offset: 65_536 })).toBe('A table ends at offset 65535.');
    expect(firstMessage(Point, { ...point, offset: -1 })).toBe('An offset starts at 0.');
    expect(firstMessage(Point, { ...point, offset: 65_535 })).toContain('would end at offset 65536');
    expect(firstMessage(Point, { ...point, access: 'readWrite' })).toContain('can only be read');
    expect(firstMessage(Point, { ...point, table: 'coil' })).toContain('choose the type bit');
    expect(firstMessage(Point, { ...point, name: '' })).toBe('A name is needed.');
    expect(firstMessage(Port, { ...serial, unitId: 256 })).toContain('A unit ID is one byte');
    expect(firstMessage(Port, { ...serial, stubM: -1 })).toBe('A length is not negative.');
  });
});

describe('change sets', () => {
  const [first, second] = demo.points as [Point, Point];
  const renamed: Change = { entity: 'point', id: first.id, before: first, after: { ...first, name: 'Renamed' } };

  it('change only what they name, and leave the document given alone', () => {
    const after = applyChanges(demo, [renamed]);
    expect(after.points[0]?.name).toBe('Renamed');
    expect(after.points[1]).toBe(second);
    expect(after.routes).toBe(demo.routes);
    expect(demo.points[0]?.name).not.toBe('Renamed');
  });

  it('are undone by their inverse', () => {
    const sorted = (document: ProjectDocument) => ({
      ...document,
      points: [...document.points].sort((a, b) => (a.id < b.id ? -1 : 1)),
      routes: [...document.routes].sort((a, b) => (a.id < b.id ? -1 : 1)),
    });
    fc.assert(
      fc.property(fc.subarray(demo.points, { minLength: 1 }), fc.boolean(), (chosen, remove) => {
        const changes = remove
          ? deletion(demo, 'point', chosen[0]!.id)
          : chosen.map((point): Change => ({ entity: 'point', id: point.id, before: point, after: { ...point, note: 'x' } }));
        expect(sorted(applyChanges(applyChanges(demo, changes), inverse(changes)))).toEqual(sorted(demo));
      }),
    );
  });

  it('are checked field by field, with the path to the field', () => {
    const wrong = { ...renamed, after: { ...first, offset: 65_536 } };
    const result = checkChanges([wrong], demo.project.id);
    expect(result).toEqual({ ok: false, problem: { message: 'A table ends at offset 65535.', path: ['changes', 0, 'after', 'offset'] } });
    expect(checkChanges([renamed, renamed], demo.project.id).ok).toBeFalse();
    expect(checkChanges([{ ...renamed, after: { ...first, projectId: first.id } }], demo.project.id).ok).toBeFalse();
  });

  it('delete a device with its ports, its points and their routes', () => {
    const gone = deletion(demo, 'device', demo.devices.find((device) => device.name === 'Exhaust damper')!.id);
    const count = (entity: string) => gone.filter((change) => change.entity === entity).length;
    expect([count('device'), count('port'), count('point'), count('route')]).toEqual([1, 1, 4, 5]);
    expect(gone.at(-1)?.entity).toBe('device');
  });
});

describe('undoStacks', () => {
  const edit = (id: string) => ({ id, kind: 'edit' as const, of: id });

  it('knows what stands and what can be done again', () => {
    const history = [edit('a'), edit('b'), { id: 'c', kind: 'undo' as const, of: 'b' }];
    expect(undoStacks(history)).toEqual({ undo: ['a'], redo: ['b'] });
    expect(undoStacks([...history, { id: 'd', kind: 'redo', of: 'b' }])).toEqual({ undo: ['a', 'b'], redo: [] });
    expect(undoStacks([...history, edit('e')])).toEqual({ undo: ['a', 'e'], redo: [] });
  });
});

describe('a blank', () => {
  it('line of every kind is a line, and a port that joins it fits and takes the next free place', () => {
    for (const kind of ['ethernet', 'serial', 'can', 'telecontrol'] as const) {
      const line = blankLine(kind, { id: demo.lines[0]!.id, projectId: demo.project.id, name: 'New' });
      expect(Line.safeParse(line).success).withContext(kind).toBeTrue();
      const port = blankPort({ ...demo, ports: [] }, line, { id: demo.ports[0]!.id, deviceId: demo.devices[0]!.id });
      expect(Port.safeParse(port).success).withContext(kind).toBeTrue();
    }
    const joined = (name: string) => {
      const line = demo.lines.find((row) => row.name === name)!;
      return blankPort(demo, line, { id: demo.ports[0]!.id, deviceId: demo.devices[0]!.id });
    };
    expect(joined('Process net')).toEqual(jasmine.objectContaining({ ip: '10.40.8.51', mask: '255.255.255.0' }));
    expect(joined('Kiln bus')).toEqual(jasmine.objectContaining({ unitId: 42, baud: 19_200, parity: 'even', position: 6 }));
    expect(joined('Moisture cable')).toEqual(jasmine.objectContaining({ unitId: null, framing: 'text', levels: 'rs232' }));
  });
});

describe('applyChanges', () => {
  it('adds, replaces and deletes, whether few rows are changed or many', () => {
    const [first, ...others] = demo.points as [(typeof demo.points)[0], ...typeof demo.points];
    const added = { ...first, id: first.id.replace(/^019a/, '019b') };
    const renamed = others.map((row) => ({ ...row, name: `${row.name} x` }));
    const replacing = renamed.map((after, index): Change => ({ entity: 'point', id: after.id, before: others[index]!, after }));
    const few: Change[] = [
      replacing[0]!,
      { entity: 'point', id: first.id, before: first, after: null },
      { entity: 'point', id: added.id, before: null, after: added },
    ];
    expect(applyChanges(demo, few).points).toEqual([renamed[0]!, ...others.slice(1), added]);
    expect(applyChanges(demo, [...few, ...replacing.slice(1)]).points).toEqual([...renamed, added]);
    expect(applyChanges(applyChanges(demo, few), inverse(few)).points)
      .withContext('what comes back has its place again')
      .toEqual(demo.points);
  });
});

describe('a device template', () => {
  const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
  const lineOf = (name: string) => demo.lines.find((line) => line.name === name)!.id;
  let made = 0;
  const newId = () => `019aa111-0000-7000-8000-${(made++).toString(16).padStart(12, '0')}`;

  it('is saved and read back, and refuses other files in a sentence', () => {
    const template = templateOf(demo, idOf('Plant meter'));
    expect([template.points.length, template.ports.length]).toEqual([
      demo.points.filter((row) => row.deviceId === idOf('Plant meter')).length,
      1,
    ]);
    expect(readTemplate(`\uFEFF${JSON.stringify(template)}`)).toEqual({ ok: true, value: template });
    const problem = (text: string) => {
      const read = readTemplate(text);
      return read.ok ? '' : read.problem.message;
    };
    expect(problem('Name;Address')).toContain('not JSON');
    expect(problem('{"format":"other"}')).toContain('its format is not');
    expect(problem(JSON.stringify({ ...template, points: [{ ...template.points[0], offset: 70_000 }] }))).toContain(
      '(at points, 0, offset)',
    );
  });

  it('takes its telegrams along, and its points lie in those', () => {
    const template = templateOf(demo, idOf('Weigh indicator'));
    expect(readTemplate(JSON.stringify(template))).toEqual({ ok: true, value: template });
    const added = addDevices(demo, { template, name: 'Second scale', lineId: lineOf('Weighbridge cable'), count: 1, newId });
    const changes = added.ok ? checkChanges(added.value, demo.project.id) : added;
    if (!changes.ok) throw new Error(changes.problem.message);
    const telegram = changes.value.find(({ entity }) => entity === 'telegram')!;
    const places = changes.value.flatMap(({ entity, after }) => (entity === 'point' ? [(after as { place: unknown }).place] : []));
    expect(telegram.id).not.toBe(demo.telegrams[0]!.id);
    expect(places.length).toBe(5);
    expect(places.every((place) => (place as { telegramId: string }).telegramId === telegram.id)).toBeTrue();
  });

  it('adds n devices whose names and unit IDs count up, with all their points, in changes that are accepted', () => {
    const template = templateOf(demo, idOf('Grain cable 6'));
    const added = addDevices(demo, { template, name: 'Grain cable 7', lineId: lineOf('Loft bus'), count: 3, newId });
    if (!added.ok) throw new Error(added.problem.message);
    expect(checkChanges(added.value, demo.project.id).ok).toBeTrue();
    const after = applyChanges(demo, added.value);
    expect(after.devices.slice(-3).map(({ name }) => name)).toEqual(['Grain cable 7', 'Grain cable 8', 'Grain cable 9']);
    expect(after.ports.slice(-3).map((port) => port.kind === 'serial' && [port.unitId, port.terminated, port.unitLoads])).toEqual([
      [21, false, 0.25],
      [22, false, 0.25],
      [23, false, 0.25],
    ]);
    expect(after.points.length).toBe(demo.points.length + 9);
  });

  it('counts addresses on a network, and lets stand-ins listen beside them', () => {
    const template = templateOf(demo, idOf('Floor I/O block'));
    const added = addDevices(demo, { template, name: 'Floor I/O block 2', lineId: lineOf('Process net'), count: 2, newId });
    if (!added.ok) throw new Error(added.problem.message);
    const ports = added.value.flatMap(({ entity, after }) => (entity === 'port' ? [after!] : []));
    expect(ports.map((port) => [port['ip'], port['standInAddress']])).toEqual([
      ['10.40.8.51', '127.40.8.51'],
      ['10.40.8.52', '127.40.8.52'],
    ]);
  });

  it('refuses a name that is taken, and joins a line of another kind with a blank port', () => {
    const template = templateOf(demo, idOf('Plant meter'));
    const twice = addDevices(demo, { template, name: 'Plant meter', lineId: null, count: 1, newId });
    expect(twice).toEqual({ ok: false, problem: { message: 'There is a device “Plant meter” already.', path: ['name'] } });
    const onNet = addDevices(demo, { template, name: 'Plant meter 2', lineId: lineOf('Process net'), count: 1, newId });
    expect(onNet.ok && onNet.value[1]?.after?.['kind']).toBe('ethernet');
    expect([nextName('Pump'), nextName('Pump 09'), nextName('Tank 99')]).toEqual(['Pump 2', 'Pump 10', 'Tank 100']);
  });
});
