import { BehaviorSubject, of } from 'rxjs';
import type { StandInState } from '@plain-envoy/core/feed';
import type { ArchivedState, StationPortState } from '@plain-envoy/core/telecontrol-line';
import { StandIns } from '../../data/stand-ins';
import { Stations } from '../../data/stations';
import { demo, deviceNamed, doubt, pageOf, stage, textOf, turn } from '../../testing.spec-helper';
import { StationView } from './station-view';

const portOf = (name: string) => demo.ports.find(({ kind, deviceId }) => kind === 'telecontrol' && deviceId === deviceNamed(name).id)!.id;
const pointId = (name: string) => demo.points.find((point) => point.name === name && point.place.kind === 'event')!.id;
const common: Omit<StationPortState, 'as'> & { index: number } = {
  ...{ standard: 'ieee1815', listensAt: null, isConnected: true, isHeard: true, cuts: 1, problem: null, upMs: 60_000, heard: 9, sent: 8 },
  ...{ damaged: 0, strange: 0, kept: 0, thrownAway: 0, isFull: false, memory: 0, eventsPerHour: null, clockAgeMs: null, clockAheadMs: 0 },
  ...{ archived: 0, again: 0, lagMs: null, points: [], commands: [], index: 0 },
};
const asks: StationPortState & { portId: string; index: number } = {
  ...common,
  ...{ as: 'control station', portId: portOf('Grid station'), archived: 4, again: 1 },
  points: [
    { pointId: pointId('Power drawn'), said: 1234, isGood: true, quality: '', atMs: Date.UTC(2026, 10, 29, 12) },
    { pointId: pointId('Plant alarm'), said: 1, isGood: false, quality: 'communication lost', atMs: null },
  ],
  commands: [{ pointId: pointId('Curtailment'), atMs: 0, said: 2, end: 'refused' }],
};
const answers: StationPortState & { portId: string; index: number } = {
  ...common,
  ...{ as: 'outstation', portId: portOf('Grid converter'), memory: 500, eventsPerHour: 600, kept: 3, thrownAway: 2, clockAgeMs: 4000 },
};
const archive: ArchivedState[] = [
  { pointId: pointId('Plant alarm'), atMs: 1000, said: 1, isGood: true },
  { pointId: pointId('Power drawn'), atMs: 2000, said: 10, isGood: true },
  { pointId: pointId('Plant alarm'), atMs: 3000, said: 0, isGood: false },
];

describe('A control station on the bench', () => {
  const given: [string, string, number][] = [];
  const show = async (ends: unknown[]) => {
    given.length = 0;
    const on = await stage([
      {
        provide: StandIns,
        useValue: { all$: new BehaviorSubject([{ stations: ends }] as unknown as StandInState[]), refresh: () => undefined },
      },
      {
        provide: Stations,
        useValue: {
          archive: (_: string, id?: string) => of(archive.filter((event) => !id || event.pointId === id)),
          command: (...all: [string, string, number]) => (given.push(all), of({ ok: true, value: {} })),
        },
      },
    ]);
    const view = on.show(StationView);
    await turn();
    await turn();
    view.detectChanges();
    return view;
  };
  const rowsOf = (view: Awaited<ReturnType<typeof show>>, label: string) =>
    [...pageOf(view).querySelectorAll(`[aria-label="${label}"] tbody tr`)].map(({ textContent }) =>
      textContent.replace(/\s+/g, ' ').trim(),
    );

  it('shows what it has of each point with its quality, how the link is, and for how long the memory lasts', async () => {
    const view = await show([asks, answers]);
    expect(textOf(view, '[data-name=link]')).toBe(
      'The link is up · 4 events in the archive, 1 came again · 3 wait to be confirmed · it keeps 500, 2 were thrown away, enough for an outage of 50 min at the rate seen',
    );
    const [power, , alarm] = rowsOf(view, 'Points as the control station has them');
    expect(power).toMatch(/^Power drawn ?float 0 ?123\.4 kW ?good ?29 Nov, /);
    expect(alarm).toContain('communication lost');
    expect(textOf(view, '[data-end="Grid converter"]')).toContain('its clock was set 4.0 s ago');
    expect(textOf(view, '[data-command=Curtailment]')).toContain('to 30 %: refused');
  });

  it('does not call good what something speaks against, and says why', async () => {
    const view = await show([asks, answers]);
    doubt(pointId('Power drawn'), 'Its papers have another scale.');
    view.detectChanges();
    const cell = pageOf(view).querySelector<HTMLElement>('tbody [data-cell=quality]')!;
    expect([cell.textContent.trim(), cell.title]).toEqual(['doubtful', 'Its papers have another scale.']);
  });

  it('lists what happened, the newest first, bits alone at first, until all is seen', async () => {
    const view = await show([asks, answers]);
    const alarms = () => rowsOf(view, 'Events, the newest first');
    expect(alarms().map((row) => /(Plant alarm|Power drawn) ?(.*)$/.exec(row)?.[2])).toEqual(['off, not good new', 'on new']);
    pageOf(view).querySelector<HTMLInputElement>('[name=alarms] input')!.click();
    view.detectChanges();
    expect(alarms().length).toBe(3);
    pageOf(view).querySelector<HTMLButtonElement>('button[name=seen]')!.click();
    view.detectChanges();
    expect(alarms().some((row) => row.includes('new'))).toBeFalse();
  });

  it('gives commands, and says at its place what cannot be said', async () => {
    const view = await show([asks, answers]);
    const station = deviceNamed('Grid station').id;
    pageOf(view).querySelector<HTMLButtonElement>('[data-command="Stop the turner"] button[name=on]')!.click();
    const back = pageOf(view).querySelector<HTMLFormElement>('[data-command="Number back"]')!;
    const field = back.querySelector<HTMLInputElement>('input')!;
    const send = (text: string) => {
      field.value = text;
      field.dispatchEvent(new Event('input'));
      back.querySelector<HTMLButtonElement>('button[name=send]')!.click();
      view.detectChanges();
    };
    send('many');
    expect([back.querySelector('[role=alert]')?.textContent?.length ?? 0, field.value]).toEqual([jasmine.any(Number), 'many']);
    expect(back.querySelector('[role=alert]')).not.toBeNull();
    send('41');
    expect(given).toEqual([
      [station, pointId('Stop the turner'), 1],
      [station, pointId('Number back'), 41],
    ]);
    expect(back.querySelector('[role=alert]')).toBeNull();
  });

  it('says where nobody plays the link', async () => {
    expect(textOf(await show([]), '[data-name=link]')).toBe('No stand-ins play this line.');
  });
});
