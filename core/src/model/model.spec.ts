import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { applyChanges, type Change, checkChanges, deletion, inverse, Point, Port, ProjectDocument, undoStacks } from './index.js';

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
    expect(firstMessage(Port, { ...serial, unitId: 248 })).toContain('248 to 255 are reserved');
    expect(firstMessage(Port, { ...serial, unitId: 0 })).toContain('broadcast');
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
    expect([count('device'), count('port'), count('point'), count('route')]).toEqual([1, 1, 4, 4]);
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
