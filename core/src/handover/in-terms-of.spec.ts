import { fernhollow } from '../demo/index.js';
import type { ProjectDocument } from '../model/index.js';
import { withNewIds } from '../project-file/index.js';
import { countedIds } from '../testing/index.js';
import { differencesBetween, inTermsOf } from './index.js';

const demo = fernhollow();
const copyOf = (document: ProjectDocument) => withNewIds(document, countedIds('019aa333'));

describe('Another project in the terms of this one', () => {
  it('is the same where it is a copy, whatever its ids', () => {
    const copy = copyOf(demo);
    expect(copy.devices[0]!.id).not.toBe(demo.devices[0]!.id);
    expect(inTermsOf(demo, copy)).toEqual(demo);
    expect(differencesBetween(demo, inTermsOf(demo, copy))).toEqual([]);
  });

  it('differs in what is otherwise there, and in nothing else', () => {
    const point = demo.points.find(({ name }) => name === 'Position')!;
    const changed = {
      ...demo,
      points: demo.points.map((row) => (row.id === point.id ? { ...row, offset: 77 } : row)),
      rounds: demo.rounds.map((row, index) => (index === 0 ? { ...row, name: 'Another' } : row)),
    };
    const groups = differencesBetween(demo, inTermsOf(demo, copyOf(changed)));
    const rows = groups.flatMap((group) => group.rows);
    expect(rows.filter(({ change }) => change.entity === 'point').map(({ change }) => change.id)).toEqual([point.id]);
    // A round of another name is another one, and its routes go with it.
    expect(
      rows.filter(({ change }) => change.entity === 'round').map(({ change }) => [change.before === null, change.after === null]),
    ).toEqual(
      jasmine.arrayWithExactContents([
        [true, false],
        [false, true],
      ]),
    );
    const moved = demo.routes.filter(({ roundId }) => roundId === demo.rounds[0]!.id).length;
    expect(rows.filter(({ change }) => change.entity === 'route').length).toBe(moved);
    expect(rows.length).toBe(3 + moved);
  });

  it('takes of several that are called alike the first for the first', () => {
    const [first] = demo.points;
    const twice = { ...demo, points: [...demo.points, { ...first!, id: '019aa444-0000-7000-8000-000000000001', offset: 900 }] };
    expect(inTermsOf(twice, copyOf(twice))).toEqual(twice);
  });
});
