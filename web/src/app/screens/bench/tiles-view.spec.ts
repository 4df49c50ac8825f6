import type { ComponentFixture } from '@angular/core/testing';
import type { Tile, WatchItem, WatchList } from '@plain-envoy/core/model';
import {
  demo,
  doubt,
  frames,
  pageOf,
  pick,
  pointNamed,
  routeNamed,
  type Stage,
  stage,
  submit,
  textOf,
  typeInto,
} from '../../testing.spec-helper';
import { TilesView } from './tiles-view';
import { watchRows } from './watch-rows';

const points = new Map(demo.points.map((point) => [point.id, point]));
const switched = demo.points.find(({ type, access, table }) => type === 'bit' && access === 'readWrite' && table === 'coil')!;
const bits = demo.points.find(({ type, bits: named }) => type === 'bits' && named.length > 2)!;
const position = pointNamed('Position');

describe('TilesView', () => {
  let on: Stage;
  let view: ComponentFixture<TilesView>;
  let arranged: WatchItem[][];
  const item = (of: WatchItem['of'], id: string, tile?: Tile): WatchItem => ({ of, id, radix: null, ...(tile ? { tile } : {}) });
  const show = async (...items: WatchItem[]) => {
    const list: WatchList = { ...demo.watchLists[0]!, items };
    view = on.show(TilesView, { list, rows: watchRows(list, demo, points) });
    Object.assign(pageOf(view).style, { width: '1000px', height: '600px', display: 'flex' });
    arranged = [];
    view.componentInstance.arranged.subscribe((next) => {
      arranged.push(next);
      const changed = { ...list, items: next };
      view.componentRef.setInput('list', changed);
      view.componentRef.setInput('rows', watchRows(changed, demo, points));
      view.detectChanges();
    });
    await frames(view);
  };
  const tile = (name: string) => pageOf(view).querySelector<HTMLElement>(`[data-tile="${name}"]`)!;
  const read = (pointId: string, words: number[], quality: 'good' | 'bad' = 'good', reason: string | null = null) => {
    on.live.points.take([{ pointId, words, quality, reason, atMs: 9000 }]);
    view.detectChanges();
  };
  const arrange = () => {
    pageOf(view).querySelector<HTMLElement>('[data-name=arrange] button')!.click();
    view.detectChanges();
  };
  const settled = () => new Promise((done) => setTimeout(done, 350));
  const press = (name: string, key: string, shiftKey = false) => {
    tile(name).dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }));
    view.detectChanges();
  };
  beforeEach(async () => (on = await stage()));

  it('shows each as what suits its type, with quality and age; what may be wrong is not shown as good', async () => {
    await show(item('point', switched.id), item('point', bits.id), item('point', position.id));
    read(switched.id, [1]);
    read(bits.id, [0b1]);
    read(position.id, [0], 'bad', 'Nobody answered.');
    expect(tile(switched.name).querySelector('mat-slide-toggle')).not.toBeNull();
    expect(tile(bits.name).innerText).toMatch(new RegExp(`● ${bits.bits[0]!.name} on`));
    expect(tile(switched.name).innerText).toMatch(/good\s+1\.0 s/);
    expect(tile(position.name).querySelector('.doubtful')).not.toBeNull();
    expect(tile(position.name).querySelector('footer')!.title).toBe('Nobody answered.');
    doubt(switched.id, 'Its papers have another coil.');
    view.detectChanges();
    expect(tile(switched.name).innerText).toContain('? doubtful');
    expect(tile(switched.name).querySelector('.face.doubtful')).not.toBeNull();
    expect(tile(switched.name).querySelector('footer')!.title).toBe('Its papers have another coil.');
  });

  it('shows of a route what arrives, as good as the worst of it, and lets nobody write what the route writes', async () => {
    const route = routeNamed('Damper set point');
    await show(item('route', route.id));
    read(route.destinationId, [500]);
    expect(tile(route.name).innerText).toContain('50.0 %');
    read(route.sourceId, [0], 'bad', 'It is silent.');
    expect(tile(route.name).innerText).toContain('bad');
    expect(tile(route.name).querySelector('mat-slider, mat-slide-toggle, pe-choose')).toBeNull();
  });

  it('writes by the same way as by hand, shows what was read until it is read anew, and says what was refused', async () => {
    await show(item('point', switched.id));
    read(switched.id, [0]);
    const toggle = tile(switched.name).querySelector<HTMLButtonElement>('mat-slide-toggle button')!;
    toggle.click();
    view.detectChanges();
    const asked = on.http.expectOne(`/api/projects/${demo.project.id}/bench/write`);
    expect(asked.request.body).toEqual({ pointId: switched.id, value: '1', broadcast: false });
    expect(toggle.getAttribute('aria-checked')).toBe('false');
    asked.flush({ error: { message: 'It is not armed.', path: [] } }, { status: 422, statusText: 'Refused' });
    view.detectChanges();
    expect(textOf(view, '[role=alert]')).toBe(`${switched.name}: It is not armed.`);
  });

  it('is arranged by keyboard: moved, made larger, never over another, and kept in the list', async () => {
    await show(item('point', switched.id), item('point', bits.id));
    press(switched.name, 'ArrowDown');
    expect(arranged.length).withContext('while it is worked with').toBe(0);
    arrange();
    press(switched.name, 'ArrowRight');
    expect(tile(switched.name).getAttribute('aria-label')).withContext('into the other').toBe(`${switched.name}, column 1, row 1`);
    press(switched.name, 'ArrowDown');
    press(switched.name, 'ArrowRight', true);
    press(switched.name, 'ArrowDown', true);
    expect(arranged.length).withContext('until the keys rest').toBe(0);
    await settled();
    expect(arranged.length).withContext('all steps in one').toBe(1);
    const last = arranged.at(-1)!;
    expect(last[0]!.tile).toEqual(jasmine.objectContaining({ x: 0, y: 1, cols: 2, rows: 2 }));
    expect(last[1]!.tile).toEqual(jasmine.objectContaining({ face: 'lamps', x: 2, y: 0 }));
    expect(tile(switched.name).getAttribute('aria-label')).toBe(`${switched.name}, column 1, row 2`);
  });

  it('takes another face, limits and a group, and keeps a limit that is no number where it was typed', async () => {
    await show(item('point', position.id));
    arrange();
    press(position.name, 'Enter');
    pick(view, 'face', 'gauge');
    typeInto(view, 'input[name=tile-high]', 'much');
    typeInto(view, 'input[name=tile-group]', 'Damper');
    await submit(view);
    expect([arranged.length, textOf(view, 'mat-error')]).toEqual([0, 'A number.']);
    typeInto(view, 'input[name=tile-high]', '80');
    await submit(view);
    await settled();
    expect(arranged[0]![0]!.tile).toEqual(jasmine.objectContaining({ face: 'gauge', group: 'Damper', low: null, high: 80, y: 0 }));
    expect(textOf(view, 'h3')).toBe('Damper');
  });
});
