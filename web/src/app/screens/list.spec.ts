import { Location } from '@angular/common';
import { Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter, Router, RouterOutlet } from '@angular/router';
import { routes } from '../app.routes';
import { PROJECT_ID } from '../data/project-id';
import { Actions } from '../parts/actions';
import { everywhere } from '../shell/everywhere';
import { Rail } from '../shell/rail';
import { stage } from '../testing.spec-helper';
import { screens } from './list';

@Component({ imports: [RouterOutlet, Rail], template: '<pe-rail /><router-outlet />' })
class Window {}

describe('The screens', () => {
  it('have an address, a name and an icon of their own, and something that is loaded', async () => {
    for (const part of ['path', 'name', 'icon'] as const) expect(new Set(screens.map((screen) => screen[part])).size).toBe(screens.length);
    const loaded = await Promise.all(screens.map(({ load }) => load()));
    expect(new Set(loaded).size).toBe(screens.length);
  });

  it('are in the rail, and an address that none has says so and stays', async () => {
    TestBed.configureTestingModule({ providers: [provideRouter(routes), { provide: PROJECT_ID, useValue: 'mill' }] });
    const window = TestBed.createComponent(Window);
    await TestBed.inject(Router).navigateByUrl('/regsiters');
    await window.whenStable();
    const host = window.nativeElement as HTMLElement;
    expect([...host.querySelectorAll('pe-rail a')].map((link) => link.getAttribute('href'))).toEqual(screens.map(({ path }) => `/${path}`));
    expect(host.innerText).toContain('There is no screen at /regsiters.');
    expect(TestBed.inject(Location).path()).toBe('/regsiters');
  });
});

describe('What can be done on the screens', () => {
  it('is offered by each screen while it is open, by names and keys that are its own', async () => {
    for (const screen of screens) {
      const on = await stage();
      on.show(await screen.load());
      const actions = TestBed.inject(Actions);
      for (const { id, name } of screen.actions) expect(actions.canRun(id)).withContext(`${screen.name}: ${name}`).toBeTrue();
      const keys = [...screen.actions, ...everywhere].flatMap((action) => action.keys ?? []);
      expect(new Set(keys).size).withContext(screen.name).toBe(keys.length);
      TestBed.resetTestingModule();
    }
  });
});
