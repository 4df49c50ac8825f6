import { BehaviorSubject, of } from 'rxjs';
import { newCounters } from '@plain-envoy/core/feed';
import { asItIs, forecast, type Forecast, type WhatIf } from '@plain-envoy/core/forecast';
import type { Change } from '@plain-envoy/core/model';
import { Forecasts } from '../../data/forecasts';
import type { Forecasted } from '../../data/forecast.worker';
import type { ComponentFixture } from '@angular/core/testing';
import { demo, pick, pickInMenu, stage, turn, typeInto } from '../../testing.spec-helper';
import { AgeTable } from './age-table';
import { RequestTable } from './request-table';
import { RoundTable } from './round-table';
import { changeText, msText, periodText } from './round-words';
import { WhatIfBar } from './what-if-bar';
import { compile } from '@plain-envoy/core/compile';

const { plan } = compile(demo);
const usual = { horizonMs: 20_000, dead: [] as string[], backsOff: true };
const as = (said: Forecast): Forecasted => ({ forecast: said, requests: plan.requests });
const base = as(forecast(demo, plan, usual));
const north = demo.devices.find(({ name }) => name === 'Fan drive north')!;
const kilnGateway = demo.devices.find(({ name }) => name === 'Kiln gateway')!;
const onKilnBus = plan.requests.filter(({ endpointId }) => endpointId === kilnGateway.id);

/** Forecasts that a test decides, without workers. */
function fake(other: Forecasted | null = null) {
  const whatIf$ = new BehaviorSubject<WhatIf>(asItIs);
  return {
    base$: of(base),
    other$: of(other),
    shown$: of(other ?? base),
    whatIf$,
    backsOff$: of(true),
    advice$: of([]),
    tookMs$: of(1),
    suppose: (change: (now: WhatIf) => WhatIf) => whatIf$.next(change(whatIf$.value)),
  };
}

