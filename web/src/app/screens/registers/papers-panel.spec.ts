import type { Paper } from '@plain-envoy/core/model';
import { papersOf } from '@plain-envoy/core/papers';
import { TestBed } from '@angular/core/testing';
import { demo, deviceNamed, pageOf, type Stage, stage, submit, textOf, typeInto } from '../../testing.spec-helper';
import { MapState } from './map-state';
import { PapersPanel } from './papers-panel';

describe('PapersPanel', () => {
  const meter = deviceNamed('Plant meter');
  let on: Stage;
  beforeEach(async () => {
    on = await stage([MapState]);
  });

  const shown = (deviceId: string) => {
    TestBed.inject(MapState).deviceId.set(deviceId);
    return on.show(PapersPanel);
  };
  const sent = () => {
    const { label, changes } = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as {
      label: string;
      changes: { entity: string; before: unknown; after: Partial<Paper> & { order?: string } }[];
    };
    return { label, changes };
  };

  it('shows in what the map departs from the papers, and takes over what they say', () => {
    const panel = shown(meter.id);
    expect(textOf(panel, 'p')).toContain('The manual of its maker');
    expect(textOf(panel, 'tbody tr')).toMatch(/Reactive energy\s+order BADC\s+order/);
    pageOf(panel).querySelector<HTMLElement>('tbody button')!.click();
    const { label, changes } = sent();
    expect([label, changes.length, changes[0]!.after.order]).toEqual(['Reactive energy as in the papers', 1, 'BADC']);
  });

  it('takes the map as the papers, says where they are from, and asks for that where nothing is said', async () => {
    const panel = shown(meter.id);
    typeInto(panel, 'input[name=papers-source]', ' ');
    await submit(panel);
    expect(textOf(panel, 'mat-error')).toContain('Say with what.');
    typeInto(panel, 'input[name=papers-source]', 'The manual, issue 4');
    await submit(panel);
    const { label, changes } = sent();
    expect([label, changes[0]!.after.source]).toEqual(['The map of Plant meter is its papers', 'The manual, issue 4']);
    expect(changes[0]!.before).toEqual(papersOf(demo, meter.id)!);
    expect(changes[0]!.after.points?.find(({ name }) => name === 'Reactive energy')?.order).not.toBe('BADC');
  });

  it('forgets them, and then says what that means', () => {
    const panel = shown(meter.id);
    pageOf(panel).querySelector<HTMLElement>('button[name=forget]')!.click();
    expect(sent().changes[0]!.after).toBeNull();
    expect(textOf(shown(deviceNamed('Kiln gateway').id), 'p')).toContain(
      'Its papers are not known, so a proof can only say that values arrive',
    );
  });
});
