import { createEnvironmentInjector, EnvironmentInjector, runInInjectionContext } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { FormControl } from '@angular/forms';
import { MatDialog } from '@angular/material/dialog';
import { Unsaved } from './unsaved';

describe('Unsaved', () => {
  const control = new FormControl('as it was');
  const open = () => {
    const part = createEnvironmentInjector([], TestBed.inject(EnvironmentInjector));
    runInInjectionContext(part, () =>
      TestBed.inject(Unsaved).watch(
        () => 'the point Flow',
        () => control,
      ),
    );
    return part;
  };
  const asked = async () => {
    let may: boolean | null = null;
    TestBed.inject(Unsaved)
      .mayLeave()
      .subscribe((answer) => (may = answer));
    // Its parts are loaded when it is first opened.
    for (let turns = 0; turns < 250 && may === null && !document.querySelector('pe-leave-dialog button'); turns++) {
      TestBed.tick();
      await new Promise((done) => setTimeout(done, 20));
    }
    return { may: () => may, dialog: () => document.querySelector<HTMLElement>('pe-leave-dialog') };
  };
  const answer = async (name: string) => {
    document.querySelector<HTMLElement>(`pe-leave-dialog button[name=${name}]`)!.click();
    for (let turns = 0; turns < 60 && document.querySelector('pe-leave-dialog'); turns++) {
      TestBed.tick();
      await new Promise((done) => setTimeout(done, 20));
    }
  };
  beforeEach(() => control.markAsPristine());
  afterEach(() => TestBed.inject(MatDialog).closeAll());

  it('asks nobody while all is saved, or once the form is gone', async () => {
    const part = open();
    expect((await asked()).may()).toBeTrue();
    control.markAsDirty();
    part.destroy();
    expect((await asked()).may()).toBeTrue();
  });

  it('names what is not saved, and stays or lets it go as it is told', async () => {
    open();
    control.markAsDirty();
    const first = await asked();
    expect([first.may(), first.dialog()!.innerText]).toEqual([
      null,
      jasmine.stringContaining('What was typed for the point Flow is not saved.') as never,
    ]);
    await answer('stay');
    expect([first.may(), control.dirty]).toEqual([false, true]);
    const second = await asked();
    await answer('let-go');
    expect([second.may(), control.dirty]).toEqual([true, false]);
  });

  it('lets the browser ask when its window is closed', () => {
    const listen = spyOn(window, 'addEventListener');
    open();
    const leaving = listen.calls.allArgs().find(([type]) => String(type) === 'beforeunload')![1] as unknown as (event: Event) => void;
    listen.and.callThrough();
    const asks = () => {
      const event = new Event('leaving', { cancelable: true });
      leaving(event);
      return event.defaultPrevented;
    };
    expect(asks()).toBeFalse();
    control.markAsDirty();
    expect(asks()).toBeTrue();
  });
});
