import { type BehaviorSubject, of } from 'rxjs';
import { TestBed } from '@angular/core/testing';
import type { Finding } from '@plain-envoy/core/findings';
import { BY_ITS_MAP, type Change, type Point, type Route } from '@plain-envoy/core/model';
import { PlanStore } from '../data/plan';
import {
  demo,
  deviceNamed,
  nowOf,
  pageOf,
  pointNamed,
  routeNamed,
  type Stage,
  stage,
  submit,
  textOf,
  turn,
  typeInto,
  pick,
  pickInMenu,
} from '../testing.spec-helper';
import { PointForm } from './registers/point-form';
import { RouteForm } from './routes/route-form';
import { DevicePanel } from '../device/device-panel';

const changeSets = `/api/projects/${demo.project.id}/change-sets`;

describe('PointForm', () => {
  let on: Stage;
  const point = pointNamed('Damper set point');
  beforeEach(async () => (on = await stage()));
  afterEach(() => on.http.verify());

  it('sends nothing that does not fit, says why at the field, and keeps what was typed', async () => {
    const form = on.show(PointForm, { point, isNew: false });
    typeInto(form, 'input[name=offset]', '65536');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('A table ends at offset 65535.');
    typeInto(form, 'input[name=offset]', 'forty');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('An offset is a whole number.');
    expect((form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=offset]')!.value).toBe('forty');
  });

  it('saves a change as one change set with before and after', async () => {
    const form = on.show(PointForm, { point, isNew: false });
    const saved: Point[] = [];
    form.componentInstance.saved.subscribe((row) => saved.push(row));
    typeInto(form, 'input[name=name]', 'Damper wish');
    typeInto(form, 'input[name=scale]', '× 0,01');
    await submit(form);
    const request = on.http.expectOne(changeSets);
    const [change] = (request.request.body as { changes: Change[] }).changes;
    const after = { ...point, name: 'Damper wish', scale: { factor: 0.01, offset: 0 } };
    expect(change).toEqual({ entity: 'point', id: point.id, before: point, after });
    request.flush({ projectId: demo.project.id, revision: 1, label: 'x', kind: 'edit', changes: [change], undo: 'x', redo: null });
    await turn();
    await turn();
    expect(saved.map((row) => row.name)).toEqual(['Damper wish']);
    expect(nowOf(on.project.points$).get(point.id)?.name).toBe('Damper wish');
  });

  it('shows a refusal of the server at its field', async () => {
    const form = on.show(PointForm, { point, isNew: false });
    typeInto(form, 'input[name=name]', 'Other');
    await submit(form);
    const error = { message: 'Somebody was quicker.', path: ['changes', 0, 'after', 'name'] };
    on.http.expectOne(changeSets).flush({ error }, { status: 409, statusText: 'Conflict' });
    await turn();
    await turn();
    form.detectChanges();
    expect(textOf(form, '.field-problem, mat-error')).toBe('Somebody was quicker.');
  });

  it('follows the table with type and access', async () => {
    const form = on.show(PointForm, { point, isNew: true });
    pick(form, 'table', 'discrete');
    await submit(form);
    const after = (on.http.expectOne(changeSets).request.body as { changes: Change[] }).changes[0]!.after!;
    expect([after['type'], after['access'], after['scale']]).toEqual(['bit', 'read', null]);
  });

  it('reads the offset in the notation of the device’s papers', () => {
    const form = on.show(PointForm, { point: pointNamed('Air-on temperature'), isNew: false });
    typeInto(form, 'input[name=offset]', '11');
    expect(textOf(form)).toContain('30012 in its papers');
  });
});

describe('RouteForm', () => {
  let on: Stage;
  const route = routeNamed('Air-on temperature');
  beforeEach(async () => (on = await stage()));
  afterEach(() => on.http.verify());

  it('says before saving what keeps a value from crossing, and does not save it', async () => {
    const form = on.show(RouteForm, { route, isNew: false });
    expect(textOf(form, '.problem')).toBe('');
    pick(form, 'carry', 'registers');
    expect(textOf(form, '.problem')).toContain('takes 2 registers (float32)');
    await submit(form);
  });

  it('names both ends with their addresses, and saves', async () => {
    const made: Route = { ...route, id: demo.project.id, name: 'Copy' };
    const form = on.show(RouteForm, { route: made, isNew: true });
    expect(textOf(form, '.ends')).toContain(
      'Air-on temperature, Air-on transmitter 30011 float32 CDAB carries to → Kiln air-on temperature, Kiln controller W40 int16',
    );
    typeInto(form, 'input[name=name]', '');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('A name is needed.');
    typeInto(form, 'input[name=name]', 'Copy again');
    await submit(form);
    const { changes, label } = on.http.expectOne(changeSets).request.body as { changes: Change[]; label: string };
    expect([label, changes[0]?.before, changes[0]?.after?.['name']]).toEqual(['Make route Copy again', null, 'Copy again']);
  });

  it('offers to write to every unit where there is a serial line, and says there what was found wrong with it', async () => {
    const elsewhere = on.show(RouteForm, { route, isNew: false });
    const tick = (form: typeof elsewhere) => (form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=broadcast]');
    expect(tick(elsewhere)).withContext('the Kiln controller is on Ethernet').toBeNull();
    const toDamper = routeNamed('Damper set point');
    const form = on.show(RouteForm, { route: toDamper, isNew: false });
    (TestBed.inject(PlanStore).findings$ as BehaviorSubject<Finding[]>).next([
      {
        fixes: [],
        severity: 'stop',
        check: 'no-broadcast',
        message: 'No way.',
        mend: 'Mend it.',
        at: { entity: 'route', id: toDamper.id, field: 'broadcast' },
      },
    ]);
    form.detectChanges();
    expect(textOf(form, '.field-problem, mat-error')).toBe('No way. Mend it.');
    tick(form)!.click();
    await submit(form);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes[0]?.after?.['broadcast']).toBeTrue();
  });

  it('takes steps, shows what they make of the value there is, and says at its field what does not fit', async () => {
    on.live.points.take([{ pointId: route.sourceId, words: [0, 0x4276], quality: 'good', reason: null, atMs: 1 }]);
    const form = on.show(RouteForm, { route, isNew: false });
    expect(textOf(form, '.note')).toContain('above 3276.7 °C and below -3276.8 °C');
    pickInMenu(form, 'step', '[data-step=scale]');
    typeInto(form, 'input[name=factor]', '2');
    expect(textOf(form, '.example')).toBe('61.5 → 123');
    pickInMenu(form, 'step', '[data-step=clamp]');
    expect(textOf(form, '.note')).toBe('');
    typeInto(form, 'input[name=factor]', '0');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('A factor of 0 would make every value 0.');
    typeInto(form, 'input[name=factor]', '2');
    await submit(form);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes[0]?.after?.['transforms']).toEqual([
      { kind: 'scale', factor: 2, offset: 0 },
      { kind: 'clamp', low: 0, high: 100 },
    ]);
  });

  it('says when it goes out and what happens when its source is lost, and keeps what was typed while that is wrong', async () => {
    const form = on.show(RouteForm, { route, isNew: false });
    pick(form, 'trigger', 'change');
    typeInto(form, 'input[name=deadband]', '0,5');
    pick(form, 'loss', 'value');
    typeInto(form, 'input[name=lossValue]', 'none');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).not.toBe('');
    expect((form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=lossValue]')!.value).toBe('none');
    typeInto(form, 'input[name=lossValue]', '-10');
    typeInto(form, 'input[name=lostAfterMs]', '2000');
    await submit(form);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes[0]?.after).toEqual(
      jasmine.objectContaining({
        trigger: { on: 'change', deadband: 0.5 },
        loss: { rule: 'value', value: -10, validId: null, afterMs: 2000, stillMs: null },
      }),
    );
  });
});

