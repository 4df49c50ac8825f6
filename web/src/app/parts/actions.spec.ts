import { EnvironmentInjector, createEnvironmentInjector, runInInjectionContext } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Actions, keysOf } from './actions';

describe('Actions', () => {
  const part = () => createEnvironmentInjector([], TestBed.inject(EnvironmentInjector));

  it('can be done while the part that offers them is there, and by the one that came last', () => {
    const actions = TestBed.inject(Actions);
    const [first, second] = [part(), part()];
    const done: string[] = [];
    runInInjectionContext(first, () => actions.offer({ look: () => done.push('first'), turn: () => done.push('turned') }));
    runInInjectionContext(second, () => actions.offer({ look: () => done.push('second') }));
    actions.run('look');
    actions.run('turn');
    actions.run('nothing of this name');
    first.destroy();
    expect([actions.canRun('look'), actions.canRun('turn')]).toEqual([true, false]);
    second.destroy();
    expect(actions.canRun('look')).toBeFalse();
    expect(done).toEqual(['second', 'turned']);
  });

  it('are done as soon as they are offered where they were asked for before, once', async () => {
    const actions = TestBed.inject(Actions);
    const done = jasmine.createSpy('done');
    actions.runLater('look');
    runInInjectionContext(part(), () => actions.offer({ look: done }));
    await new Promise((turn) => setTimeout(turn));
    runInInjectionContext(part(), () => actions.offer({ look: done }));
    await new Promise((turn) => setTimeout(turn));
    expect(done).toHaveBeenCalledTimes(1);
  });

  it('have keys that are written as they are pressed', () => {
    const pressed = (key: string, more: KeyboardEventInit = {}) => keysOf(new KeyboardEvent('keydown', { key, ...more }));
    expect([pressed('o', { altKey: true }), pressed('Z', { ctrlKey: true, shiftKey: true }), pressed('z', { metaKey: true })]).toEqual([
      'Alt+O',
      'Ctrl+Shift+Z',
      'Ctrl+Z',
    ]);
    expect([pressed('?', { shiftKey: true }), pressed(' '), pressed('r'), pressed('Enter', { ctrlKey: true })]).toEqual([
      '?',
      'Space',
      'R',
      'Ctrl+Enter',
    ]);
  });
});
