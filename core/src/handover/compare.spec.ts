import * as fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { applyChanges, type Change, deletion, listedKinds, listOf, type ProjectDocument, type Row } from '../model/index.js';
import { changesBetween, consequencesOf, differencesBetween, sidesFrom } from './index.js';

const demo = fernhollow();
const edited = (...changes: Change[]) => applyChanges(demo, changes);
const change = (kind: (typeof listedKinds)[number], name: string, fields: object): Change => {
  const before = (demo[listOf(kind)] as Row[]).find((row) => row['name'] === name)!;
  return { entity: kind, id: String(before['id']), before, after: { ...before, ...fields } };
};
const rowsIn = (to: ProjectDocument) =>
  differencesBetween(demo, to).flatMap(({ title, rows }) =>
    rows.map(({ what, name, fields }) => [title, what, name, fields.map(({ field, before, after }) => `${field}: ${before} → ${after}`)]),
  );

describe('Two states of a project', () => {
  it('are the same where nothing was changed', () => {
    expect([changesBetween(demo, fernhollow()), differencesBetween(demo, demo), consequencesOf(demo, demo)]).toEqual([[], [], []]);
  });

  it('differ by device and route, field by field, in the words of who reads it', () => {
    const route = demo.routes.find(({ name }) => name === 'Damper position')!;
    const other = demo.points.find(({ name }) => name === 'Damper set point')!;
    const to = edited(
      change('device', 'Exhaust damper', { maxReadWords: 10 }),
      change('point', 'Damper position', { scale: { factor: 0.01, offset: 0 }, unit: '' }),
      change('route', 'Damper position', { sourceId: other.id }),
      ...deletion(demo, 'errand', demo.errands[0]!.id),
    );
    const rows = rowsIn(to);
    expect(rows).toContain(jasmine.arrayContaining(['Exhaust damper', 'changed', 'Exhaust damper', ['max read words: 125 → 10']]) as never);
    const point = rows.find(([, , name]) => name === 'Damper position')!;
    expect(point[3]).toEqual(['scale, factor: 0.1 → 0.01', 'unit: % → nothing']);
    const carried = rows.find(([title]) => title === 'Routes')!;
    const sourceText = (id: string) => {
      const found = demo.points.find((row) => row.id === id)!;
      return `${demo.devices.find((row) => row.id === found.deviceId)!.name} ${found.name}`;
    };
    expect(carried.slice(0, 3)).toEqual(['Routes', 'changed', 'Damper position']);
    expect(carried[3]).toEqual([`source: ${sourceText(route.sourceId)} → ${sourceText(other.id)}`]);
    expect(rows.find(([title]) => title === 'Errands')!.slice(1)).toEqual(['removed', demo.errands[0]!.name, []]);
  });

  it('differ by nothing more once the comparison is applied, whatever was done', () => {
    const kinds = listedKinds.filter((kind) => (demo[listOf(kind)] as Row[]).length > 0);
    const act = fc.record({
      kind: fc.constantFrom(...kinds),
      at: fc.nat(),
      does: fc.constantFrom('note' as const, 'delete' as const, 'copy' as const),
      text: fc.string({ maxLength: 8 }),
    });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), (acts) => {
        let to = demo;
        for (const [index, { kind, at, does, text }] of acts.entries()) {
          const rows = to[listOf(kind)] as Row[];
          const row = rows[at % Math.max(1, rows.length)];
          if (!row) continue;
          const id = `019fffff-0000-7000-8000-${String(index).padStart(12, '0')}`;
          if (does === 'note') to = applyChanges(to, [{ entity: kind, id: String(row['id']), before: row, after: { ...row, note: text } }]);
          if (does === 'delete') to = applyChanges(to, deletion(to, kind, String(row['id'])));
          if (does === 'copy') to = applyChanges(to, [{ entity: kind, id, before: null, after: { ...row, id } }]);
        }
        expect(applyChanges(demo, changesBetween(demo, to))).toEqual(to);
        expect(applyChanges(to, changesBetween(to, demo))).toEqual(demo);
        const rows = differencesBetween(demo, to).flatMap((group) => group.rows);
        expect(rows.length).toBe(changesBetween(demo, to).length);
      }),
      { numRuns: 60 },
    );
  });

  it('that come from a third tell on which side each difference came about', () => {
    const round = (name: string, periodMs: number) => change('round', name, { periodMs });
    const [one, two, three] = demo.rounds.map(({ name }) => name) as [string, string, string];
    const here = edited(round(one, 1111), round(three, 3333));
    const there = edited(round(two, 2222), round(three, 4444));
    const sides = changesBetween(here, there).map((row) => [(row.after ?? row.before)!['name'], sidesFrom(demo)(row)]);
    expect(Object.fromEntries(sides)).toEqual({ [one]: 'here', [two]: 'there', [three]: 'both' });
    const gone = deletion(demo, 'errand', demo.errands[0]!.id);
    expect(changesBetween(demo, edited(...gone)).map((row) => sidesFrom(demo)(row))).toEqual(['there']);
    expect(changesBetween(edited(...gone), demo).map((row) => sidesFrom(demo)(row))).toEqual(['here']);
  });

  it('mean other requests, loads and ages, and findings that came or went', () => {
    const fast = demo.rounds.find(({ periodMs }) => periodMs === 2000)!;
    const hasty = consequencesOf(demo, edited(change('round', fast.name, { periodMs: 500 })));
    expect(hasty.some((text) => /is asked for [\d.]+ % of its time instead of [\d.]+ %/.test(text)))
      .withContext(hasty.join('\n'))
      .toBeTrue();
    expect(hasty.some((text) => /^It reads .*, every 500 ms instead of 2000 ms\.$/.test(text))).toBeTrue();
    expect(hasty.some((text) => /is up to \d+ ms old at its destination instead of \d+\./.test(text))).toBeTrue();
    const gone = consequencesOf(
      demo,
      applyChanges(demo, deletion(demo, 'route', demo.routes.find(({ name }) => name === 'Damper position')!.id)),
    );
    expect(gone).toContain('Damper position is not carried any more.');
    const fan = demo.ports.find((port) => port.kind === 'serial' && port.parity === 'none')!;
    const line = demo.lines.find(({ id }) => id === fan.lineId)!;
    const mended = applyChanges(demo, [
      { entity: 'port', id: fan.id, before: fan as unknown as Row, after: { ...fan, parity: 'even' } as unknown as Row },
    ]);
    expect(consequencesOf(demo, mended).some((text) => text.startsWith('Mended: ') && text.includes(line.name))).toBeTrue();
    expect(consequencesOf(mended, demo).some((text) => text.startsWith('New finding: '))).toBeTrue();
  });

  it('of twenty thousand points are told apart without looking at what is the same', () => {
    const many = Array.from({ length: 20_000 }, (_, index) => ({
      ...demo.points[index % demo.points.length]!,
      id: `019eeeee-0000-7000-8000-${String(index).padStart(12, '0')}`,
    }));
    const [from, to] = [
      { ...demo, points: many },
      { ...demo, points: many.map((row, index) => (index % 1000 ? { ...row } : { ...row, unit: 'x' })) },
    ];
    expect(changesBetween(from, to).length).toBe(20);
  });
});
