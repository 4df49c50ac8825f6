import { signal } from '@angular/core';
import { choiceAmong } from './choice';

describe('choiceAmong', () => {
  const rows = (...ids: string[]) => ids.map((id) => ({ id }));

  it('stays where it is while the rows are made anew, and goes to the first where its own is gone', () => {
    const all = signal(rows('a', 'b', 'c'));
    const chosen = choiceAmong(all);
    expect(chosen()).toBe('a');
    chosen.set('b');
    all.set(rows('x', 'b'));
    expect(chosen()).toBe('b');
    all.set(rows('x', 'a'));
    expect(chosen()).toBe('x');
    all.set([]);
    expect(chosen()).toBe('');
  });

  it('begins where it is told to', () => {
    expect(choiceAmong(signal(rows('a', 'b')), (all) => all.at(-1))()).toBe('b');
  });
});
