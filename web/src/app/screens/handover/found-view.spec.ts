import type { ComponentFixture } from '@angular/core/testing';
import { type KeptObserved, type ObservedDevice, whereAsked } from '@plain-envoy/core/as-found';
import { noIdentification } from '@plain-envoy/core/identity';
import type { Change, ProjectDocument } from '@plain-envoy/core/model';
import { BehaviorSubject } from 'rxjs';
import { AsFound, type Looked } from '../../data/as-found';
import { demo, deviceNamed, pageOf, pick, type Stage, stage, textOf, turn } from '../../testing.spec-helper';
import { FoundView } from './found-view';

const drive = deviceNamed('Fan drive north');
const kilnBus = demo.lines.find(({ name }) => name === 'Kiln bus')!;
const own = (name: string) => demo.points.find((point) => point.deviceId === drive.id && point.name === name)!;
const asked = whereAsked(demo, drive.id);
const holds = (name: string, ...words: number[]) => ({ table: own(name).table, offset: own(name).offset, words });
const observed = (fields: Partial<ObservedDevice> = {}): KeptObserved => ({
  ...{ of: drive.id, revision: 0, atMs: 0, by: 'A. Tester' },
  body: {
    ...{ kind: 'device', name: drive.name, on: 'stand-ins', asked: asked.ok ? asked.value : '', steps: [], refused: [], ended: null },
    identification: { ...noIdentification, revision: '2.1' },
    held: [holds('Comms timeout', 30), holds('Ramp to top speed', 75), holds('Top speed', 580), holds('Pulses per turn', 1024)],
    ...fields,
  },
});

class FakeFound {
  readonly seen$ = new BehaviorSubject<ReadonlyMap<string, KeptObserved>>(new Map());
  readonly progress$ = new BehaviorSubject<{ kind: 'progress'; done: number; total: number; doing: string } | null>(null);
  readonly problem$ = new BehaviorSubject<string | null>(null);
  readonly isRunning$ = new BehaviorSubject(false);
  readonly asked: (Looked | 'stop')[] = [];
  load = () => undefined;
  look = (looked: Looked) => this.asked.push(looked);
  stop = () => this.asked.push('stop');
  tell(...rows: KeptObserved[]): void {
    this.seen$.next(new Map(rows.map((row) => [`${row.body.on} ${row.of}`, row])));
  }
}

