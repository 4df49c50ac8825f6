import { MatDialogRef } from '@angular/material/dialog';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { Actions } from '../parts/actions';
import { RouteTable } from '../parts/route-table';
import { Palette } from '../shell/palette';
import { ThemeChoice } from '../shell/theme';
import { byPlace } from '@plain-envoy/core/model';
import {
  carriedState,
  pageOf,
  demo,
  deviceNamed,
  doubt,
  pointNamed,
  pressKey,
  routeNamed,
  type Stage,
  stage,
  textOf,
  turn,
} from '../testing.spec-helper';
import { Bank } from './routes/bank';

describe('RouteTable', () => {
  let on: Stage;
  const route = routeNamed('Air-on temperature');
  const row = (cells: string) => `tr[data-id="${route.id}"] [data-cell=${cells}]`;
  const read = (pointId: string, words: number[], quality: 'good' | 'bad' = 'good', reason: string | null = null) =>
    on.live.points.take([{ pointId, words, quality, reason, atMs: 9000 }]);

  beforeEach(async () => {
    on = await stage();
    read(route.sourceId, [0xcccd, 0x4276]);
    read(route.destinationId, [617]);
    on.live.routes.take([{ ...carriedState(route), writtenWords: [617] }]);
  });

  it('shows registers and value at both ends, and the age since the source was read', () => {
    const table = on.show(RouteTable, { routes: [route] });
    expect(['source-raw', 'source-value', 'destination-raw', 'destination-value'].map((cell) => textOf(table, row(cell)))).toEqual([
      'CCCD 4276',
      '61.7 °C',
      '0269',
      '61.7 °C',
    ]);
    expect(textOf(table, row('quality'))).toContain('good');
    expect(textOf(table)).toContain('0.5 s');
  });

  it('is as good as the worst of what was read, written and found, and says why', () => {
    read(route.sourceId, [0, 0], 'bad', 'Nobody answered.');
    const table = on.show(RouteTable, { routes: [route] });
    expect(textOf(table, row('quality'))).toContain('bad');
    const cell = (table.nativeElement as HTMLElement).querySelector<HTMLElement>(row('quality'))!;
    expect(cell.title).toBe('Nobody answered.');
  });

  it('is not called good while something speaks against it, which is said; what failed comes first', () => {
    doubt(route.sourceId, 'Its papers have another order.');
    const table = on.show(RouteTable, { routes: [route] });
    const cell = (table.nativeElement as HTMLElement).querySelector<HTMLElement>(row('quality'))!;
    expect([textOf(table, row('quality')), cell.title]).toEqual(['? doubtful', 'Its papers have another order.']);
    read(route.destinationId, [617], 'bad', 'Nobody answered.');
    table.detectChanges();
    expect([textOf(table, row('quality')), cell.title]).toEqual(['✕ bad', 'Nobody answered.']);
  });

  it('claims no quality while the bench is stopped', () => {
    on.live.running$.next(false);
    expect(textOf(on.show(RouteTable, { routes: [route] }), row('quality'))).toContain('not read');
  });

  it('says what to do when there is no route', () => {
    expect(textOf(on.show(RouteTable, { routes: [] }))).toContain('Make the first one in Routes');
  });
});

