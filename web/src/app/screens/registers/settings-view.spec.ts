import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { SettingEvent } from '@plain-envoy/core/feed';
import type { Change, Point } from '@plain-envoy/core/model';
import { keptValue, type Snapshot } from '@plain-envoy/core/settings';
import { of, Subject } from 'rxjs';
import { DeviceSettings } from '../../data/device-settings';
import { demo, deviceNamed, pageOf, pick, type Stage, stage, textOf, typeInto } from '../../testing.spec-helper';
import { MapState } from './map-state';
import { SettingsView } from './settings-view';

const drive = deviceNamed('Fan drive north');
const own = (name: string) => demo.points.find((point) => point.deviceId === drive.id && point.name === name)!;
const [timeout, ramp, top, pulses] = ['Comms timeout', 'Ramp to top speed', 'Top speed', 'Pulses per turn'].map(own) as [
  Point,
  Point,
  Point,
  Point,
];
const delivered: Snapshot = {
  ...{ id: 's1', deviceId: drive.id, device: drive.name, note: 'as delivered', on: 'real', revision: 0, atMs: 0, by: null, unread: [] },
  values: [keptValue(ramp, [75]), keptValue(top, [500])],
};

describe('SettingsView', () => {
  let on: Stage;
  let asked: [what: string, body: unknown][];
  let told: Subject<SettingEvent>;
  let view: ComponentFixture<SettingsView>;

  beforeEach(async () => {
    asked = [];
    told = new Subject();
    const answer = (what: string) => (at: object, body: unknown) => {
      asked.push([what, { ...at, body }]);
      return told;
    };
    const settings = {
      ...{ read: answer('read'), write: answer('write'), keep: answer('keep') },
      snapshots: () => of({ ok: true, value: [delivered] }),
      forget: (id: string) => {
        asked.push(['forget', id]);
        return of({ ok: true, value: null });
      },
    };
    on = await stage([MapState, { provide: DeviceSettings, useValue: settings }]);
  });
  const shown = (deviceId = drive.id) => {
    TestBed.inject(MapState).deviceId.set(deviceId);
    view = on.show(SettingsView);
    return view;
  };
  const press = (name: string) => {
    pageOf(view).querySelector<HTMLElement>(`button[name=${name}]`)!.click();
    view.detectChanges();
  };
  const tell = (...events: SettingEvent[]) => {
    for (const event of events) told.next(event);
    view.detectChanges();
  };
  const read = () => {
    press('read');
    tell(
      { kind: 'held', pointId: timeout.id, words: [30] },
      { kind: 'held', pointId: ramp.id, words: [75] },
      { kind: 'unread', pointId: top.id, why: 'it answers exception 2.' },
      { kind: 'held', pointId: pulses.id, words: [2048] },
      { kind: 'done', tookMs: 5 },
    );
    told.complete();
    told = new Subject();
    view.detectChanges();
  };
  const cell = (point: Point, name: string) =>
    pageOf(view).querySelector<HTMLElement>(`tr[data-id="${point.id}"] [data-cell=${name}]`)!.innerText.trim();
  const committed = () => {
    const { label, changes } = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as {
      label: string;
      changes: Change[];
    };
    return { label, changes: changes.map(({ id, after }) => [id, after!['setting']]) };
  };

  it('lays what is wanted beside what was read, and never shows as known what was not', () => {
    shown();
    expect(cell(ramp, 'verdict')).toBe('not known');
    read();
    expect(asked[0]).toEqual(['read', { on: 'stand-ins', deviceId: drive.id, body: [timeout, ramp, top, pulses].map(({ id }) => id) }]);
    expect([timeout, ramp, top, pulses].map((point) => [cell(point, 'side-first'), cell(point, 'verdict')])).toEqual([
      ['3.0 s', 'the same'],
      ['7.5 s', 'differs'],
      ['–', 'not read: it answers exception 2.'],
      ['2048', 'differs'],
    ]);
    expect(textOf(view, 'mat-checkbox[name=differing]')).toContain('only what differs: 2');
    pick(view, 'on', 'real');
    expect(cell(ramp, 'side-first')).withContext('another device').toBe('–');
  });

  it('writes what wins and is not there already, and says what came of each', () => {
    shown();
    read();
    press('all-wanted');
    press('write');
    expect(asked[1]).toEqual([
      'write',
      {
        ...{ on: 'stand-ins', deviceId: drive.id },
        body: [
          { pointId: ramp.id, words: [90] },
          { pointId: top.id, words: [580] },
          { pointId: pulses.id, words: [1024] },
        ],
      },
    ]);
    tell(
      { kind: 'written', pointId: ramp.id, state: 'holds', words: [90], sentence: 'Ramp to top speed holds 9.0 s.' },
      { kind: 'written', pointId: top.id, state: 'refused', words: null, sentence: 'Top speed was not written. It answers exception 3.' },
      {
        kind: 'written',
        pointId: pulses.id,
        state: 'differs',
        words: [1000],
        sentence: 'Pulses per turn was written 1024, and the device holds 1000.',
      },
      { kind: 'failed', sentence: 'It does not answer any more.' },
    );
    expect([ramp, top, pulses].map((point) => [cell(point, 'side-first'), cell(point, 'verdict')])).toEqual([
      ['9.0 s', 'written and read back'],
      ['–', 'Top speed was not written. It answers exception 3.'],
      ['1000', 'Pulses per turn was written 1024, and the device holds 1000.'],
    ]);
    expect(textOf(view, '[role=alert]')).toBe('It does not answer any more.');
  });

  it('shows what would go to the real plant before it goes there', () => {
    shown();
    pick(view, 'on', 'real');
    press('all-wanted');
    press('write');
    expect(asked.map(([what]) => what)).toEqual([]);
    expect(textOf(view, '[role=alertdialog]')).toMatch(/real Fan drive north[\s\S]*Comms timeout: 3.0 s[\s\S]*Pulses per turn: 1024/);
    press('write-real');
    expect(asked.map(([what]) => what)).toEqual(['write']);
  });

  it('takes what the device or a snapshot holds as wanted', () => {
    shown();
    read();
    pick(view, 'second', 's1');
    expect(textOf(view, '.line.quiet')).toContain('as delivered');
    press('all-second');
    press('want');
    expect(committed()).toEqual({
      label: '2 settings of Fan drive north are wanted as chosen',
      changes: [
        [ramp.id, { wanted: '7.5' }],
        [top.id, { wanted: '50.0' }],
      ],
    });
    press('forget');
    expect(asked.at(-1)).toEqual(['forget', 's1']);
    expect(pageOf(view).querySelector('[data-cell=side-second]')).toBeNull();
  });

  it('keeps what does not fit as it was typed, and saves what does', () => {
    shown();
    const field = (point: Point) => `input[name="wanted-${point.name}"]`;
    const type = (point: Point, text: string) => {
      typeInto(view, field(point), text);
      pageOf(view)
        .querySelector(field(point))!
        .dispatchEvent(new Event('change', { bubbles: true }));
      view.detectChanges();
    };
    type(ramp, 'soon');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    expect(pageOf(view).querySelector<HTMLInputElement>(field(ramp))!.value).toBe('soon');
    expect(cell(ramp, 'wanted')).toContain('soon');
    type(top, '');
    expect(committed().changes).toEqual([[top.id, { wanted: null }]]);
  });

  it('lets it be chosen which points are settings, and begins with that where none is', () => {
    shown(deviceNamed('Exhaust damper').id);
    expect(textOf(view, '.remark')).toContain('A setting is set once and stays');
    expect(pageOf(view).querySelectorAll('tbody tr').length).withContext('what can be written').toBe(1);
    shown();
    press('choose');
    const tick = pageOf(view).querySelector<HTMLInputElement>(`tr[data-id="${top.id}"] input`)!;
    tick.click();
    view.detectChanges();
    press('take-choice');
    expect(committed()).toEqual({ label: 'Settings of Fan drive north', changes: [[top.id, null]] });
  });

  it('keeps a snapshot with what it is of', () => {
    shown();
    press('snapshot');
    typeInto(view, 'input[name=note]', 'after the change of the drive');
    press('keep');
    expect(asked).toEqual([['keep', { on: 'stand-ins', deviceId: drive.id, body: 'after the change of the drive' }]]);
    tell({ kind: 'held', pointId: ramp.id, words: [75] }, { kind: 'kept', snapshotId: 's1' }, { kind: 'done', tookMs: 1 });
    expect(cell(ramp, 'side-first')).toBe('7.5 s');
    expect(cell(ramp, 'side-second')).toBe('7.5 s');
  });
});
