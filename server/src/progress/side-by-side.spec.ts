import { sideBySide } from './index.js';

describe('Works side by side', () => {
  let begun: string[];
  let go: Map<string, () => void>;
  const work = (name: string, parts = 1) =>
    async function* () {
      begun.push(name);
      for (let part = 1; part <= parts; part++) {
        await new Promise<void>((done) => go.set(name, done));
        yield `${name}${part}`;
      }
    };
  const settled = () => new Promise((done) => setTimeout(done));
  beforeEach(() => {
    begun = [];
    go = new Map();
  });

  it('go on so many at a time, and tell what they tell as it comes', async () => {
    const told: string[] = [];
    const all = (async () => {
      for await (const text of sideBySide([work('a', 2), work('b'), work('c')], 2)) told.push(text);
    })();
    await settled();
    expect(begun).toEqual(['a', 'b']);
    for (const name of ['b', 'a', 'c', 'a']) {
      go.get(name)!();
      await settled();
    }
    await all;
    expect(told).toEqual(['b1', 'a1', 'c1', 'a2']);
    expect(begun).toEqual(['a', 'b', 'c']);
  });

  it('are not begun any more where nobody listens, or one has failed', async () => {
    const steps = sideBySide([work('a'), work('b'), work('c')], 2);
    const first = steps.next();
    await settled();
    go.get('a')!();
    expect((await first).value).toBe('a1');
    await steps.return(undefined);
    go.get('b')!();
    await settled();
    expect(begun).toEqual(['a', 'b']);
    const fails = async function* () {
      yield await Promise.reject<string>(new Error('It fell over.'));
    };
    await expectAsync(sideBySide([fails, work('d'), work('e')], 1).next()).toBeRejectedWithError('It fell over.');
    expect(begun).not.toContain('d');
    expect((await sideBySide([], 3).next()).done).toBeTrue();
  });
});
