import { plantActs, type PlantDifference } from '@plain-envoy/core/plant';
import { TestBed } from '@angular/core/testing';
import type { ErrandRun } from '@plain-envoy/core/errand';
import { type Counters, idleBench, newCounters, type Series } from '@plain-envoy/core/feed';
import type { Change, Errand, WatchList } from '@plain-envoy/core/model';
import { fingerprint, type KeptProof, type ProofEvent } from '@plain-envoy/core/proof';
import { concat, NEVER, of } from 'rxjs';
import { Api } from '../../data/api';
import { Hands } from '../../data/hands';
import { RouteProofs } from '../../data/route-proofs';
import { Samples } from '../../data/samples';
import {
  demo,
  deviceNamed,
  doubt,
  pointNamed,
  routeNamed,
  type Stage,
  stage,
  submit,
  textOf,
  turn,
  typeInto,
  pageOf,
  pick,
  pickInMenu,
  frames,
} from '../../testing.spec-helper';
import { ArmPanel } from './arm-panel';
import { AwaitingPanel } from './awaiting-panel';
import { CountersTable } from './counters-table';
import { ErrandsView } from './errands-view';
import { PlotView } from './plot-view';
import { ProofsView } from './proofs-view';
import { WatchView } from './watch-view';
import { WritePanel } from './write-panel';
import { compile } from '@plain-envoy/core/compile';

const projectPath = `/api/projects/${demo.project.id}`;

describe('ProofsView', () => {
  const { plan } = compile(demo);
  const route = routeNamed('Air-on temperature');
  const proof = (fields: Partial<KeptProof> = {}): KeptProof => ({
    ...{ routeId: route.id, state: 'proved', sentence: '2 values arrived.', loss: null, echo: null, atMs: 1, revision: 3, on: 'stand-ins' },
    checks: [
      { shows: 'zero', sent: '0 °C', expected: '0 °C', found: '0 °C', ms: 210 },
      { shows: 'a sign', sent: '-1 °C', expected: '-1 °C', found: '-1 °C', ms: 320 },
    ],
    fingerprint: fingerprint(plan, route.id),
    ...fields,
  });
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const shown = async (...kept: KeptProof[]) => {
    const view = on.show(ProofsView);
    on.http.expectOne(`${projectPath}/proofs`).flush(kept);
    await turn();
    view.detectChanges();
    return view;
  };
  const row = (view: ReturnType<Stage['show']>, id = route.id) => pageOf(view).querySelector<HTMLElement>(`tr[data-id="${id}"]`)!;

  it('shows how each route stands, those that failed first, and what was sent and found', async () => {
    const other = routeNamed('Kiln state');
    const failed = proof({
      routeId: other.id,
      state: 'failed',
      sentence: 'Nothing of it arrives.',
      fingerprint: fingerprint(plan, other.id),
    });
    const view = await shown(proof(), failed);
    expect(textOf(view, '.tally')).toContain(`1 failed · ${demo.routes.length - 2} never · 1 proved`);
    expect(pageOf(view).querySelector('tbody tr')).toBe(row(view, other.id));
    expect(row(view).innerText).toMatch(/✓ proved\s+2 of 2\s+265 · 320/);
    row(view).click();
    view.detectChanges();
    expect(textOf(view, '.evidence')).toMatch(/a sign\s+-1 °C\s+-1 °C\s+-1 °C\s+320/);
  });

  it('says that a proof no longer counts once what it rests on has changed', async () => {
    const view = await shown(proof({ fingerprint: 'of another time' }));
    expect(row(view).innerText).toContain('↻ changed since');
    row(view).click();
    view.detectChanges();
    expect(textOf(view, '.evidence')).toContain('Prove it again');
  });

  it('says what a person is to move on the real plant, where nothing is driven', async () => {
    on.live.bench$.next({ ...idleBench, running: true, on: 'real' });
    const view = await shown();
    const asked: ProofEvent = { kind: 'ask', routeId: 'position', sentence: 'Move Position; it is 40.0 % now.' };
    spyOn(TestBed.inject(Api), 'stream').and.returnValue(concat(of(asked), NEVER));
    TestBed.inject(RouteProofs).start(null, false);
    view.detectChanges();
    expect(textOf(view, '.ask')).toContain('Move Position; it is 40.0 % now.');
    pageOf(view).querySelector<HTMLButtonElement>('button[name=skip-route]')!.click();
    on.http
      .expectOne(`${projectPath}/prove/routes/position/skip`)
      .flush({ error: { message: 'No proof goes on.', path: [] } }, { status: 409, statusText: 'No' });
    await turn();
    view.detectChanges();
    expect(textOf(view, '[role=alert].problem')).toBe('No proof goes on.');
    expect(textOf(view, '.tally')).toContain('you are asked to move');
  });

  it('proves what is ticked by keyboard, else what is shown, and can be stopped', async () => {
    const view = await shown(proof());
    const proofs = TestBed.inject(RouteProofs);
    const start = spyOn(proofs, 'start');
    const stop = spyOn(proofs, 'stop');
    pick(view, 'only-state', 'proved');
    pageOf(view).querySelector<HTMLButtonElement>('button[name=prove-some]')!.click();
    expect(start.calls.mostRecent().args).toEqual([[route.id], true, false]);
    pick(view, 'only-state', 'never');
    const [first, second] = pageOf(view).querySelectorAll<HTMLElement>('tbody tr');
    first!.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', cancelable: true }));
    first!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', cancelable: true }));
    view.detectChanges();
    expect(second!.getAttribute('aria-selected')).toBe('true');
    pageOf(view).querySelector<HTMLButtonElement>('button[name=prove-some]')!.click();
    expect(start.calls.mostRecent().args).toEqual([[first!.dataset['id']!], true, false]);
    Object.assign(proofs, { isRunning$: of(true) });
    const running = on.show(ProofsView);
    pageOf(running).querySelector<HTMLButtonElement>('button[name=stop-proof]')!.click();
    expect(stop).toHaveBeenCalled();
  });
});

