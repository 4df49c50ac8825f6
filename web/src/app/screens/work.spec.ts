import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { idleBench } from '@plain-envoy/core/feed';
import type { Change } from '@plain-envoy/core/model';
import { Shell } from '../shell/shell';
import {
  carriedState,
  demo,
  deviceNamed,
  doubt,
  pageOf,
  pointNamed,
  type Stage,
  stage,
  submit,
  textOf,
  turn,
  typeInto,
  pick,
} from '../testing.spec-helper';
import { OrderPanel } from './routes/order-panel';
import { RoutesScreen } from './routes/routes';

const changeSets = `/api/projects/${demo.project.id}/change-sets`;

describe('RoutesScreen', () => {
  let on: Stage;
  beforeEach(async () => {
    on = await stage();
    spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
  });
  /** The banks of a device and the kiln controller, with what the filter leaves. */
  const between = (source: string, filter: string) => {
    const screen = on.show(RoutesScreen);
    pick(screen, 'from-device', deviceNamed(source).id);
    typeInto(screen, 'input[name=filter]', filter);
    return screen;
  };
  const choose = (screen: ReturnType<Stage['show']>, side: 'first' | 'last', name: string) => {
    const bank = (screen.nativeElement as HTMLElement).querySelector(`pe-bank:${side}-of-type`)!;
    const lane = [...bank.querySelectorAll<HTMLElement>('[role=option]')].find((element) => element.innerText.includes(name))!;
    lane.click();
    screen.detectChanges();
  };

  it('makes a route from two choices, by value where the two ends are laid out differently', async () => {
    const screen = between('Air-on transmitter', 'humidity');
    choose(screen, 'first', 'Air-on humidity');
    expect(textOf(screen, '.remark')).toContain('Air-on humidity is the source');
    choose(screen, 'last', 'Loft humidity');
    await submit(screen);
    const [change] = (on.http.expectOne(changeSets).request.body as { changes: Change[] }).changes;
    expect(change?.after).toEqual(
      jasmine.objectContaining({
        sourceId: pointNamed('Air-on humidity').id,
        destinationId: demo.points.find(({ name, deviceId }) => name === 'Loft humidity' && deviceId === deviceNamed('Kiln controller').id)!
          .id,
        carry: 'value',
        roundId: demo.rounds[0]!.id,
      }),
    );
  });

  it('makes a route from a lane that is dropped on one of the other bank, from left to right whichever was dragged', () => {
    const screen = between('Air-on transmitter', 'humidity');
    const host = screen.nativeElement as HTMLElement;
    host.style.height = '700px';
    pageOf(screen).querySelector<HTMLElement>('button[name=fold]')!.click();
    screen.detectChanges();
    const lane = (side: 'first' | 'last', name: string) =>
      [...host.querySelectorAll<HTMLElement>(`pe-bank:${side}-of-type [role=option]`)].find(({ innerText }) => innerText.includes(name))!;
    const drag = (from: HTMLElement, to: HTMLElement) => {
      const [start, end] = [from, to].map((element) => element.getBoundingClientRect());
      const at = (type: string, { x, y }: DOMRect) =>
        new MouseEvent(type, { bubbles: true, cancelable: true, clientX: x + 20, clientY: y + 10, buttons: 1, detail: 1 });
      from.dispatchEvent(at('mousedown', start!));
      for (const step of [start!, end!, end!]) document.dispatchEvent(at('mousemove', new DOMRect(step.x + 8, step.y)));
      document.dispatchEvent(at('mouseup', end!));
      screen.detectChanges();
    };
    drag(lane('last', 'Kiln air-on humidity'), lane('last', 'Loft humidity'));
    expect(textOf(screen, 'pe-route-form')).toBe('');
    drag(lane('last', 'Loft humidity'), lane('first', 'Air-on humidity'));
    expect(textOf(screen, '.ends')).toContain('New route: Air-on humidity, Air-on transmitter 30013');
    expect(textOf(screen, '.ends')).toContain('Loft humidity, Kiln controller W130');
  });

  it('says what to choose first when only a destination is chosen', () => {
    const screen = between('Air-on transmitter', 'north set');
    choose(screen, 'last', 'Fan north set point');
    expect(textOf(screen, '[role=alert]')).toBe('Choose the source on the left first, then the destination.');
  });

  it('says of a ribbon what is wrong with what it carries', () => {
    const route = demo.routes.find((row) => row.name === 'Fan north set point')!;
    on.live.running$.next(true);
    on.live.routes.take([carriedState(route)]);
    const screen = on.show(RoutesScreen, { route: route.id });
    const ribbon = () => pageOf(screen).querySelector(`.ribbon[aria-label^="${route.name},"]`)!;
    const said = () => {
      screen.detectChanges();
      return [ribbon().classList.contains('idle'), ribbon().querySelector('title')?.textContent];
    };
    expect(said()).toEqual([false, undefined]);
    doubt(route.id, 'Another value arrives.');
    expect(said()).toEqual([true, 'doubtful: Another value arrives.']);
    on.live.routes.take([{ ...carriedState(route), quality: 'bad', reason: 'Nobody answered.' }]);
    expect(said()).toEqual([true, 'bad: Nobody answered.']);
    expect(ribbon().ariaLabel).toContain('Nobody answered.');
    on.live.running$.next(false);
    expect(said()).toEqual([false, undefined]);
  });

  it('explains the requests of the chosen route', () => {
    const route = demo.routes.find((row) => row.name === 'Fan north set point')!;
    const screen = on.show(RoutesScreen, { route: route.id });
    expect(textOf(screen, '.remark')).toContain(
      'Kiln controller works in its own memory; then writes 2 holding registers from offset 0 of Fan drive north, unit 11 through Kiln gateway',
    );
  });
});

