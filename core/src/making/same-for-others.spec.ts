import { SmallProject } from '../testing/index.js';
import { sameForOthers } from './index.js';

describe('Several devices set as one is', () => {
  const project = new SmallProject();
  const [first, second, third] = ['One', 'Two', 'Three'].map((name) => project.device(name, { note: name }));

  it('get what was changed on it, and nothing else', () => {
    const before = { ...first!, tries: 5 };
    const after = { ...before, timeoutMs: 300, note: 'New', name: 'Uno' };
    expect(sameForOthers(before, after, [second!, { ...third!, timeoutMs: 300, note: 'New' }], false)).toEqual([
      { entity: 'device', id: second!.id, before: second!, after: { ...second!, timeoutMs: 300, note: 'New' } },
    ]);
    expect(sameForOthers(before, before, [second!], false)).toEqual([]);
  });

  it('get all settings where that is asked, but not its name, its note, its kind, or who plays it', () => {
    const set = { ...first!, tries: 5, kind: 'gateway' as const, standIn: 'gateway' };
    const [change] = sameForOthers(set, set, [second!], true);
    expect(change!.after).toEqual({ ...second!, tries: 5 });
  });
});