describe('WatchView', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const view = () => on.show(WatchView, { plotted: [] });
  const committed = () => on.http.expectOne(`${projectPath}/change-sets`).request.body as { label: string; changes: Change[] };
  const rows = (fixture: ReturnType<Stage['show']>) => [...pageOf(fixture).querySelectorAll<HTMLElement>('tr[data-row]')];

  it('shows both ends of a route as registers in the radix of the list, its value, and named bits as lamps', () => {
    const status = routeNamed('Fan north status');
    const read = { quality: 'good' as const, reason: null, atMs: 9000 };
    on.live.points.take([{ pointId: status.sourceId, words: [0b10111], ...read }]);
    on.live.points.take([{ pointId: status.destinationId, words: [0b10111], ...read }]);
    const fixture = view();
    const row = rows(fixture).find(({ innerText }) => innerText.includes('Fan north status'))!;
    expect(row.innerText).toMatch(/Fan drive north 1\s+23\s+●●●○●.*ready, on, running/s);
    expect([...row.querySelectorAll<HTMLElement>('.lamps span')].map(({ title }) => title)).toContain('fault off');
    expect(on.live.points.wanted()).toContain(status.destinationId);
    expect(row.innerText).toContain('✓ good');
    doubt(status.id, 'Another value arrives.');
    fixture.detectChanges();
    expect(row.innerText).toContain('? doubtful');
  });

  it('keeps a radix of one row, adds points, takes rows out, and makes a list with a name', async () => {
    const fixture = view();
    pickInMenu(fixture, 'radix', ':nth-of-type(5)');
    expect((committed().changes[0]!.after as WatchList).items[0]!.radix).toBe('binary');
    await turn();
    pick(fixture, 'add-device', pointNamed('Status word').deviceId);
    pick(fixture, 'add', `point ${pointNamed('Status word').id}`);
    pageOf(fixture).querySelector<HTMLButtonElement>('button[name=add-one]')!.click();
    expect((committed().changes[0]!.after as WatchList).items.at(-1)).toEqual({
      of: 'point',
      id: pointNamed('Status word').id,
      radix: null,
    });
    await turn();
    rows(fixture)[1]!.dispatchEvent(new KeyboardEvent('keydown', { key: 'Delete' }));
    const [change] = committed().changes;
    expect((change!.after as WatchList).items.length).toBe((change!.before as WatchList).items.length - 1);
    await turn();
    typeInto(fixture, 'input[name=new-list]', 'Fans');
    await submit(fixture);
    expect(committed().label).toBe('Make list Fans');
  });

  it('draws only the rows in view of a list of thousands', async () => {
    const [list] = demo.watchLists;
    const items = Array.from({ length: 3000 }, (_, index) => ({
      of: 'point' as const,
      id: demo.points[index % demo.points.length]!.id,
      radix: null,
    }));
    on.live.accepted$.next({
      ...{ projectId: demo.project.id, revision: 1, label: '', kind: 'edit', undo: null, redo: null },
      changes: [{ entity: 'watchList', id: list!.id, before: list!, after: { ...list!, items } }],
    });
    const fixture = view();
    pageOf(fixture).style.height = '600px';
    await frames(fixture);
    expect(rows(fixture).length).toBeGreaterThan(10);
    expect(rows(fixture).length).toBeLessThan(60);
    expect(on.live.points.wanted().length).toBeLessThan(60);
  });

  it('chooses what is drawn over time by Space, a route with both its ends', () => {
    const fixture = view();
    rows(fixture)[0]!.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', cancelable: true }));
    const route = routeNamed('Air-on temperature');
    expect(fixture.componentInstance.plotted()).toEqual([route.sourceId, route.destinationId]);
  });
});