describe('carrying in order', () => {
  let on: Stage;
  const cable = deviceNamed('Grain cable 1');
  const chosen = demo.points.filter((point) => point.deviceId === cable.id);
  beforeEach(async () => (on = await stage()));
  afterEach(() => on.http.verify());
  const show = () => on.show(OrderPanel, { chosen, side: 'source', otherId: deviceNamed('Kiln controller').id });

  it('shows what would be made before it is, in any notation, and makes it as one change set', async () => {
    const panel = show();
    typeInto(panel, 'input[name=first]', 'W300');
    typeInto(panel, 'input[name=before]', 'Loft');
    const rows = () =>
      [...(panel.nativeElement as HTMLElement).querySelectorAll('tbody tr')].map((row) => row.textContent!.replace(/\s+/g, ' '));
    expect(rows().map((text) => /W\d+\s*Loft .* \(new\)/.exec(text)?.[0])).toEqual(
      chosen.map(({ name }, index) => `W${300 + index} Loft ${name} (new)`),
    );
    await submit(panel);
    const { label, changes } = on.http.expectOne(changeSets).request.body as { label: string; changes: Change[] };
    expect(label).toBe(`Carry in order: ${chosen.length} routes`);
    expect(changes.map(({ entity }) => entity)).toEqual(chosen.flatMap(() => ['point', 'route']));
    expect(changes.at(-1)?.after).toEqual(
      jasmine.objectContaining({ sourceId: chosen.at(-1)!.id, destinationId: changes.at(-2)!.id, name: chosen.at(-1)!.name }),
    );
  });

  it('says of each row why it cannot be made, and makes none of nothing', async () => {
    const panel = show();
    typeInto(panel, 'input[name=first]', 'W300');
    const box = (panel.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=makes]')!;
    box.click();
    panel.detectChanges();
    expect(textOf(panel, '.refused .what')).toContain('No point is at offset 300');
    typeInto(panel, 'input[name=first]', 'somewhere');
    expect(textOf(panel, 'mat-error')).not.toBe('');
    expect((panel.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=first]')!.value).toBe('somewhere');
    await submit(panel);
  });
});

describe('Shell', () => {
  let on: Stage;
  let shell: ComponentFixture<Shell>;
  const key = (target: EventTarget, pressed: string, shiftKey = false) =>
    target.dispatchEvent(new KeyboardEvent('keydown', { key: pressed, ctrlKey: true, shiftKey, bubbles: true, cancelable: true }));
  const undo = `/api/projects/${demo.project.id}/undo`;
  const redo = `/api/projects/${demo.project.id}/redo`;

  beforeEach(async () => {
    on = await stage();
    shell = on.show(Shell);
    await turn();
    on.http.match(`/api/projects/${demo.project.id}`);
  });

  it('undoes and redoes by keyboard, but leaves a text field its own undo', () => {
    key(document, 'z');
    on.http.expectOne(undo);
    key(document, 'Z', true);
    key(document, 'y');
    expect(on.http.match(redo).length).toBe(2);
    const field = document.createElement('input');
    document.body.append(field);
    key(field, 'z');
    on.http.expectNone(undo);
    field.remove();
  });

  it('opens the palette on Ctrl+K from anywhere, once, and leaves other keys to it', async () => {
    key(document, 'k');
    key(document, 'k');
    key(document, 'z');
    on.http.expectNone(undo);
    for (let turns = 0; turns < 50 && !document.querySelector('pe-palette li'); turns++) {
      await new Promise((done) => setTimeout(done, 20));
      shell.detectChanges();
    }
    expect(document.querySelectorAll('pe-palette').length).toBe(1);
    expect(document.querySelector<HTMLElement>('pe-palette li[aria-selected=true]')!.innerText).toContain('Site');
    TestBed.inject(MatDialog).closeAll();
    for (let turns = 0; turns < 50 && document.querySelector('pe-palette'); turns++) await new Promise((done) => setTimeout(done, 20));
  });

  it('says in the colour of danger that the bench runs on the plant itself', () => {
    const shell = on.show(Shell);
    const pill = (shell.nativeElement as HTMLElement).querySelector('.pill.bench')!;
    expect([pill.textContent, pill.classList.contains('stops')]).toEqual([jasmine.stringContaining('on stand-ins') as never, false]);
    on.live.bench$.next({ ...idleBench, running: true, on: 'real' });
    shell.detectChanges();
    expect([pill.textContent, pill.classList.contains('stops')]).toEqual([jasmine.stringContaining('on the real plant') as never, true]);
  });

  it('says what is the matter above every screen', () => {
    const shell = on.show(Shell);
    expect(textOf(shell, '.matter')).toBe('');
    on.live.database$.next({ ok: false, sinceMs: 1, broken: false, message: 'The database does not answer.' });
    shell.detectChanges();
    expect(textOf(shell, '.matter')).toBe('The database does not answer.');
    on.live.connected$.next(false);
    shell.detectChanges();
    expect(textOf(shell, '.matter')).toContain('The server does not answer');
  });

  it('shows all keys on ?, of every screen, and hears no others until they are closed', async () => {
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '?', shiftKey: true, bubbles: true, cancelable: true }));
    for (let turns = 0; turns < 50 && !document.querySelector('pe-keys-sheet h3'); turns++) {
      await new Promise((done) => setTimeout(done, 20));
      shell.detectChanges();
    }
    const sheet = document.querySelector<HTMLElement>('pe-keys-sheet')!;
    expect([...sheet.querySelectorAll('h3')].map(({ innerText }) => innerText)).toContain('Registers');
    expect(sheet.innerText).toMatch(/Ctrl\+Shift\+Z\s+Redo/);
    key(document, 'z');
    on.http.expectNone(undo);
    TestBed.inject(MatDialog).closeAll();
    for (let turns = 0; turns < 50 && document.querySelector('pe-keys-sheet'); turns++) await new Promise((done) => setTimeout(done, 20));
  });

  it('opens and closes the reckoner with R, but not while somebody types', () => {
    const host = shell.nativeElement as HTMLElement;
    const opened = () => host.querySelector('button[aria-expanded=true]')?.textContent ?? '';
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'r', bubbles: true }));
    shell.detectChanges();
    expect(opened()).toContain('Reckoner');
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'r', bubbles: true }));
    shell.detectChanges();
    expect(opened()).toBe('');
    const box = document.body.appendChild(document.createElement('input'));
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'r', bubbles: true }));
    shell.detectChanges();
    expect(opened()).toBe('');
    box.remove();
  });
});
