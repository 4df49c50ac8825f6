import type { ComponentFixture } from '@angular/core/testing';
import type { Attachment } from '@plain-envoy/core/feed';
import type { Change, Device } from '@plain-envoy/core/model';
import { demo, deviceNamed, pageOf, pick, type Stage, stage, submit, textOf, typeInto } from '../testing.spec-helper';
import { Attachments } from './attachments';
import { DevicePanel } from './device-panel';
import { DevicePorts } from './device-ports';

const changeSets = `/api/projects/${demo.project.id}/change-sets`;

describe('A device in one place', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const sent = () => {
    const { label, changes } = on.http.expectOne(changeSets).request.body as { label: string; changes: Change[] };
    return { label, after: changes.map(({ after }) => after!) };
  };
  const press = (view: ComponentFixture<unknown>, selector: string) => {
    pageOf(view).querySelector<HTMLElement>(selector)!.click();
    view.detectChanges();
  };

  it('says how it counts and what it says of itself, and names what does not fit at its place', async () => {
    const device = deviceNamed('Kiln controller');
    const panel = on.show(DevicePanel, { device });
    expect(textOf(panel)).toContain('is typed into its package');
    const area = 'pe-schema-form fieldset input[name=name]';
    typeInto(panel, area, '12');
    await submit(panel);
    expect(textOf(panel, 'mat-error')).toBe('One to eight letters.');
    typeInto(panel, area, 'MW');
    pick(panel, 'entry', 'asIs');
    typeInto(panel, 'input[name=functionCodes]', '3 16');
    typeInto(panel, 'input[name=writeTimeoutMs]', '');
    typeInto(panel, 'input[name=productCode]', ' KC-2 ');
    await submit(panel);
    const { label, after } = sent();
    const set = after[0] as unknown as Device;
    expect([label, set.entry, set.functionCodes, set.writeTimeoutMs, set.identification.productCode]).toEqual([
      'Set Kiln controller',
      'asIs',
      [3, 16],
      null,
      'KC-2',
    ]);
    expect(set.areas.map(({ name, firstBit }) => `${name} ${firstBit}`)).toEqual(['MW 0', 'B null']);
  });

  it('sets others the same: what was changed, or all', async () => {
    const device = deviceNamed('Fan drive north');
    const panel = on.show(DevicePanel, { device });
    press(panel, 'button[name=others]');
    press(panel, 'button[name=alike]');
    typeInto(panel, 'input[name=timeoutMs]', '400');
    panel.detectChanges();
    expect(textOf(panel, '.sticky button[type=submit]')).toBe('Save for 2');
    await submit(panel);
    const { label, after } = sent();
    expect([label, ...after.map((row) => [row['name'], row['timeoutMs'], row['lossPercent']])]).toEqual([
      'Set Fan drive north and 1 more',
      ['Fan drive north', 400, 0],
      ['Fan drive south', 400, 0],
    ]);
    press(panel, 'button[name=others]');
    expect(textOf(panel, '.sticky button[type=submit]')).withContext('for itself alone again').toBe('Save');
  });

  it('sets a port of it, and moves it to another line of its kind', async () => {
    const device = deviceNamed('Fan drive north');
    const ports = on.show(DevicePorts, { device });
    expect(textOf(ports, '.port')).toContain('unit 11 · 19200 8E1');
    press(ports, 'button[name=set-port]');
    typeInto(ports, 'input[name=baud]', '9600');
    await submit(ports);
    expect(sent().after.map((row) => row['baud'])).toEqual([9600]);
    const loft = demo.lines.find(({ name }) => name === 'Loft bus')!;
    pick(ports, 'move-to', loft.id);
    pageOf(ports)
      .querySelector('form.move')!
      .dispatchEvent(new Event('submit', { cancelable: true }));
    const { label, after } = sent();
    expect([label, after.map((row) => [row['lineId'], row['unitId']])]).toEqual(['Move Fan drive north to Loft bus', [[loft.id, 11]]]);
  });

  it('keeps files of it, says why one is refused, and takes them off', () => {
    const device = deviceNamed('Fan drive north');
    const path = `/api/projects/${demo.project.id}`;
    const view = on.show(Attachments, { device });
    const manual: Attachment = { id: 'm', deviceId: device.id, name: 'Manual.pdf', size: 2_400_000, atMs: 1, by: null };
    on.http.expectOne(`${path}/attachments`).flush([manual, { ...manual, id: 'n', deviceId: 'another', name: 'Other.pdf' }]);
    view.detectChanges();
    expect(textOf(view, '.row')).toMatch(/Manual.pdf\s*2.4 MB/);
    expect(pageOf(view).querySelectorAll('.row').length).toBe(1);
    expect(pageOf(view).querySelector('a')!.getAttribute('href')).toBe(`${path}/attachments/m`);

    const files = new DataTransfer();
    files.items.add(new File(['x'], 'big one.pdf'));
    files.items.add(new File(['y'], 'photo.png'));
    const input = pageOf(view).querySelector<HTMLInputElement>('input[type=file]')!;
    input.files = files.files;
    input.dispatchEvent(new Event('change'));
    const at = (name: string) => `${path}/devices/${device.id}/attachments?name=${name}`;
    const refused = { error: { message: 'big one.pdf is larger than 20 MB.', path: [] } };
    on.http.expectOne(at('big%20one.pdf')).flush(refused, { status: 413, statusText: 'No' });
    on.http.expectOne(at('photo.png')).flush({ ...manual, id: 'p', name: 'photo.png', size: 900 });
    view.detectChanges();
    expect(textOf(view, '[role=alert]')).toBe('big one.pdf is larger than 20 MB.');
    expect([...pageOf(view).querySelectorAll('.row a')].map((link) => link.textContent)).toEqual(['photo.png', 'Manual.pdf']);
    press(view, '.row button');
    on.http.expectOne(`${path}/attachments/p`).flush({});
    view.detectChanges();
    expect(pageOf(view).querySelectorAll('.row').length).toBe(1);
  });
});