describe('Samples', () => {
  it('know how often a value came and the line that it drew', () => {
    const samples = new Samples();
    const point = pointNamed('Kiln air-on temperature');
    for (let index = 0; index < 5; index++)
      samples.take(point, { pointId: point.id, words: [600 + index], quality: 'good', reason: null, atMs: 1000 + 500 * index });
    expect(samples.rate(point.id)).toBe(2);
    expect(samples.line(point.id, 40, 10)).toBe('M0.0 10.0L10.0 7.5L20.0 5.0L30.0 2.5L40.0 0.0');
    expect([samples.rate('another'), samples.line('another', 40, 10)]).toEqual([null, '']);
  });
});

describe('PlotView', () => {
  it('shows what the server has kept as a chart and a table, and asks again only for what is new', async () => {
    const asked: number[] = [];
    const now = Date.now();
    const point = pointNamed('Air-on temperature');
    const series = (ids: readonly string[], sinceMs: number) => {
      asked.push(sinceMs);
      const all: Series = { pointId: ids[0]!, at: [now - 2000, now - 1000], values: [60, 62] };
      return of({ ok: true, value: sinceMs ? [] : [all] });
    };
    const on = await stage([{ provide: Hands, useValue: { series } }]);
    const plot = on.show(PlotView, { pointIds: [point.id] });
    await turn();
    plot.detectChanges();
    expect(textOf(plot, 'tbody tr')).toMatch(/Air-on transmitter, Air-on temperature °C\s+62\s+60\s+61\s+62/);
    doubt(point.id, 'Its papers have another scale.');
    plot.detectChanges();
    const name = pageOf(plot).querySelector<HTMLElement>('tbody td')!;
    expect([name.textContent.trim(), name.title]).toEqual([
      '? Air-on transmitter, Air-on temperature °C',
      'Air-on transmitter, Air-on temperature is in doubt: Its papers have another scale.',
    ]);
    plot.componentRef.setInput('pointIds', [point.id]);
    await new Promise((done) => setTimeout(done, 1100));
    expect(asked.slice(0, 2)).toEqual([0, now - 1000]);
    pageOf(plot).querySelector<HTMLButtonElement>('button.drop')!.click();
    plot.detectChanges();
    expect(textOf(plot)).toContain('Nothing is drawn yet');
    plot.destroy();
  });
});

