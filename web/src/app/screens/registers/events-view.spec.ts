import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { Change, Point } from '@plain-envoy/core/model';
import { demo, deviceNamed, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { EventsView } from './events-view';
import { MapState } from './map-state';

const station = deviceNamed('Grid station');

describe('Points of a telecontrol station', () => {
  let on: Stage;
  let view: ComponentFixture<EventsView>;
  beforeEach(async () => {
    on = await stage([MapState]);
    TestBed.inject(MapState).deviceId.set(station.id);
    view = on.show(EventsView);
    await drawn();
  });
  const drawn = async () => {
    await turn();
    await turn();
    view.detectChanges();
  };
  const keep = async () => {
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
  };
  const box = (index: number, name: string) => `[data-point="${index}"] input[name=${name}]`;
  const press = async (name: string) => {
    pageOf(view).querySelector<HTMLButtonElement>(`button[name=${name}]`)!.click();
    await drawn();
  };
  const sent = () => (on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] }).changes;

  it('stand with what each of them is, and who shows them in registers', () => {
    expect(textOf(view)).toContain('It is the control station of Grid link, by IEEE 1815; Grid converter shows its points in registers.');
    expect([...pageOf(view).querySelectorAll<HTMLInputElement>('input[name=point-name]')].map(({ value }) => value)).toEqual([
      ...['Power drawn', 'Energy drawn', 'Plant alarm', 'Number', 'Curtailment', 'Stop the turner', 'Number back'],
    ]);
    expect(pageOf(view).querySelector<HTMLInputElement>(box(0, 'threshold'))!.value).toBe('1');
    expect(pageOf(view).querySelector<HTMLInputElement>(box(5, 'pulse'))!.value).toBe('2000');
  });

  it('keep what was changed, and place what is new where the controller reaches it', async () => {
    await typeInto(view, box(0, 'threshold'), '2.5');
    await press('add-point');
    await typeInto(view, box(7, 'point-name'), 'Set point back');
    await keep();
    const changes = sent();
    expect(changes.length).toBe(2);
    const [power, made] = changes.map(({ after }) => after as unknown as Point);
    expect(power!.place).toEqual(jasmine.objectContaining({ kind: 'event', sort: 'float', index: 0, threshold: 2.5, periodMs: null }));
    expect([made!.name, made!.table, made!.place]).toEqual([
      ...['Set point back', 'input'],
      jasmine.objectContaining({ kind: 'event', sort: 'set float', index: 2 }),
    ]);
  });

  it('say what is wrong at its place, and keep what was typed', async () => {
    await typeInto(view, box(0, 'index'), '-3');
    await typeInto(view, box(1, 'class'), '7');
    await typeInto(view, box(2, 'point-name'), '');
    await keep();
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    const said = (index: number) => pageOf(view).querySelector(`[data-point="${index}"]`)!.textContent;
    expect([said(0), said(1), said(2)]).toEqual([
      jasmine.stringContaining('Counts from 0.'),
      jasmine.stringContaining('Classes 0 to 3.'),
      jasmine.stringContaining('A name is needed.'),
    ]);
    expect(pageOf(view).querySelector<HTMLInputElement>(box(0, 'index'))!.value).toBe('-3');
  });

  it('take away a point with its routes, and add what is told of the link', async () => {
    pageOf(view).querySelector<HTMLButtonElement>('[data-point="6"] button[name=remove-point]')!.click();
    [...pageOf(view).querySelectorAll('mat-checkbox')]
      .find(({ textContent }) => textContent.includes('was cut'))!
      .querySelector('input')!
      .click();
    await drawn();
    await keep();
    const changes = sent();
    expect(changes.map(({ entity, before, after }) => [entity, before !== null, after !== null])).toEqual(
      jasmine.arrayContaining([
        ['point', false, true],
        ['route', true, false],
        ['point', true, false],
      ]),
    );
    const told = changes.map(({ after }) => after as unknown as Point | null).find((after) => after?.place);
    expect([told!.name, told!.place]).toEqual(['Link: cuts', { kind: 'stationState', state: 'cuts', pinned: false }]);
  });
});
