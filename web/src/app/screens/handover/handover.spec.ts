import { of } from 'rxjs';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { compile } from '@plain-envoy/core/compile';
import { requestSheets } from '@plain-envoy/core/plan';
import { PlanStore } from '../../data/plan';
import { demo, deviceNamed, pressKey, stage, textOf, turn, type Stage } from '../../testing.spec-helper';
import { HandoverScreen } from './handover';

const [kiln, steep] = requestSheets(demo, compile(demo).plan);

describe('HandoverScreen', () => {
  let on: Stage;
  let screen: ComponentFixture<HandoverScreen>;
  const host = () => screen.nativeElement as HTMLElement;
  const rows = () => [...host().querySelectorAll<HTMLElement>('tbody tr')];
  const tab = (name: string) =>
    [...host().querySelectorAll<HTMLElement>('[role=tab]')].find(({ innerText }) => innerText.startsWith(name))!;
  const whose = () => textOf(screen, '.screen-head mat-select').trim();

  beforeEach(async () => {
    on = await stage();
    screen = on.show(HandoverScreen);
  });

  it('shows the requests of the first carrier, as they are typed into its package', () => {
    expect(rows().length).toBe(kiln!.rows.length);
    expect(textOf(screen, '.entry')).toContain('one-based entry, the first register is typed as 1');
    const first = kiln!.rows[0]!;
    const cells = [...rows()[0]!.querySelectorAll('td')].map(({ innerText }) => innerText.trim());
    expect(cells.slice(0, 8)).toEqual(
      [
        first.number,
        first.connection,
        first.unitId,
        first.device,
        `${first.functionCode} ${first.functionName}`,
        first.start,
        first.offset,
        first.count,
      ].map(String),
    );
    expect(textOf(screen, '.screen-head')).toMatch(/request sheet · \d+ requests · \d+ ms on serial lines, each once/);
  });

  it('says of the chosen request how it came about, and which routes it carries', () => {
    const index = kiln!.rows.findIndex(({ device }) => device === 'Floor I/O block');
    rows()[index]!.click();
    screen.detectChanges();
    expect(textOf(screen, '.why')).toContain(kiln!.rows[index]!.why.join(' '));
    expect(host().querySelectorAll('.why .routes a').length).toBeGreaterThan(0);
    expect(rows()[index]!.getAttribute('aria-selected')).toBe('true');
  });

  it('is walked by the arrow keys', () => {
    pressKey(rows()[0]!, 'ArrowDown');
    screen.detectChanges();
    expect(
      rows()
        .map((row) => row.tabIndex)
        .indexOf(0),
    ).toBe(1);
    pressKey(rows()[1]!, 'ArrowUp');
    pressKey(rows()[0]!, 'ArrowUp');
    screen.detectChanges();
    expect(
      rows()
        .map((row) => row.tabIndex)
        .indexOf(0),
    ).toBe(0);
  });

  it('puts whose sheet is shown into the address, and shows it from there', async () => {
    const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
    tab('Mapping').click();
    expect(navigate).toHaveBeenCalledWith([], { queryParams: { view: 'mapping', of: null }, replaceUrl: true });
    const id = deviceNamed('Steep controller').id;
    const show = async (view: string, whom: string) => {
      screen = on.show(HandoverScreen, { view, of: whom });
      await turn();
      screen.detectChanges();
    };
    await show('requests', id);
    expect([whose(), tab('Requests').getAttribute('aria-selected')]).toEqual(['Steep controller', 'true']);
    expect(rows().length).toBe(steep!.rows.length);
    expect(textOf(screen, '.entry')).toContain('typed as they go over the wire');
    await show('mapping', deviceNamed('Turner converter').id);
    expect([whose(), textOf(screen, '.screen-head .quiet')]).toEqual(['Turner converter', 'mapping sheet']);
    expect(textOf(screen, 'pe-mapping-view')).toContain('Position is received every 100 ms');
  });

  it('gives the sheet away in the formats that the server writes, and as a table', async () => {
    const written: string[] = [];
    spyOn(navigator.clipboard, 'writeText').and.callFake((text) => {
      written.push(text);
      return Promise.resolve();
    });
    const links = [...host().querySelectorAll<HTMLAnchorElement>('a[download]')].map((link) => [link.innerText, link.getAttribute('href')]);
    expect(links).toEqual([['CSV', `/api/projects/${demo.project.id}/sheets/${deviceNamed('Kiln controller').id}?format=csv`]]);
    host().querySelector<HTMLElement>('button[name=copy]')!.click();
    await Promise.resolve();
    const [head, ...body] = written[0]!.split('\n');
    expect(head!.split('\t').slice(0, 4)).toEqual(['No.', 'Connection', 'Unit', 'Device']);
    expect(body.length).toBe(kiln!.rows.length);
  });

  it('says what to do while nothing is carried', async () => {
    TestBed.resetTestingModule();
    const empty = { ...demo, routes: [] };
    on = await stage([{ provide: PlanStore, useValue: { plan$: of(compile(empty).plan), findings$: of([]), doubts$: of(new Map()) } }]);
    screen = on.show(HandoverScreen);
    expect(textOf(screen)).toContain('Nothing is carried yet. Make the first route in Routes');
    expect(host().querySelector('table')).toBeNull();
  });
});
