import { TestBed } from '@angular/core/testing';
import type { Change, Device } from '@plain-envoy/core/model';
import { demo, deviceNamed, pageOf, pick, type Stage, stage, submit, textOf, typeInto } from '../../testing.spec-helper';
import { MapState } from './map-state';
import { ModulesView } from './modules-view';

describe('ModulesView', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage([MapState])));

  it('works out the image while modules are chosen, and makes points of their channels', async () => {
    const device = deviceNamed('Floor I/O block');
    TestBed.inject(MapState).deviceId.set(device.id);
    const view = on.show(ModulesView);
    expect(textOf(view, 'pe-table')).toContain('Add a module');
    const add = [...pageOf(view).querySelectorAll('button')].find((button) => button.innerText.includes('Add one'))!;
    add.click();
    view.detectChanges();
    typeInto(view, 'input[name=name]', 'Inputs 1');
    typeInto(view, 'input[name=inWords]', '2');
    typeInto(view, 'input[name=inBits]', 'two');
    await submit(view);
    expect(textOf(view, 'mat-error')).toContain('number');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    typeInto(view, 'input[name=inBits]', '1');
    pick(view, 'range', '0–10 V');
    typeInto(view, 'input[name=inAt]', '200');
    view.detectChanges();
    expect(textOf(view, '.image p')).toBe('Inputs: 3 channels in 5 bytes; outputs: 0 channels in 0 bytes');
    expect(textOf(view, 'button[name=make]')).toBe('Make 3 points of it');
    expect([...pageOf(view).querySelectorAll('[data-cell=value]')].map((cell) => (cell as HTMLElement).innerText.trim())[0]).toContain('V');
    await submit(view);
    const { label, changes } = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as {
      label: string;
      changes: Change[];
    };
    expect(label).toBe('The modules of Floor I/O block');
    expect((changes[0]!.after as unknown as Device).coupler!.modules.map(({ name, inWords }) => [name, inWords])).toEqual([
      ['Inputs 1', 2],
    ]);
    expect(changes.slice(1).map(({ after }) => [after!['name'], after!['offset'], after!['bit']])).toEqual([
      ['Inputs 1 word in 1', 200, null],
      ['Inputs 1 word in 2', 201, null],
      ['Inputs 1 bit in 1', 202, 0],
    ]);
  });
});