describe('As found, on Handover', () => {
  let on: Stage;
  let looking: FakeFound;
  let view: ComponentFixture<FoundView>;
  const path = `/api/projects/${demo.project.id}/revisions`;
  const drawn = async () => {
    for (let times = 0; times < 3; times++) {
      await turn();
      view.detectChanges();
    }
  };
  beforeEach(async () => {
    looking = new FakeFound();
    on = await stage([{ provide: AsFound, useValue: looking }]);
    view = on.show(FoundView, { of: demo.project.id });
    const names = [{ revision: 2, name: 'As built', note: '', atMs: 0, by: null }];
    on.http.expectOne(path).flush({ current: 4, first: 0, entries: [], names });
    await drawn();
  });
  const rowIn = (css: string, begins: string) =>
    [...pageOf(view).querySelectorAll<HTMLElement>(`${css} tbody tr`)].find((row) => row.innerText.trim().startsWith(begins));
  const cellsIn = (css: string, begins: string) =>
    [...(rowIn(css, begins)?.querySelectorAll('td') ?? [])].slice(0, 4).map(({ innerText }) => innerText.trim());
  const choose = async (name: string) => {
    rowIn('.failing', name)!.click();
    await drawn();
  };
  const click = async (css: string) => {
    pageOf(view).querySelector<HTMLElement>(css)!.click();
    await drawn();
  };
  const committed = () =>
    on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { label: string; changes: Change[] };

  it('lays beside the design what was found, what differs first, and in full where that is wanted', async () => {
    looking.tell(observed());
    await choose(drive.name);
    expect(cellsIn('.failing', drive.name)[1]).toBe('1 differs');
    expect(textOf(view, '[data-name=seen]')).toMatch(/^Seen on the stand-ins, .*, by A\. Tester, where revision 0 has it\.$/);
    expect([...pageOf(view).querySelectorAll<HTMLElement>('.values tbody tr td:first-child')].map(({ innerText }) => innerText)).toEqual([
      'Ramp to top speed',
      'Its revision',
    ]);
    expect(cellsIn('.values', 'Ramp')).toEqual(['Ramp to top speed', '9.0 s', '7.5 s', 'differs']);
    expect(cellsIn('.values', 'Its revision')).toEqual(['Its revision', 'not said', '2.1', 'not designed']);
    await click('[name=only-other] input');
    expect(cellsIn('.values', 'Comms timeout')).toEqual(['Comms timeout', '3.0 s', '3.0 s', 'the same']);
  });

  it('lays it beside a revision that has a name, and looks where that one has it', async () => {
    looking.tell(observed());
    pick(view, 'beside', '2');
    await drawn();
    const { points } = demo;
    const then: ProjectDocument = {
      ...demo,
      points: points.map((one) => (one === own('Ramp to top speed') ? { ...one, setting: { wanted: '7.5' } } : one)),
    };
    on.http.expectOne(`${path}/2`).flush({ revision: 2, document: then });
    await drawn();
    expect(cellsIn('.failing', drive.name)[1]).toBe('as designed');
    await click('[name=look-all]');
    expect(looking.asked).toEqual([{ on: 'stand-ins', revision: 2, ids: null, sweeps: false }]);
    pick(view, 'beside', 'now');
    await drawn();
    expect(cellsIn('.failing', drive.name)[1]).toBe('1 differs');
  });

  it('says why an older revision did not come', async () => {
    pick(view, 'beside', '2');
    await drawn();
    on.http.expectOne(`${path}/2`).flush({ error: { message: 'It is not kept.', path: [] } }, { status: 404, statusText: 'No' });
    await drawn();
    expect(textOf(view, '[role=alert]')).toBe('It is not kept.');
  });

  it('takes what was found as designed, one by one or all', async () => {
    looking.tell(observed());
    await choose(drive.name);
    await click('.values tbody tr button');
    expect(committed()).toEqual({
      ...{ label: 'Fan drive north: Ramp to top speed as it was found', baseRevision: jasmine.any(Number) },
      changes: [
        jasmine.objectContaining({ id: own('Ramp to top speed').id, after: jasmine.objectContaining({ setting: { wanted: '7.5' } }) }),
      ],
    } as never);
    await click('[name=take-all]');
    expect(committed().changes.map(({ entity }) => entity)).toEqual(['device', 'point']);
  });

  it('keeps what was seen on the real plant apart, and asks that only once it is allowed', async () => {
    looking.tell(observed(), observed({ on: 'real', held: [] }));
    await choose(drive.name);
    await click('input[value=real]');
    expect(textOf(view, 'pe-target')).toContain('Nothing is written');
    expect(cellsIn('.failing', drive.name)[1]).toBe('4 not known');
    await click('[name=look-one]');
    expect(looking.asked.at(-1)).toEqual({ on: 'real', revision: null, ids: [drive.id], sweeps: false });
    looking.problem$.next('Real lines are not armed.');
    await drawn();
    expect(textOf(view, '.failing [role=alert]')).toBe('Real lines are not armed.');
  });

  it('sees who is on a line, shows how far it is, and can be stopped', async () => {
    await choose('Kiln bus');
    expect(textOf(view, '.what')).toContain('to see who answers');
    await click('[name=look-one]');
    expect(looking.asked).toEqual([{ on: 'stand-ins', revision: null, ids: [kilnBus.id], sweeps: false }]);
    looking.isRunning$.next(true);
    looking.progress$.next({ kind: 'progress', done: 3, total: 20, doing: 'Kiln bus' });
    await drawn();
    expect(textOf(view, '.bar')).toContain('Kiln bus: 4 of 20');
    await click('[name=stop-looking]');
    expect(looking.asked.at(-1)).toBe('stop');
  });
});
