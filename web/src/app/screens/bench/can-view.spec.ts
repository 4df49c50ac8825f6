import { BehaviorSubject, of } from 'rxjs';
import type { CanLineState, StandInState } from '@plain-envoy/core/feed';
import { CanLines } from '../../data/can-lines';
import { StandIns } from '../../data/stand-ins';
import { demo, deviceNamed, pageOf, stage, textOf, turn } from '../../testing.spec-helper';
import { CanView } from './can-view';

const line = demo.lines.find(({ kind }) => kind === 'can')!;
const [position] = demo.frames;
const portOf = (name: string) => demo.ports.find(({ lineId, deviceId }) => lineId === line.id && deviceId === deviceNamed(name).id)!.id;
const state: CanLineState = {
  ...{ load: 0.25, damaged: 3, silent: 0 },
  frames: [
    {
      ...{ identifierBits: 29, identifier: position!.identifier, count: 40, remote: 0, periodMs: 100.04, jitterMs: 2.5, bytes: [2, 2] },
      ...{ movedBits: [9], data: '01 2A', lastAtMs: 0 },
    },
    {
      ...{ identifierBits: 11, identifier: 0x7ff, count: 1, remote: 0, periodMs: null, jitterMs: null, bytes: [0, 0] },
      ...{ movedBits: [], data: '', lastAtMs: 0 },
    },
  ],
};
const played = [
  { cut: false, cans: [{ portId: portOf('Floor turner'), errors: { state: 'error passive', transmit: 136, receive: 0 } }] },
  { cut: true, cans: [{ portId: portOf('Turner converter'), errors: null }] },
] as unknown as StandInState[];

describe('CAN on the bench', () => {
  const show = async (seen: CanLineState | null) => {
    const on = await stage([
      { provide: StandIns, useValue: { all$: new BehaviorSubject(played), refresh: () => undefined } },
      { provide: CanLines, useValue: { look: () => of(seen), logUrl: (id: string, form: string) => `/${id}.${form}` } },
    ]);
    const view = on.show(CanView);
    await turn();
    await turn();
    view.detectChanges();
    return view;
  };

  it('shows each identifier with its time and the bytes that change, and how each station stands', async () => {
    const view = await show(state);
    expect(textOf(view, '[data-name=bus]')).toBe(
      '25.0 % of the bus are filled, 0.9 % reckoned at worst · 3 frames destroyed · 0 acknowledged by nobody',
    );
    expect([...pageOf(view).querySelectorAll('.stations .trouble')].map(({ textContent }) => textContent)).toEqual([
      'Floor turner: error passive, 136 sending, 0 hearing',
      'Turner converter: cut off',
    ]);
    const rows = [...pageOf(view).querySelectorAll('tbody tr')].map(({ textContent }) => textContent.replace(/\s+/g, ' ').trim());
    expect(rows[0]).toMatch(/^18A01003 ?Position, of Floor turner ?40 ?100\.0 ?2\.5 ?01 2A/);
    expect(rows[1]).toMatch(/^7FF ?none of the project ?1/);
    expect([...pageOf(view).querySelectorAll('.moved')].map(({ textContent }) => textContent)).toEqual(['2A']);
    expect(pageOf(view).querySelector('[data-name=log]')!.getAttribute('href')).toBe(`/${line.id}.log`);
  });

  it('says where nobody plays the line', async () => {
    const view = await show(null);
    expect(textOf(view, '[data-name=bus]')).toBe('No stand-ins play this line.');
    expect(textOf(view, 'pe-table')).toContain('Nothing was seen yet.');
  });
});
