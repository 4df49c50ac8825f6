import type { Change, Point, Route } from '@plain-envoy/core/model';
import { demo, deviceNamed, type Stage, stage, submit, textOf, typeInto } from '../../testing.spec-helper';
import { HeartbeatPanel } from './heartbeat-panel';

describe('HeartbeatPanel', () => {
  let on: Stage;
  beforeEach(async () => {
    on = await stage();
  });
  const show = () => on.show(HeartbeatPanel, { fromId: deviceNamed('Floor I/O block').id, toId: deviceNamed('Kiln controller').id });

  it('makes both ways with their watchdogs and bits in one change set', async () => {
    const panel = show();
    typeInto(panel, 'input[name="out watchdog"]', '2500');
    typeInto(panel, 'input[name="out good"]', 'B300');
    await submit(panel);
    const { changes } = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] };
    const points = changes.flatMap(({ entity, after }) => (entity === 'point' ? (after as Point) : []));
    const routes = changes.flatMap(({ entity, after }) => (entity === 'route' ? (after as Route) : []));
    expect(routes.map(({ name }) => name)).toEqual([
      'Heartbeat of Floor I/O block to Kiln controller',
      'Heartbeat of Kiln controller to Floor I/O block',
    ]);
    expect(points.map(({ watchdogMs }) => watchdogMs)).toEqual([2500, null, 6000]);
    expect(points[1]).toEqual(jasmine.objectContaining({ table: 'coil', offset: 300, type: 'bit' }));
    expect(routes.map(({ loss }) => loss.stillMs)).toEqual([2500, 6000]);
  });

  it('says at its field what is wrong, keeps what was typed, and makes one way alone where the other is not wanted', () => {
    const panel = show();
    const button = () => (panel.nativeElement as HTMLElement).querySelector<HTMLButtonElement>('button[type=submit]')!;
    typeInto(panel, 'input[name="out at"]', 'nowhere');
    expect(textOf(panel, '.field-problem, mat-error')).not.toBe('');
    expect(button().disabled).toBeTrue();
    typeInto(panel, 'input[name="out watchdog"]', '7');
    expect((panel.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name="out at"]')!.value).toBe('nowhere');
    (panel.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=out]')!.click();
    panel.detectChanges();
    expect(button().disabled).toBeFalse();
  });
});