describe('WritePanel', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const shown = async () => {
    const panel = on.show(WritePanel);
    on.http.expectOne(`${projectPath}/by-hand`).flush([{ id: 'a', atMs: 1, revision: 2, sentence: 'Something was set.', by: 'A. Person' }]);
    await turn();
    const setPoint = pointNamed('Damper set point');
    pick(panel, 'write-device', setPoint.deviceId);
    pick(panel, 'write-point', setPoint.id);
    return { panel, setPoint };
  };

  it('says before it is written what a value becomes, writes it, and keeps what was typed when it is refused', async () => {
    const { panel, setPoint } = await shown();
    expect(textOf(panel, '.log')).toContain('Something was set.');
    typeInto(panel, 'textarea', '73,4');
    expect(textOf(panel, '.now')).toContain('73.4 % as 02DE');
    await submit(panel);
    const write = on.http.expectOne(`${projectPath}/bench/write`);
    expect(write.request.body).toEqual({ pointId: setPoint.id, value: '73,4', broadcast: false });
    write.flush({ error: { message: 'It was not written: it does not answer.', path: [] } }, { status: 502, statusText: 'No' });
    await turn();
    panel.detectChanges();
    expect(textOf(panel, '[role=alert]')).toBe('It was not written: it does not answer.');
    expect(pageOf(panel).querySelector('textarea')!.value).toBe('73,4');
  });

  it('writes a block to the points that follow, and says where too few do', async () => {
    const { panel } = await shown();
    typeInto(panel, 'textarea', '1\n2\n3');
    await submit(panel);
    const { writes } = on.http.expectOne(`${projectPath}/bench/write-block`).request.body as { writes: { value: string }[] };
    expect(writes.map(({ value }) => value)).toEqual(['1', '2', '3']);
    typeInto(panel, 'textarea', '1\n'.repeat(500));
    await submit(panel);
    expect(textOf(panel, 'mat-error')).toContain('500 values were typed');
    expect(pageOf(panel).querySelector('textarea')!.value.length).toBe(1000);
  });

  it('keeps what was written as wanted where that is ticked, and not what was refused', async () => {
    const { panel, setPoint } = await shown();
    typeInto(panel, 'textarea', '73,4');
    pageOf(panel).querySelector<HTMLInputElement>('mat-checkbox[name=write-wanted] input')!.click();
    await submit(panel);
    const first = on.http.expectOne(`${projectPath}/bench/write`);
    first.flush({ error: { message: 'It does not answer.', path: [] } }, { status: 502, statusText: 'No' });
    on.http.expectNone(`${projectPath}/change-sets`);
    await submit(panel);
    on.http.expectOne(`${projectPath}/bench/write`).flush({ sentence: 'It was set.' });
    const { label, changes } = on.http.expectOne(`${projectPath}/change-sets`).request.body as { label: string; changes: object[] };
    expect([label, changes]).toEqual([
      'Damper set point wanted as written',
      [{ entity: 'point', id: setPoint.id, before: setPoint, after: { ...setPoint, setting: { wanted: '73,4' } } }],
    ]);
  });

  it('offers to write to every unit of a serial line, for one device at a time, and not elsewhere', async () => {
    const { panel } = await shown();
    const tick = () => pageOf(panel).querySelector<HTMLInputElement>('input[name=write-broadcast]');
    expect(tick()).withContext('the Kiln controller is on Ethernet').toBeNull();
    pick(panel, 'write-device', deviceNamed('Exhaust damper').id);
    tick()!.click();
    panel.detectChanges();
    typeInto(panel, 'textarea', '5');
    await submit(panel);
    expect(on.http.expectOne(`${projectPath}/bench/write`).request.body).toEqual(jasmine.objectContaining({ value: '5', broadcast: true }));
    pick(panel, 'write-device', deviceNamed('Fan drive north').id);
    expect(tick()!.checked).toBeFalse();
  });

  it('turns a single bit over and leaves the others as they were read', async () => {
    const { panel } = await shown();
    const command = pointNamed('Fan north command');
    pick(panel, 'write-point', command.id);
    const bits = () => [...pageOf(panel).querySelectorAll<HTMLButtonElement>('.bits button')];
    bits()[0]!.click();
    panel.detectChanges();
    expect(textOf(panel, '[role=alert]')).toContain('has not been read yet');
    on.live.points.take([{ pointId: command.id, words: [0b10000010], quality: 'good', reason: null, atMs: 1 }]);
    bits()[0]!.click();
    expect(on.http.expectOne(`${projectPath}/bench/write`).request.body).toEqual({ pointId: command.id, value: '0x83', broadcast: false });
  });

  it('lets a value move with what was typed, or says at which field it does not fit', async () => {
    const { panel, setPoint } = await shown();
    pageOf(panel).querySelector<HTMLButtonElement>('button[name=moving]')!.click();
    panel.detectChanges();
    typeInto(panel, 'input[name=high]', '-5');
    const form = pageOf(panel).querySelectorAll('form')[1]!;
    form.dispatchEvent(new Event('submit', { cancelable: true }));
    await turn();
    panel.detectChanges();
    expect(textOf(panel, '[data-name=high] mat-error')).toBe('The highest is below the lowest.');
    typeInto(panel, 'input[name=high]', '60');
    form.dispatchEvent(new Event('submit', { cancelable: true }));
    expect(on.http.expectOne(`${projectPath}/bench/patterns`).request.body).toEqual({
      pointId: setPoint.id,
      pattern: { kind: 'ramp', low: 0, high: 60, periodMs: 10_000, everyMs: 500, forMs: 60_000 },
    });
  });

  it('lists what is forced or moves, and ends it', async () => {
    const route = routeNamed('Kiln state');
    on.live.bench$.next({
      ...{ ...idleBench, running: true },
      byHand: [
        { kind: 'forced', id: route.id, name: route.name, text: '7' },
        { kind: 'pattern', id: 'm', pointId: 'p', text: 'Speed: rising', untilMs: 5 },
      ],
    });
    const { panel } = await shown();
    expect(textOf(panel, '.sign')).toContain('Kiln state is forced to 7');
    const [release, end] = pageOf(panel).querySelectorAll<HTMLButtonElement>('.sign button');
    release!.click();
    expect(on.http.expectOne(`${projectPath}/bench/force`).request.body).toEqual({ routeId: route.id, value: null });
    end!.click();
    expect(on.http.expectOne(`${projectPath}/bench/patterns/m`).request.method).toBe('DELETE');
  });
});

