import { compile } from '../compile/index.js';
import { DEMO_ID, ProjectDocument } from '../model/index.js';
import { whyNotWhole } from '../project-file/index.js';
import { countedIds } from '../testing/index.js';
import { begin, beginnings } from './index.js';

const newId = countedIds('019aa222');

const wish = { name: 'Mill', client: 'A client' };

describe('Beginning a project', () => {
  for (const { id: like, devices } of beginnings.filter((one) => one.devices)) {
    for (const count of [1, devices!.usual, devices!.most])
      it(`over ${like} with ${count} devices makes one that runs as it is, with nothing to be mended`, () => {
        const begun = begin({ ...wish, like, devices: count }, newId);
        if (!begun.ok) return fail(begun.problem.message);
        expect(ProjectDocument.parse(begun.value)).toEqual(begun.value);
        const { plan, findings } = compile(begun.value);
        expect(plan.routes.length).toBe(2 * count);
        expect(findings.filter(({ severity }) => severity !== 'advice').map(({ message }) => message)).toEqual([]);
        expect(begun.value.devices.every(({ standIn }) => standIn !== null)).toBeTrue();
      });
  }

  it('with nothing makes a project in which nothing is', () => {
    const begun = begin({ ...wish, like: 'empty' }, newId);
    expect(begun.ok && begun.value.project).toEqual(jasmine.objectContaining(wish));
    expect(begun.ok && begun.value.devices).toEqual([]);
  });

  it('like the demo makes all of it with ids of its own', () => {
    const begun = begin({ ...wish, like: 'demo' }, newId);
    expect(begun.ok && [whyNotWhole(begun.value), begun.value.project.name]).toEqual([null, 'Mill']);
    expect(JSON.stringify(begun).includes(DEMO_ID.slice(0, 24))).toBeFalse();
  });

  it('is refused at its place where there is no such beginning, or no place for so many', () => {
    const problem = (like: string, devices: number) => {
      const begun = begin({ ...wish, like, devices }, newId);
      return begun.ok ? null : begun.problem;
    };
    expect(problem('nothing', 1)).toEqual({ message: 'Choose what it begins with.', path: ['like'] });
    expect(problem('rtu', 0)).toEqual({ message: 'From 1 to 31 devices here.', path: ['devices'] });
    expect(problem('rtu', 32)?.path).toEqual(['devices']);
  });
});
