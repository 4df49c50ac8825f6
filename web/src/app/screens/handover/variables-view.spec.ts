import type { ComponentFixture } from '@angular/core/testing';
import { standardProfile } from '@plain-envoy/core/handover';
import type { Change, ListProfile, ProjectDocument, Variable } from '@plain-envoy/core/model';
import { demo, deviceNamed, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import type { profileGroup } from './variable-forms';
import { VariablesView } from './variables-view';

const kiln = deviceNamed('Kiln controller');
const profile: ListProfile = {
  ...{ ...standardProfile, id: '019aa333-0000-7000-8000-000000000001', projectId: demo.project.id, deviceIds: [kiln.id] },
  ...{ name: 'Kiln package', prefix: 'g_' },
};

describe('The variables of a controller, on Handover', () => {
  let on: Stage;
  let view: ComponentFixture<VariablesView>;
  const open = async (document?: ProjectDocument) => {
    on = await stage([], document);
    view = on.show(VariablesView, { of: kiln.id });
    await drawn();
  };
  const drawn = async () => {
    await turn();
    await turn();
    view.detectChanges();
  };
  const rows = () => [...pageOf(view).querySelectorAll<HTMLElement>('tbody tr')];
  const cellsOf = (row: HTMLElement) => [...row.querySelectorAll('td')].map(({ innerText }) => innerText.trim());
  const rowOf = (point: string) => rows().find((row) => cellsOf(row)[6] === point)!;
  const submit = async (form: string) => {
    pageOf(view)
      .querySelector(`form[aria-label=${form}]`)!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
  };
  const sent = () => (on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] }).changes;
  const profileForm = () => (view.componentInstance as unknown as { form(): ReturnType<typeof profileGroup> }).form();
  const follow = async (id: string) => {
    (view.componentInstance as unknown as { follow(id: string): void }).follow(id);
    await drawn();
  };

  it('are listed with type, address and source, and what became of each name', async () => {
    await open();
    expect(cellsOf(rowOf('Kiln air-on temperature'))).toEqual([
      ...['Kiln_air_on_temperature', 'INT', 'W40', '', '', 'from Air-on transmitter 30011', 'Kiln air-on temperature'],
      ...['what is not allowed written as _'],
    ]);
    expect(pageOf(view).querySelector('input[name=prefix]')).toBeNull();
    expect(textOf(view, 'form[aria-label=Profile]')).toContain('Names of at most 40 characters');
  });

  it('get a name, a value to begin with and whether they are retained, and say where that does not fit', async () => {
    await open();
    rowOf('Kiln air-on temperature').click();
    await drawn();
    expect(textOf(view, 'form[aria-label=Variable] h2')).toBe('Kiln air-on temperature');
    typeInto(view, 'input[name=variable-name]', '2nd one');
    await submit('Variable');
    expect(textOf(view, 'mat-error')).toContain('letters, figures and _');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    typeInto(view, 'input[name=variable-name]', 'iAirOn');
    typeInto(view, 'input[name=initial]', '62.5');
    await submit('Variable');
    const [{ entity, before, after }] = sent() as [Change];
    expect([entity, before]).toEqual(['variable', null]);
    expect(after).toEqual(jasmine.objectContaining({ name: 'iAirOn', initial: '62.5', retain: false }));
  });

  it('say where a value to begin with is none, and that a name is there already', async () => {
    const point = demo.points.find(({ name, deviceId }) => deviceId === kiln.id && name === 'Kiln air-on temperature')!;
    const variable: Variable = {
      ...{ id: '019aa333-0000-7000-8000-000000000002', projectId: demo.project.id, pointId: point.id },
      ...{ name: 'iAirOn', initial: 'hot', retain: true },
    };
    await open({ ...demo, variables: [variable] });
    expect(cellsOf(rowOf('Kiln air-on temperature')).slice(0, 5)).toEqual(['iAirOn', 'INT', 'W40', 'no value', 'yes']);
    rowOf('Kiln air-on humidity').click();
    await drawn();
    typeInto(view, 'input[name=variable-name]', 'IAIRON');
    await submit('Variable');
    expect(textOf(view, 'mat-error')).toBe('Kiln air-on temperature has this name already.');
  });

  it('are listed as a profile says while it is typed, which is kept for this controller', async () => {
    await open();
    await follow('new');
    typeInto(view, 'input[name=profile-name]', 'Ours');
    typeInto(view, 'input[name=prefix]', 'g_');
    profileForm().patchValue({ case: 'upper', encoding: 'windows-1252', byteOrderMark: false });
    typeInto(view, 'input[name=columns]', 'name, adress');
    await drawn();
    await submit('Profile');
    expect(textOf(view, 'mat-error')).toContain('“adress” is no column; there are name, address, type');
    typeInto(view, 'input[name=columns]', 'name, address, type');
    await drawn();
    expect(cellsOf(rowOf('Kiln air-on temperature'))[0]).toBe('G_KILN_AIR_ON_TEMPERATURE');
    await submit('Profile');
    const [{ after }] = sent() as [Change];
    expect(after).toEqual(jasmine.objectContaining({ name: 'Ours', deviceIds: [kiln.id], columns: ['name', 'address', 'type'] }));
  });

  it('follow another profile where one is chosen', async () => {
    await open({ ...demo, listProfiles: [profile] });
    expect(cellsOf(rowOf('Kiln air-on temperature'))[0]).toBe('g_Kiln_air_on_temperature');
    await follow('standard');
    expect(sent().map(({ after }) => (after as ListProfile).deviceIds)).toEqual([[]]);
  });
});