describe('ErrandsView', () => {
  let on: Stage;
  const [display] = demo.errands;
  beforeEach(async () => (on = await stage()));
  const shown = async (runs: ErrandRun[] = []) => {
    const view = on.show(ErrandsView);
    on.http.expectOne(`${projectPath}/errands/${display!.id}/runs`).flush(runs);
    await turn();
    view.detectChanges();
    return view;
  };
  const run: ErrandRun = {
    ...{
      id: 'r',
      errandId: display!.id,
      name: display!.name,
      startedBy: 'by hand',
      atMs: 1,
      endedAtMs: 2,
      state: 'failed',
      sentence: 'Step 4: no.',
    },
    steps: [{ step: 1, atMs: 1, ms: 12, ok: true, sentence: 'Batch number is 7.' }],
  };

  it('shows how each run went, also one that goes on, and stops that', async () => {
    const view = await shown([run]);
    expect(textOf(view, '.runs')).toMatch(/✗ failed\s+Step 4: no\..*Batch number is 7\.\s+12 ms/s);
    on.live.errandRuns$.next(new Map([['s', { ...run, id: 's', state: 'runs', atMs: 5, endedAtMs: null, sentence: '' }]]));
    view.detectChanges();
    pageOf(view).querySelector<HTMLButtonElement>('button[name=stop-errand]')!.click();
    on.http.expectOne(`/api/projects/${demo.project.id}/errand-runs/s/stop`);
  });

  it('changes steps, says at the step what does not fit, and saves all as one edit', async () => {
    const view = await shown();
    pickInMenu(view, 'add-step', '[data-step=repeat]');
    const last = 'li:last-child input[name^=from]';
    typeInto(view, last, '9');
    const save = () => pageOf(view).querySelector<HTMLButtonElement>('button[name=save-errand]')!;
    save().click();
    view.detectChanges();
    expect(textOf(view, 'li:last-child mat-error')).toContain('It goes back, to a step before 6');
    typeInto(view, last, '2');
    save().click();
    const { changes } = on.http.expectOne(`${projectPath}/change-sets`).request.body as { changes: Change[] };
    expect((changes[0]!.after as Errand).steps.at(-1)).toEqual({ kind: 'repeat', from: 2, times: 1 });
  });

  it('runs an errand, and says why it may not just now', async () => {
    const view = await shown();
    pageOf(view).querySelector<HTMLButtonElement>('button[name=run-errand]')!.click();
    const asked = on.http.expectOne(`${projectPath}/errands/${display!.id}/run`);
    asked.flush({ error: { message: 'It runs already.', path: [] } }, { status: 409, statusText: 'No' });
    await turn();
    view.detectChanges();
    expect(textOf(view, '[role=alert]')).toBe('It runs already.');
  });

  it('asks before what was typed is left for another errand, and stays where it is told to', async () => {
    const other = { ...display!, id: '019aa000-0000-7000-8000-00000000eeee', name: 'Another' };
    Object.assign(on.project, { document$: of({ ...demo, errands: [display!, other] }) });
    const view = on.show(ErrandsView);
    const name = () => pageOf(view).querySelector<HTMLInputElement>('input[name=errand-name]')!.value;
    const answer = async (button: string) => {
      const dialog = () => document.querySelector<HTMLElement>(`pe-leave-dialog button[name=${button}]`);
      for (let turns = 0; turns < 100 && !dialog(); turns++) await new Promise((done) => setTimeout(done, 20));
      dialog()!.click();
      for (let turns = 0; turns < 100 && dialog(); turns++) await new Promise((done) => setTimeout(done, 20));
      await turn();
      view.detectChanges();
    };
    typeInto(view, 'input[name=errand-name]', 'Yard');
    pick(view, 'errand', other.id);
    await answer('stay');
    expect([name(), pageOf(view).querySelector<HTMLInputElement>('input[name=errand]')!.value]).toEqual(['Yard', display!.name]);
    pick(view, 'errand', other.id);
    await answer('let-go');
    expect(name()).toBe('Another');
  });

  it('makes a new errand with a first step', async () => {
    const view = await shown();
    pageOf(view).querySelector<HTMLButtonElement>('button[name=new-errand]')!.click();
    const { label } = on.http.expectOne(`${projectPath}/change-sets`).request.body as { label: string };
    expect(label).toBe('Make errand New errand');
  });

  it('moves and drops steps', async () => {
    const view = await shown();
    pageOf(view).querySelector<HTMLButtonElement>('[aria-label="Step 2 earlier"]')!.click();
    view.detectChanges();
    expect(textOf(view, 'li:first-child strong')).toBe('write');
    pageOf(view).querySelector<HTMLButtonElement>('[aria-label="Take step 1 out"]')!.click();
    view.detectChanges();
    expect(pageOf(view).querySelectorAll('li').length).toBe(4);
  });
});

