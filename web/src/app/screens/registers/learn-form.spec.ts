import { TestBed } from '@angular/core/testing';
import type { Attachment, SettingEvent } from '@plain-envoy/core/feed';
import type { Change, Device } from '@plain-envoy/core/model';
import { playedPoints } from '@plain-envoy/core/playing';
import { BehaviorSubject, NEVER, of, Subject } from 'rxjs';
import { AttachmentStore } from '../../data/attachments';
import { DeviceSettings } from '../../data/device-settings';
import { Learning } from '../../data/learning';
import { demo, deviceNamed, pageOf, pick, type Stage, stage, submit, textOf, turn, typeInto } from '../../testing.spec-helper';
import { LearnForm } from './learn-form';
import { MapState } from './map-state';

const damper = deviceNamed('Exhaust damper');
const position = demo.points.find(({ deviceId, name }) => deviceId === damper.id && name === 'Position')!;
const lesson = {
  learned: [{ name: 'Position', variable: 'Position', says: 'stood still', moves: false }],
  unseen: ['Set point'],
  program: 'PROGRAM P END_PROGRAM',
  remarks: [],
};

describe('LearnForm', () => {
  let on: Stage;
  let told: Subject<SettingEvent>;
  let asked: unknown[];
  let learnedFrom: unknown[];
  let added: string[];

  beforeEach(async () => {
    told = new Subject();
    [asked, learnedFrom, added] = [[], [], []];
    const settings = { read: (...given: unknown[]) => (asked.push(given), told) };
    const speakers = [
      { endpointId: '10.9.9.9:502', unit: 4, exchanges: 90, answered: 90 },
      { endpointId: 'Kiln bus', unit: 31, exchanges: 4, answered: 1 },
    ];
    const learning = {
      fromObserved: (observed: unknown[]) => (learnedFrom.push(...observed), of({ kind: 'lesson', lesson })),
      speakers: ({ name }: File) =>
        of(
          name === 'bad.txt' ? { kind: 'failed', sentence: 'No frame of a serial line is in it either.' } : { kind: 'speakers', speakers },
        ),
      fromRecording: (_: File, who: unknown) => (learnedFrom.push(who), of({ kind: 'lesson', lesson })),
    };
    const attachments = {
      ofDevice$: new BehaviorSubject(new Map([[damper.id, [{ name: 'day.pcapng' } as Attachment]]])),
      load: () => NEVER,
      add: (_: string, { name }: File) => (added.push(name), of({ ok: true, value: { name } })),
    };
    on = await stage([
      MapState,
      { provide: DeviceSettings, useValue: settings },
      { provide: Learning, useValue: learning },
      { provide: AttachmentStore, useValue: attachments },
    ]);
    TestBed.inject(MapState).deviceId.set(damper.id);
  });

  const open = () => {
    const view = on.show(LearnForm, { points: playedPoints(demo, damper.id) });
    const written: string[] = [];
    view.componentInstance.written.subscribe((program) => written.push(program));
    const press = (name: string) => {
      pageOf(view).querySelector<HTMLButtonElement>(`button[name=${name}]`)!.click();
      view.detectChanges();
    };
    const give = async (name: string) => {
      const files = new DataTransfer();
      files.items.add(new File(['x'], name));
      const input = pageOf(view).querySelector<HTMLInputElement>('input[type=file]')!;
      input.files = files.files;
      input.dispatchEvent(new Event('change'));
      await turn();
      view.detectChanges();
    };
    return { view, written, press, give };
  };

  it('reads the real device for a while, learns from what it held, and gives the program', async () => {
    const { view, written, press } = open();
    await submit(view);
    const [of, ids, everyMs] = asked[0] as [{ on: string }, string[], number];
    expect([of.on, ids.includes(position.id), everyMs]).toEqual(['real', true, 1000]);
    told.next({ kind: 'held', pointId: position.id, words: [250] });
    told.next({ kind: 'done', tookMs: 4 });
    view.detectChanges();
    expect(textOf(view, '[role=status]')).toMatch(/^Read 1 time, (59|60) s to go\.$/);
    press('enough');
    expect(learnedFrom).toEqual([{ table: position.table, offset: position.offset, atMs: jasmine.any(Number), values: [250] }]);
    expect(told.observed).toBeFalse();
    expect(textOf(view, 'pe-table')).toContain('stood still');
    expect(pageOf(view).textContent).toContain('Nothing was seen of 1 point.');
    press('write');
    expect(written).toEqual([lesson.program]);
  });

  it('says at its place what is typed wrong, and what keeps it from reading', async () => {
    const { view } = open();
    typeInto(view, 'input[name=seconds]', '0');
    await submit(view);
    expect(textOf(view, 'mat-error')).toBe('From 1 s to a day.');
    typeInto(view, 'input[name=seconds]', '5');
    typeInto(view, 'input[name=every]', '0.01');
    await submit(view);
    expect(textOf(view, 'mat-error')).toBe('From 0.2 to 60 s.');
    typeInto(view, 'input[name=every]', '1');
    await submit(view);
    told.next({ kind: 'failed', sentence: 'Exhaust damper did not answer.' });
    view.detectChanges();
    expect(textOf(view, '[role=alert]')).toBe('Exhaust damper did not answer.');
  });

  it('learns from a recording of whoever suits best, or lets the stand-in play it under a name of its own', async () => {
    const { view, press, give } = open();
    pick(view, 'from', 'recording');
    view.detectChanges();
    await give('bad.txt');
    expect(textOf(view, '[role=alert]')).toContain('No frame of a serial line');
    await give('day.pcapng');
    await submit(view);
    const unit = demo.ports.find((port) => port.deviceId === damper.id && port.kind === 'serial');
    expect(learnedFrom.at(-1)).toEqual(
      unit?.kind === 'serial' && unit.unitId === 31 ? { endpointId: 'Kiln bus', unit: 31 } : { endpointId: '10.9.9.9:502', unit: 4 },
    );
    press('play');
    await turn();
    expect(added).toEqual(['day 2.pcapng']);
    const { changes } = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] };
    expect((changes[0]!.after as unknown as Device).recording?.file).toBe('day 2.pcapng');
  });
});