describe('DevicePanel', () => {
  let on: Stage;
  const device = deviceNamed('Air-on transmitter');
  beforeEach(async () => (on = await stage()));
  afterEach(() => on.http.verify());

  it('refuses a unit ID that is no byte, and sends device and port in one change set', async () => {
    const panel = on.show(DevicePanel, { device });
    typeInto(panel, 'input[name=unitId]', '256');
    await submit(panel);
    expect(textOf(panel, '.field-problem, mat-error')).toContain('0 to 255');
    typeInto(panel, 'input[name=unitId]', '22');
    typeInto(panel, 'input[name=timeoutMs]', '500');
    await submit(panel);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes.map(({ entity, after }) => [entity, after?.['unitId'] ?? after?.['timeoutMs']])).toEqual([
      ['device', 500],
      ['port', 22],
    ]);
  });

  it('sets the response delay of a device and what its link loses, and keeps what does not fit where it was typed', async () => {
    const panel = on.show(DevicePanel, { device });
    typeInto(panel, 'input[name=lossPercent]', '120');
    await submit(panel);
    expect(textOf(panel, '.field-problem, mat-error')).toContain('To 100 %.');
    expect((panel.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=lossPercent]')!.value).toBe('120');
    typeInto(panel, 'input[name=lossPercent]', '3');
    typeInto(panel, 'input[name=delayMs]', '12.5');
    await submit(panel);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes.map(({ after }) => [after?.['delayMs'], after?.['lossPercent']])).toEqual([[12.5, 3]]);
  });

  it('sets what a device is and a note of it, and hangs it on one more line', async () => {
    const panel = on.show(DevicePanel, { device });
    pick(panel, 'kind', 'gateway');
    typeInto(panel, 'textarea[name=note]', 'In the loft.');
    await submit(panel);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes.map(({ after }) => [after?.['kind'], after?.['note']])).toEqual([['gateway', 'In the loft.']]);
    const bus = demo.lines.find(({ name }) => name === 'Loft bus')!;
    pick(panel, 'hang-on', bus.id);
    pageOf(panel).querySelector<HTMLInputElement>('input[name=asks]')!.click();
    pageOf(panel)
      .querySelector('pe-hang-on form')!
      .dispatchEvent(new Event('submit', { cancelable: true }));
    const hung = on.http.expectOne(changeSets).request.body as { label: string; changes: Change[] };
    expect([hung.label, hung.changes[0]!.after]).toEqual([
      `Hang ${device.name} on Loft bus`,
      jasmine.objectContaining({ deviceId: device.id, lineId: bus.id, unitId: null }) as never,
    ]);
  });

  it('lets a device be played by its map, at an address that is given out, or by nobody', async () => {
    const real = { ...deviceNamed('Burner control'), standIn: null };
    const port = demo.ports.find(({ deviceId }) => deviceId === real.id)!;
    const document = { ...demo, ports: demo.ports.map((row) => (row === port ? { ...row, standInAddress: null } : row)) } as typeof demo;
    Object.assign(on.project, { document$: of(document) });
    const panel = on.show(DevicePanel, { device: real });
    pick(panel, 'standIn', BY_ITS_MAP);
    await submit(panel);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes.map(({ after }) => after?.['standIn'] ?? after?.['standInAddress'])).toEqual([BY_ITS_MAP, '127.40.8.21']);
    const own = on.show(DevicePanel, { device });
    pick(own, 'standIn', '');
    await submit(own);
    expect((on.http.expectOne(changeSets).request.body as { changes: Change[] }).changes.map(({ after }) => after?.['standIn'])).toEqual([
      null,
    ]);
  });

  it('saves nothing when nothing was changed', async () => {
    await submit(on.show(DevicePanel, { device }));
  });
});