describe('ArmPanel', () => {
  it('names the lines on which this machine would ask itself, where somebody else may ask now', async () => {
    const on = await stage();
    const panel = on.show(ArmPanel);
    expect(textOf(panel)).not.toContain('asks through');
    const line = demo.lines.find(({ name }) => name === 'Kiln bus')!;
    on.live.accepted$.next({
      ...{ projectId: demo.project.id, revision: 1, label: '', kind: 'edit', undo: null, redo: null },
      changes: [{ entity: 'line', id: line.id, before: line, after: { ...line, boundTo: '/dev/ttyUSB0' } }],
    });
    panel.detectChanges();
    expect(textOf(panel)).toContain('On Kiln bus it asks through /dev/ttyUSB0.');
  });

  it('shows what an edit would do otherwise, and lets it be confirmed or taken back', async () => {
    const on = await stage();
    const row = plantActs(demo, compile(demo).plan)[0]!;
    const was = { ...row, what: 'Something (W1)' };
    const differences: PlantDifference[] = [
      { change: 'changed', act: row, was },
      { change: 'changed', act: { ...row, id: 'b', periodMs: 100 }, was: row },
      { change: 'removed', act: { ...row, id: 'c' }, was: null },
    ];
    on.live.bench$.next({ ...idleBench, armedUntilMs: 99, awaiting: { mark: 'abc', count: 4, differences } });
    const panel = on.show(AwaitingPanel);
    expect(textOf(panel)).toContain('these 4 things otherwise');
    expect(textOf(panel)).toContain('The bench stands still.');
    expect(textOf(panel, 'tbody')).toContain('Something (W1)');
    expect(textOf(panel, 'tbody')).toContain('every 100 ms in place of');
    expect(textOf(panel)).toContain('The first 3 of 4.');
    pageOf(panel).querySelector<HTMLButtonElement>('button[name=confirm]')!.click();
    const confirm = on.http.expectOne(`${projectPath}/bench/confirmed`);
    expect(confirm.request.body).toEqual({ mark: 'abc' });
    confirm.flush({ error: { message: 'Look at it again.', path: ['mark'] } }, { status: 409, statusText: 'No' });
    await turn();
    panel.detectChanges();
    expect(textOf(panel, '[role=alert]')).toBe('Look at it again.');
    pageOf(panel).querySelector<HTMLButtonElement>('button[name=confirm]')!.click();
    on.http.expectOne(`${projectPath}/bench/confirmed`).flush({ ...idleBench, armedUntilMs: 99 });
    await turn();
    panel.detectChanges();
    expect(textOf(panel)).toBe('');
  });

  it('lists what would be written, keeps what was typed when it is refused, and runs once it is armed', async () => {
    const on = await stage();
    const panel = on.show(ArmPanel);
    const closed: unknown[] = [];
    panel.componentInstance.closed.subscribe(() => closed.push(1));
    expect(textOf(panel, 'tbody')).toMatch(/Burner control\s+10[.\d]+:502, unit \d+\s+Air set point \(.*from .* of Kiln controller/);
    typeInto(panel, 'input[name=arm-word]', 'yes');
    await submit(panel);
    on.http
      .expectOne(`${projectPath}/bench/armed`)
      .flush({ error: { message: 'Type the name of the project.', path: ['word'] } }, { status: 422, statusText: 'No' });
    await turn();
    panel.detectChanges();
    expect(textOf(panel, 'mat-error')).toBe('Type the name of the project.');
    expect(pageOf(panel).querySelector('input')!.value).toBe('yes');
    await submit(panel);
    on.http.expectOne(`${projectPath}/bench/armed`).flush({ ...idleBench, armedUntilMs: 99 });
    await turn();
    const run = on.http.expectOne(`${projectPath}/bench/run`);
    expect(run.request.body).toEqual({ on: 'real' });
    run.flush({ ...idleBench, running: true, on: 'real', armedUntilMs: 99 });
    await turn();
    expect([closed.length, on.live.bench.armedUntilMs]).toEqual([1, 99]);
  });
});

describe('CountersTable', () => {
  it('sums up by line what is counted of devices and requests, and shows only trouble where that is asked', async () => {
    const on = await stage();
    const burner = deviceNamed('Burner control');
    const counters = (id: string, answered: number, noAnswer: number): Counters => ({
      ...newCounters(id),
      ...{ answered, noAnswer, exceptions: noAnswer ? { 2: 3 } : {}, lastMs: 5, meanMs: 6.2, worstMs: 40 },
      ...{ lastErrorAtMs: noAnswer ? 1 : null, lastError: noAnswer ? 'It does not answer.' : null },
    });
    const steep = deviceNamed('Steep controller');
    const [request] = compile(demo).plan.requests.filter(({ deviceId }) => deviceId === burner.id);
    on.live.devices.take([counters(burner.id, 10, 2)]);
    on.live.devices.take([counters(steep.id, 7, 0)]);
    on.live.requests.take([counters(request!.id, 4, 2)]);
    const table = on.show(CountersTable);
    const rows = () =>
      [...pageOf(table).querySelectorAll<HTMLElement>('tbody tr')].map(({ innerText }) => innerText.replace(/\s+/g, ' ').trim());
    expect(rows()[0]).toMatch(/^Process net 17 2 2: 3/);
    expect(rows().some((text) => /^Burner control 10 2 2: 3 5\.0 · 6\.2 · 40 .* It does not answer\.$/.test(text))).toBeTrue();
    expect(rows().some((text) => text.startsWith('Steep controller 7'))).toBeTrue();
    pageOf(table).querySelector<HTMLInputElement>('input[name=only-trouble]')!.click();
    table.detectChanges();
    expect(rows().length).toBe(3);
  });
});