describe('Bank', () => {
  const device = deviceNamed('Kiln controller');
  const points = demo.points.filter((point) => point.deviceId === device.id).sort(byPlace);
  const shown = async (last: number) => {
    const on = await stage();
    const bank = on.show(Bank, { device, lanes: points, side: 'source', window: { first: 0, last }, chosen: new Set<string>() });
    document.body.append(bank.nativeElement as HTMLElement);
    const press = async (key: string, init: KeyboardEventInit = {}) => {
      document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, ...init }));
      bank.detectChanges();
      await turn();
    };
    bank.componentInstance.focus();
    await turn();
    return { bank, press, host: bank.nativeElement as HTMLElement };
  };

  it('is worked by keyboard: arrows go from lane to lane, Shift chooses several, Enter takes', async () => {
    const { bank, press, host } = await shown(20);
    const taken: string[] = [];
    bank.componentInstance.take.subscribe((point) => taken.push(point.name));
    await press('ArrowDown');
    await press('ArrowDown');
    await press('ArrowUp');
    await press('Enter');
    expect(taken).toEqual([points[1]!.name]);
    await press('ArrowDown', { shiftKey: true });
    await press('ArrowDown', { shiftKey: true });
    expect([...bank.componentInstance.chosen()]).toEqual(points.slice(1, 4).map(({ id }) => id));
    expect(host.querySelectorAll('[aria-selected=true]').length).toBe(3);
    expect(host.querySelectorAll('[tabindex="0"]').length).toBe(1);
    await press(' ');
    expect(bank.componentInstance.chosen().has(points[3]!.id)).toBeFalse();
  });

  it('marks a value that is not good, and says why; a good one is not marked', async () => {
    const on = await stage();
    const [good, doubtful, lost] = points.slice(0, 3).map(({ id }) => id);
    on.live.points.take([
      ...[good!, doubtful!].map((pointId) => ({ pointId, words: [1], quality: 'good' as const, reason: null, atMs: 9000 })),
      { pointId: lost!, words: [1], quality: 'stale', reason: 'Nobody answered for 3 s.', atMs: 1000 },
    ]);
    doubt(doubtful!, 'Its papers have another order.');
    const bank = on.show(Bank, { device, lanes: points, side: 'source', window: { first: 0, last: 4 }, chosen: new Set<string>() });
    const marks = points.slice(0, 4).map(({ id }) => {
      const mark = pageOf(bank).querySelector<HTMLElement>(`[data-point="${id}"] pe-quality`);
      return mark && [mark.textContent.trim(), mark.querySelector('[role=img]')!.ariaLabel, mark.title];
    });
    expect(marks).toEqual([null, ['?', 'doubtful', 'Its papers have another order.'], ['…', 'stale', 'Nobody answered for 3 s.'], null]);
  });

  it('draws only the lanes in view, and the one that holds the keyboard', async () => {
    const { bank, press, host } = await shown(5);
    expect(host.querySelectorAll('[role=option]').length).toBe(6);
    const reached: number[] = [];
    bank.componentInstance.reach.subscribe((index) => reached.push(index));
    await press('End');
    expect(reached).toEqual([points.length - 1]);
    expect(document.activeElement!.textContent).toContain(points.at(-1)!.name);
    expect(host.querySelectorAll('[role=option]').length).toBe(7);
  });

  it('goes over lanes that stay empty, and says when the keyboard wants to go past the last one', async () => {
    const { bank, press, host } = await shown(20);
    bank.componentRef.setInput('lanes', [points[0]!, null, points[1]!]);
    bank.detectChanges();
    const past = jasmine.createSpy('past');
    bank.componentInstance.past.subscribe(past);
    await press('ArrowDown');
    expect(document.activeElement!.textContent).toContain(points[1]!.name);
    expect([...host.querySelectorAll<HTMLElement>('[role=option]')].map(({ style }) => style.top)).toEqual(['0px', '60px']);
    expect(past).not.toHaveBeenCalled();
    await press('ArrowDown');
    expect(past).toHaveBeenCalled();
  });

  it('leaves the keyboard where it is while the lanes around it are scrolled away, either way', async () => {
    const { bank, press, host } = await shown(5);
    const scroll = (first: number) => {
      bank.componentRef.setInput('window', { first, last: first + 5 });
      bank.detectChanges();
    };
    await press('ArrowDown');
    for (const first of [1, 2, 4, 9, 30, 4, 0]) {
      scroll(first);
      expect(document.activeElement?.getAttribute('aria-posinset')).withContext(`from ${first}`).toBe('2');
    }
    scroll(20);
    const order = [...host.querySelectorAll('[role=option]')].map((lane) => Number(lane.getAttribute('aria-posinset')));
    expect(order).toEqual([2, 21, 22, 23, 24, 25, 26]);
  });
});

describe('Palette', () => {
  it('finds by any words, in any order, and opens what is chosen by keyboard', async () => {
    const closed = jasmine.createSpy('close');
    const on = await stage([{ provide: MatDialogRef, useValue: { close: closed } }]);
    const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
    const palette = on.show(Palette);
    const host = palette.nativeElement as HTMLElement;
    const box = host.querySelector('input')!;
    const find = (text: string) => {
      box.value = text;
      box.dispatchEvent(new Event('input'));
      palette.detectChanges();
      return [...host.querySelectorAll('li')].map((item) => item.innerText.replace(/\s+/g, ' '));
    };
    expect(find('w40 controller')).toEqual(['Kiln air-on temperature Kiln controller W40']);
    expect(find('no such thing')).toEqual(['Nothing has that in its name.']);
    find('air-on temperature');
    pressKey(box, 'ArrowDown');
    pressKey(box, 'Enter');
    expect(closed).toHaveBeenCalled();
    expect(navigate).toHaveBeenCalledWith(['/registers'], { queryParams: { point: pointNamed('Air-on temperature').id } });
  });
});

describe('Palette, asked for what can be done', () => {
  it('does it where its screen is open, and else opens its screen first', async () => {
    const on = await stage([{ provide: MatDialogRef, useValue: { close: () => null } }]);
    const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
    const actions = TestBed.inject(Actions);
    const swapped = jasmine.createSpy('swapped');
    const take = (text: string) => {
      const palette = on.show(Palette);
      const box = pageOf(palette).querySelector('input')!;
      box.value = text;
      box.dispatchEvent(new Event('input'));
      palette.detectChanges();
      const shown = pageOf(palette).querySelector('li')!.innerText.replace(/\s+/g, ' ');
      pressKey(box, 'Enter');
      return shown;
    };
    expect(take('swap sides')).toBe('Swap sides Routes · Alt+S');
    expect(navigate).toHaveBeenCalledWith(['/routes']);
    TestBed.runInInjectionContext(() => actions.offer({ 'routes.swap': swapped }));
    await turn();
    expect(swapped).toHaveBeenCalledTimes(1);
    take('swap sides');
    expect([swapped.calls.count(), navigate.calls.count()]).toEqual([2, 1]);
  });
});

describe('ThemeChoice', () => {
  afterEach(() => localStorage.clear());

  it('goes round system, light and dark, and is remembered', () => {
    const theme = TestBed.inject(ThemeChoice);
    theme.set('light');
    theme.next();
    expect([theme.theme(), document.documentElement.style.colorScheme]).toEqual(['dark', 'dark']);
    theme.next();
    expect([theme.theme(), document.documentElement.style.colorScheme]).toEqual(['system', 'light dark']);
    theme.next();
    expect(new ThemeChoice().theme()).toBe('light');
  });
});