async function staged(forecasts = fake()) {
  const on = await stage([{ provide: Forecasts, useValue: forecasts }]);
  /** The edit that was asked for, accepted. */
  const edit = () => {
    const request = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`);
    const { label, changes } = request.request.body as { label: string; changes: Change[] };
    request.flush({ projectId: demo.project.id, id: 'x', revision: 1, label, kind: 'edit', undo: label, redo: null, changes });
    return { label, changes };
  };
  return { ...on, forecasts, edit };
}
const press = (element: Element, key: string, more: KeyboardEventInit = {}) =>
  element.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, ...more }));
const pageOf = (fixture: { nativeElement: unknown }) => fixture.nativeElement as HTMLElement;

describe('figures of rounds', () => {
  it('are short, and say a change only where there is one', () => {
    expect([msText(481.3), msText(1840), msText(12_480), msText(250_000), msText(null)]).toEqual([
      '481',
      '1 840',
      '12.5 s',
      '250 s',
      'never',
    ]);
    expect([periodText(500), periodText(20_000)]).toEqual(['500 ms', '20.0 s']);
    expect([changeText(500, 500.2), changeText(500, 1203), changeText(500, null)]).toEqual(['500', '500 → 1 203', '500 → never']);
  });
});

describe('the table of requests', () => {
  const table = async (other: Forecasted | null, measured = false) => {
    const on = await staged(fake(other));
    const inputs = { requests: onKilnBus, roundNames: new Map(demo.rounds.map(({ id, name }) => [id, name])), measured, chosenId: null };
    return { ...on, fixture: on.show(RequestTable, inputs) };
  };

  it('says of each what was wished and what it really gets', async () => {
    const page = pageOf((await table(null)).fixture);
    expect(page.querySelectorAll('tbody tr').length).toBe(onKilnBus.length);
    const row = page.querySelector('tbody tr')!;
    expect(row.textContent).toContain('Air-on transmitter, reads');
    expect(row.textContent).toContain('Kiln, fast');
    expect(row.textContent).toContain('kept');
  });

  it('shows what a dead device changes, before and after', async () => {
    const other = as(forecast(demo, plan, { ...usual, dead: [north.id], backsOff: false }));
    const text = pageOf((await table(other)).fixture).textContent!;
    expect(text).toMatch(/500 → \d/);
    expect(text).toContain('slower than wished');
  });

  it('names a probable reason where what is measured differs from the forecast', async () => {
    const { fixture, live, edit } = await table(null, true);
    const [request] = onKilnBus;
    const pace = { runs: 9, meanPeriodMs: 700, worstPeriodMs: 900, recent: [] };
    live.requests.take([{ ...newCounters(request!.id, pace), ...{ answered: 9, lastMs: 90, meanMs: 90, worstMs: 90 } }]);
    fixture.componentRef.setInput('requests', [...onKilnBus]);
    fixture.detectChanges();
    const row = pageOf(fixture).querySelector('tbody tr')!;
    expect(row.textContent).toContain('answers more slowly than stated');
    row.querySelector('button')!.click();
    const { changes } = edit();
    expect([changes[0]!.entity, Number(changes[0]!.after?.['delayMs']) > 50]).toEqual(['device', true]);
    await turn();
  });

  it('is walked by the arrow keys', async () => {
    const { fixture } = await table(null);
    const chosen: string[] = [];
    fixture.componentInstance.choose.subscribe((id) => chosen.push(id));
    press(pageOf(fixture).querySelector('tbody tr')!, 'ArrowDown');
    expect(chosen).toEqual([onKilnBus[1]!.id]);
  });
});

describe('the table of ages', () => {
  const routeIds = new Set(demo.routes.map(({ id }) => id));
  const table = async () => {
    const on = await staged();
    const fixture = on.show(AgeTable, { routeIds, measured: false });
    const page = pageOf(fixture);
    const rows = () => [...page.querySelectorAll('tbody tr')];
    return { ...on, fixture, page, rows };
  };

  it('moves the chosen values to another round as one change, by keyboard alone', async () => {
    const { fixture, page, rows, edit } = await table();
    press(rows()[0]!, ' ');
    fixture.detectChanges();
    press(rows()[0]!, 'ArrowDown', { shiftKey: true });
    fixture.detectChanges();
    expect(page.querySelectorAll('tr.chosen').length).toBe(2);
    const calm = demo.rounds.find(({ name }) => name === 'Every ten seconds')!;
    pickInMenu(fixture, 'move', `[data-round="${calm.id}"]`);
    const { changes } = edit();
    expect(changes.length).toBeGreaterThan(0);
    expect(changes.every(({ after }) => after?.['roundId'] === calm.id)).toBeTrue();
    await turn();
  });

  it('moves a row by dropping it on a round', async () => {
    const { fixture, page, rows, edit } = await table();
    rows()[0]!.dispatchEvent(new Event('dragstart'));
    fixture.detectChanges();
    const calm = [...page.querySelectorAll('.round')].find(({ textContent }) => textContent!.includes('Every ten seconds'))!;
    const name = rows()[0]!.querySelector('.name')!.textContent!.trim();
    calm.dispatchEvent(new Event('drop'));
    expect(edit().label).toBe(`Move ${name} to Every ten seconds`);
    await turn();
  });

  it('keeps a limit that does not fit where it was typed, and says why', async () => {
    const { fixture, page, rows, http, edit } = await table();
    press(rows()[0]!, 'a', { ctrlKey: true });
    fixture.detectChanges();
    const box = page.querySelector<HTMLInputElement>('input[name=limit]')!;
    const limit = (text: string) => {
      typeInto(fixture, 'input[name=limit]', text);
      page.querySelector('form')!.dispatchEvent(new Event('submit'));
      fixture.detectChanges();
    };
    limit('soon');
    expect(page.querySelector('mat-error')!.textContent).toContain('A whole number');
    http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    limit('1200');
    expect([box.value, edit().changes.every(({ after }) => after?.['maxAgeMs'] === 1200)]).toEqual(['1200', true]);
    await turn();
  });

  it('shows those of one round only', async () => {
    const { fixture, page, rows } = await table();
    const slow = [...page.querySelectorAll<HTMLElement>('.round')].find(({ textContent }) => textContent!.includes('Kiln, slow'))!;
    slow.querySelector('button')!.click();
    fixture.detectChanges();
    const { id } = demo.rounds.find(({ name }) => name === 'Kiln, slow')!;
    expect(rows().length).toBe(demo.routes.filter(({ roundId }) => roundId === id).length);
  });
});

describe('the table of rounds', () => {
  it('sets a period in place, and says at its place what does not fit', async () => {
    const { show, http, edit } = await staged();
    const fixture = show(RoundTable);
    const page = pageOf(fixture);
    const box = page.querySelector<HTMLInputElement>('input[aria-label="periodMs of Kiln, fast"]')!;
    const type = (text: string) => {
      typeInto(fixture, 'input[aria-label="periodMs of Kiln, fast"]', text);
      box.dispatchEvent(new Event('change', { bubbles: true }));
      fixture.detectChanges();
    };
    type('5');
    expect([page.querySelector('mat-error')!.textContent, box.value, box.getAttribute('aria-invalid')]).toEqual([
      'The shortest period is 10 ms.',
      '5',
      'true',
    ]);
    http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    type('750');
    expect(edit().changes[0]!.after?.['periodMs']).toBe(750);
    await turn();
  });

  it('adds a round, and offers to delete only those without values', async () => {
    const { show, edit } = await staged();
    const fixture = show(RoundTable);
    const page = pageOf(fixture);
    expect([...page.querySelectorAll('td button')].length).toBe(0);
    page.querySelector<HTMLButtonElement>('button[name=add-round]')!.click();
    expect(edit().changes[0]!.after?.['name']).toBe('Round 5');
    await turn();
    fixture.detectChanges();
    page.querySelector<HTMLButtonElement>('td button')!.click();
    expect(edit().label).toBe('Delete Round 5');
    await turn();
  });
});

describe('what if', () => {
  /** Chooses of what, and then what about it. */
  const suppose = (fixture: ComponentFixture<WhatIfBar>, what: string, id: string) => {
    pick(fixture, 'what-if', id);
    pageOf(fixture).querySelector<HTMLButtonElement>(`[data-suppose=${what}]`)!.click();
    fixture.detectChanges();
  };

  it('supposes a device dead and a round slower, by a list and a slider, and takes each back', async () => {
    const { show, forecasts } = await staged();
    const fixture = show(WhatIfBar);
    const page = pageOf(fixture);
    const [fast] = demo.rounds;
    suppose(fixture, 'dead', north.id);
    suppose(fixture, 'period', fast!.id);
    expect(forecasts.whatIf$.value).toEqual({ ...asItIs, dead: [north.id], period: { [fast!.id]: fast!.periodMs } });
    const slider = page.querySelector<HTMLInputElement>('input[type=range]')!;
    slider.value = '0';
    slider.dispatchEvent(new Event('input'));
    fixture.detectChanges();
    expect(forecasts.whatIf$.value.period[fast!.id]).toBe(50);
    const taken: unknown[] = [];
    fixture.componentInstance.takeOver.subscribe(() => taken.push(1));
    page.querySelector<HTMLButtonElement>('button[name="take-over"]')!.click();
    expect(taken.length).toBe(1);
    for (const button of page.querySelectorAll<HTMLButtonElement>('.chip button')) button.click();
    fixture.detectChanges();
    expect(forecasts.whatIf$.value).toEqual(asItIs);
    expect(page.querySelector('button[name="take-over"]')).toBeNull();
  });

  it('starts each slider where the project stands', async () => {
    const { show, forecasts } = await staged();
    const fixture = show(WhatIfBar);
    const bus = demo.lines.find(({ name }) => name === 'Loft bus')!;
    suppose(fixture, 'baud', bus.id);
    suppose(fixture, 'timeout', kilnGateway.id);
    for (const what of ['loss', 'slower', 'own']) suppose(fixture, what, north.id);
    const { baud, timeout, loss, slower, own } = forecasts.whatIf$.value;
    const stand = [baud[bus.id], timeout[kilnGateway.id], loss[north.id], slower[north.id], own[north.id]];
    expect(stand).toEqual([9600, kilnGateway.timeoutMs, 0, 1, 500]);
    expect(pageOf(fixture).querySelectorAll('input[type=range]').length).toBe(5);
  });
});
