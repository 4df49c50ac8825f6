import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { CanInterfaces, CanLineState, CanListenEvent } from '@plain-envoy/core/feed';
import type { Change, DeviceFrame, Point, ProjectDocument } from '@plain-envoy/core/model';
import { BehaviorSubject, of, Subject } from 'rxjs';
import { Api } from '../../data/api';
import { CanLines } from '../../data/can-lines';
import { StandIns } from '../../data/stand-ins';
import { demo, deviceNamed, filesRead, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { stretchOf } from './bit-grid';
import type { FrameGroup } from './frame-form';
import { FramesView } from './frames-view';
import { MapState } from './map-state';

const turner = deviceNamed('Floor turner');
const position = demo.frames.find(({ name }) => name === 'Position')!;
const seen: CanLineState = {
  ...{ load: 0.01, damaged: 0, silent: 0 },
  frames: [
    {
      ...{ identifierBits: 29, identifier: position.identifier, count: 40, remote: 0, periodMs: 100, jitterMs: 2.5, bytes: [8, 8] },
      ...{ movedBits: [0, 56], data: '01 00 00 00 F0 00 03 2A', lastAtMs: 0 },
    },
  ],
};

describe('Frames of a device on CAN', () => {
  let on: Stage;
  let view: ComponentFixture<FramesView>;
  const open = async (document?: ProjectDocument) => {
    on = await stage(
      [
        MapState,
        { provide: StandIns, useValue: { all$: new BehaviorSubject([]), refresh: () => undefined } },
        { provide: CanLines, useValue: { look: () => of(seen) } },
      ],
      document,
    );
    TestBed.inject(MapState).deviceId.set(turner.id);
    view = on.show(FramesView);
    await drawn();
  };
  beforeEach(() => open());
  const drawn = async () => {
    await turn();
    await turn();
    view.detectChanges();
  };
  const cell = (bit: number) => pageOf(view).querySelector<HTMLElement>(`[data-bit="${bit}"]`)!;
  const press = async (bit: number, key: string, shiftKey = false) => {
    cell(bit).dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }));
    await drawn();
  };
  const click = async (name: string) => {
    pageOf(view).querySelector<HTMLElement>(`button[name=${name}]`)!.click();
    await drawn();
  };
  const keep = async () => {
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
  };
  const sent = () => (on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] }).changes;

  it('show each bit with the signal that it belongs to, and what came last', () => {
    expect(cell(56).getAttribute('aria-label')).toBe('byte 7, bit 0: Sequence, 0');
    expect(cell(57).textContent).toBe('1');
    expect(cell(56).classList).toContain('moved');
    expect(cell(57).classList).not.toContain('moved');
    expect(textOf(view, '[data-name=counters]')).toContain('40 came · every 100 ms, 2.5 ms off at most · stayed away 0 times');
    expect(textOf(view, '[data-name=time]')).toContain('all frames fill 0.9 % of Turner CAN');
  });

  it('get a signal that is drawn by keys, and its point is placed where the carrier reads it', async () => {
    await click('add-frame');
    typeInto(view, 'input[name=name]', 'Torque');
    typeInto(view, 'input[name=identifier]', '413143043');
    await drawn();
    await press(7, 'ArrowDown', true);
    await press(15, 'ArrowRight', true);
    expect(cell(14).classList).toContain('marked');
    await press(14, 'Enter');
    expect(cell(10).getAttribute('aria-label')).toBe('byte 1, bit 2: Signal 1');
    await keep();
    const [frame, signal, valid] = sent().map(({ after }) => after) as [DeviceFrame, Point, Point];
    expect([frame.name, frame.identifier, frame.when]).toEqual(['Torque', 413_143_043, { on: 'period', periodMs: 100 }]);
    expect([signal.name, signal.type, signal.place]).toEqual([
      'Signal 1',
      'uint16',
      { kind: 'signal', frameId: frame.id, firstBit: 7, bits: 8, order: 'little', pinned: false },
    ]);
    const taken = demo.points.filter(({ deviceId, table }) => deviceId === turner.id && table === 'input').map(({ offset }) => offset);
    expect(taken).not.toContain(signal.offset);
    expect([signal.table, valid.name, valid.place.kind]).toEqual(['input', 'Torque is valid', 'frameState']);
  });

  it('get a signal at the first bit that is free where none is marked', async () => {
    pageOf(view).querySelector<HTMLElement>('[data-signal="1"] button[name=remove-signal]')!.click();
    await click('add-signal');
    expect(cell(32).getAttribute('aria-label')).toContain('Signal 4');
  });

  const openLog = async (text: string) => {
    const read = filesRead();
    const input = pageOf(view).querySelector<HTMLInputElement>('input[name=log-file]')!;
    const files = new DataTransfer();
    files.items.add(new File([text], 'bus.log'));
    input.files = files.files;
    input.dispatchEvent(new Event('change'));
    await read();
    await drawn();
  };

  it('are kept at once where several of a log are chosen, those that the line has left out', async () => {
    const lines = Array.from({ length: 40 }, (_, at) => {
      const [second, counter] = [(1000 + at / 20).toFixed(6), (at % 256).toString(16).padStart(2, '0')];
      return `(${second}) can0 123#${counter}00\n(${second}) can0 124#00${counter}\n(${second}) can0 18A01003#${counter}00000000000000`;
    });
    await openLog(lines.join('\n'));
    expect([...pageOf(view).querySelectorAll('.seen li')].map((row) => row.textContent.trim())).toEqual([
      '123 · 40 times, every 50 ms',
      '124 · 40 times, every 50 ms',
      '18A01003 · 40 times, every 50 ms · is Position',
    ]);
    expect(textOf(view, 'button[name=take-seen]')).toBe('Make 2 frames');
    await click('take-seen');
    const changes = sent();
    const named = (entity: string) =>
      changes.flatMap((change) => (change.entity === entity ? [(change.after as { name: string }).name] : []));
    expect(named('frame')).toEqual(['Frame 123', 'Frame 124']);
    expect(named('point')).toEqual(['123 Counter 1', 'Frame 123 is valid', '124 Counter 1', 'Frame 124 is valid']);
    const places = changes.flatMap(({ entity, after }) => (entity === 'point' ? [after as Point] : []));
    const taken = demo.points.filter(({ deviceId, table }) => deviceId === turner.id && table === 'input').map(({ offset }) => offset);
    expect(places.filter(({ type }) => type !== 'bit').some(({ offset }) => taken.includes(offset))).toBeFalse();
  });

  it('pass whole: which go through is said as it is typed, and each record gets its points side by side', async () => {
    TestBed.resetTestingModule();
    await open({
      ...demo,
      devices: demo.devices.map((row) =>
        row.name === 'Turner converter'
          ? {
              ...row,
              image: {
                ...row.image!,
                bytes: 128,
                windows: row.image!.windows.map((one) => ({ ...one, byte: 4 * one.byte, bytes: 4 * one.bytes })),
              },
            }
          : row,
      ),
    });
    await click('add-frame');
    typeInto(view, 'input[name=name]', 'All of the drive');
    typeInto(view, 'input[name=identifier]', '0x18A00000');
    const form = () => (view.componentInstance as unknown as { form(): FrameGroup }).form();
    form().patchValue({ passes: 'whole', mask: '0x1FFF0000', records: '2' });
    form().markAsDirty();
    await drawn();
    expect(textOf(view, '[data-name=through]')).toBe(
      'Through go identifiers 18A00000 to 18A0FFFF: of the frames of the line Position, Alive; seen were 18A01003.',
    );
    expect(pageOf(view).querySelector('pe-bit-grid')).toBeNull();
    typeInto(view, 'input[name=mask]', '0x3FFFFFFF');
    await keep();
    expect(textOf(view, 'mat-error')).toBe('The mask has more than 29 bits.');
    typeInto(view, 'input[name=mask]', '0x1FFF0000');
    await keep();
    const [frame, ...points] = sent().map(({ after }) => after) as [DeviceFrame, ...Point[]];
    expect(frame.whole).toEqual({ mask: 0x1fff_0000, records: 2 });
    expect(points.length).toBe(2 * 7 + 1);
    for (const record of [0, 1]) {
      const own = points.filter(({ place }) => place.kind === 'record' && place.record === record);
      const offsets = own.flatMap(({ offset, type }) => (type === 'uint32' ? [offset, offset + 1] : [offset])).sort((a, b) => a - b);
      expect(offsets).toEqual(Array.from({ length: 8 }, (_, at) => offsets[0]! + at));
    }
  });

  it('are heard on a real bus where this machine has an interface to one, and it is said where not', async () => {
    const machine = (value: CanInterfaces) => on.http.expectOne('/api/machine/can-interfaces').flush(value);
    machine({ interfaces: [], lacks: null });
    await drawn();
    expect(textOf(view, '[data-name=hears]')).toContain('This machine has no interface of CAN (SocketCAN)');
    TestBed.resetTestingModule();
    await open();
    const bus = new Subject<CanListenEvent>();
    const stream = spyOn(TestBed.inject(Api), 'stream').and.returnValue(bus);
    machine({
      interfaces: [
        { name: 'can0', isUp: true },
        { name: 'can1', isUp: false },
      ],
      lacks: null,
    });
    await drawn();
    expect(textOf(view, '[data-name=hears]')).toBe('can1 is down; it is heard once it has a bit rate and is brought up.');
    expect(pageOf(view).querySelector<HTMLButtonElement>('button[name=listen-can1]')!.disabled).toBeTrue();
    jasmine.clock().install();
    pageOf(view).querySelector<HTMLElement>('button[name=listen-can0]')!.click();
    expect(stream.calls.mostRecent().args).toEqual(['machine/listen-can', { name: 'can0' }]);
    const come = (second: number, identifier: string) => {
      bus.next({ kind: 'heard', line: `(${second}.000000) can0 ${identifier}#01` });
      jasmine.clock().tick(1000);
      view.detectChanges();
    };
    come(1, '123');
    const boxes = () => [...pageOf(view).querySelectorAll<HTMLInputElement>('.seen input')];
    expect(boxes().map(({ checked }) => checked)).toEqual([true]);
    boxes()[0]!.click();
    come(2, '124');
    expect(boxes().map(({ checked }) => checked))
      .withContext('what was chosen stays so')
      .toEqual([false, true]);
    pageOf(view).querySelector<HTMLElement>('button[name=listen-can0]')!.click();
    jasmine.clock().uninstall();
    expect(bus.observed).toBeFalse();
  });

  it('cannot pass whole while they have signals, which stay', async () => {
    const form = (view.componentInstance as unknown as { form(): FrameGroup }).form();
    form.patchValue({ passes: 'whole' });
    await keep();
    expect(textOf(view, 'mat-error')).toBe('Remove its signals first: a frame that passes whole has none.');
    expect(pageOf(view).querySelectorAll('[data-signal]').length).toBe(4);
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
  });

  it('are made of what a log of frames shows, with the signals that it likely has', async () => {
    await openLog('no frame at all');
    expect(textOf(view, '[role=status]')).toBe('bus.log, line 1: It is not of the form (time) interface identifier#data.');
    expect(pageOf(view).querySelector('button[name=take-seen]')).toBeNull();
    const lines = Array.from(
      { length: 40 },
      (_, at) => `(${(1000 + at / 20).toFixed(6)}) can0 123#${(at % 256).toString(16).padStart(2, '0')}00`,
    );
    await openLog(lines.join('\n'));
    await click('take-seen');
    const value = (name: string) => pageOf(view).querySelector<HTMLInputElement>(`input[name=${name}]`)!.value;
    expect(['name', 'identifier', 'bytes', 'periodMs', 'lostAfterMs'].map(value)).toEqual(['Frame 123', '0x123', '2', '50', '150']);
    expect([value('signal-name'), value('first-bit'), value('bits')]).toEqual(['Counter 1', '0', '8']);
    expect(textOf(view, '[role=status]')).toContain('Counter 1: ');
    await keep();
    expect(sent()[0]!.after).toEqual(jasmine.objectContaining({ identifierBits: 11, identifier: 0x123 }));
  });

  it('say at its place what does not fit, and keep what was typed', async () => {
    typeInto(view, '[data-signal="1"] input[name=first-bit]', '31');
    typeInto(view, 'input[name=identifier]', '0x20000000');
    await keep();
    expect(textOf(view, '[data-signal="1"] .problem')).toContain('Position and Drive temperature share bit 31');
    expect(textOf(view, 'mat-error')).toContain('29 bits');
    expect(cell(31).classList).toContain('twice');
    expect(pageOf(view).querySelector<HTMLInputElement>('input[name=identifier]')!.value).toBe('0x20000000');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
  });

  it('change a point where its signal is changed, and take it out with its routes where that is taken out', async () => {
    typeInto(view, '[data-signal="3"] input[name=bits]', '4');
    pageOf(view).querySelector<HTMLElement>('[data-signal="2"] button[name=remove-signal]')!.click();
    await drawn();
    await keep();
    const changes = sent();
    const at = (name: string) => demo.points.find((point) => point.deviceId === turner.id && point.name === name)!.id;
    expect(changes.find(({ id }) => id === at('Sequence'))!.after).toEqual(
      jasmine.objectContaining({ place: jasmine.objectContaining({ bits: 4 }) as never }) as never,
    );
    expect(changes.filter(({ after }) => after === null).map(({ entity }) => entity)).toEqual(['route', 'point']);
  });

  it('are drawn in either order of bytes', () => {
    expect(stretchOf(20, 12, 'little')).toEqual({ firstBit: 12, bits: 9, order: 'little' });
    expect(stretchOf(8, 3, 'big')).toEqual({ firstBit: 3, bits: 12, order: 'big' });
  });
});
