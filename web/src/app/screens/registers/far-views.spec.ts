import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { TextPortState } from '@plain-envoy/core/text-line';
import type { StandInState } from '@plain-envoy/core/feed';
import type { Change, Device, DeviceTelegram, Point } from '@plain-envoy/core/model';
import { BehaviorSubject, of } from 'rxjs';
import { StandIns } from '../../data/stand-ins';
import { demo, deviceNamed, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { ImageView } from './image-view';
import { MapState } from './map-state';
import { TelegramsView } from './telegrams-view';

const [indicator, textPort] = ['Weigh indicator', 'Text port'].map(deviceNamed) as [
  ReturnType<typeof deviceNamed>,
  ReturnType<typeof deviceNamed>,
];
const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const port = demo.ports.find(({ deviceId, lineId }) => deviceId === textPort.id && lineId === line.id)!;
const heard: TextPortState & { portId: string } = {
  ...{ portId: port.id, bytes: 40, silentMs: 100, framingErrors: 0, parityErrors: 0, unknown: 0, tooLong: 0 },
  ...{ upMs: 60_000, waiting: 0, isFull: false, isHeld: false },
  telegrams: [{ id: demo.telegrams[0]!.id, way: 'heard', count: 0, damaged: 2, skipped: 0, unanswered: 0, problem: null, ageMs: null }],
  texts: [0, 1].map((atMs) => ({
    ...{ atMs, telegramId: demo.telegrams[0]!.id, text: '0042;+018405;S;00<CR>', fields: [] },
    problems: ['check is 0, and 118 was worked out.'],
  })),
};

describe('What lies behind a converter', () => {
  let on: Stage;
  const image = new BehaviorSubject<Uint8Array | null>(Uint8Array.from({ length: 80 }, (_, index) => index));
  const poked: unknown[] = [];

  beforeEach(async () => {
    poked.length = 0;
    const standIns = {
      all$: new BehaviorSubject([{ deviceId: textPort.id, texts: [heard] } as unknown as StandInState]),
      image: () => image,
      poke: (...what: unknown[]) => (poked.push(what), of({ ok: true, value: {} })),
      refresh: () => undefined,
    };
    on = await stage([MapState, { provide: StandIns, useValue: standIns }]);
  });
  const drawn = async (view: ComponentFixture<unknown>) => {
    await turn();
    view.detectChanges();
  };
  const send = (view: ComponentFixture<unknown>, form: string) =>
    pageOf(view)
      .querySelector(form)!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
  const sent = () => on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] };
  const at = (deviceId: string) => TestBed.inject(MapState).deviceId.set(deviceId);

  it('is told of each text beside what its fields give, with what is likely wrong', async () => {
    at(indicator.id);
    const view = on.show(TelegramsView);
    await drawn(view);
    expect(textOf(view, '[data-name=fits]')).toBe('3 of 3 samples match.');
    expect(textOf(view, '[data-name=counters]')).toBe('0 sound · 2 damaged · receiving.');
    expect(textOf(view, '[data-name=likely]')).toContain('the checksum is another');
    typeInto(view, 'input[name=end]', '<LF>');
    await drawn(view);
    expect(textOf(view, '[data-name=fits]')).toBe('0 of 3 samples match.');
    expect(textOf(view)).toContain('It does not end with 0A.');
  });

  it('gets a field from the characters that are marked, and points for it when it is kept', async () => {
    at(indicator.id);
    const view = on.show(TelegramsView);
    await drawn(view);
    const box = pageOf(view).querySelector<HTMLTextAreaElement>('textarea[name=samples]')!;
    const press = () => pageOf(view).querySelector<HTMLButtonElement>('button[name=mark]')!.click();
    box.setSelectionRange(0, 0);
    press();
    await drawn(view);
    expect(textOf(view)).toContain('Mark some characters of one line first');
    box.setSelectionRange(6, 9);
    press();
    await drawn(view);
    expect(pageOf(view).querySelectorAll('[data-field]').length).toBe(5);
    expect(pageOf(view).querySelector<HTMLInputElement>('[data-field="4"] input[name=where]')!.value).toBe('6');
    typeInto(view, '[data-field="4"] input[name=field-name]', 'thousands');
    send(view, 'form');
    await drawn(view);
    const kept = sent().changes;
    expect((kept[0]!.after as unknown as DeviceTelegram).telegram.fields.at(-1)).toEqual({
      name: 'thousands',
      kind: 'integer',
      at: { from: 6, length: 3 },
    });
    expect(kept.slice(1).map(({ after }) => [(after as unknown as Point).name, (after as unknown as Point).offset])).toEqual([
      ['Thousands', 5],
    ]);
  });

  it('is shown in the image byte by byte, and written there by hand', async () => {
    at(textPort.id);
    const view = on.show(ImageView);
    await drawn(view);
    expect(textOf(view, '[data-name=summary]')).toBe('80 bytes, 60 of them free.');
    expect(pageOf(view).querySelectorAll('[data-byte]').length).toBe(80);
    expect(pageOf(view).querySelector('[data-byte="31"]')!.textContent!.trim()).toBe('1F');
    pageOf(view).querySelector<HTMLButtonElement>('[data-byte="3"]')!.click();
    await drawn(view);
    expect(textOf(view)).toContain('Byte 3: Gross weight');
    expect(textOf(view)).toContain('Process net: 1, its low byte');
    typeInto(view, 'input[name=poke]', '1FF');
    send(view, '.side form');
    await drawn(view);
    expect([poked, textOf(view, 'mat-error')]).toEqual([[], 'Bytes in hex, with blanks between: 01 FF.']);
    typeInto(view, 'input[name=poke]', '01 ff');
    send(view, '.side form');
    expect(poked).toEqual([[textPort.id, 3, [1, 255]]]);
  });

  it('is placed anew but for what is pinned', async () => {
    at(textPort.id);
    const view = on.show(ImageView);
    await drawn(view);
    pageOf(view).querySelector<HTMLButtonElement>('[data-byte="3"]')!.click();
    await drawn(view);
    pageOf(view).querySelector<HTMLInputElement>('mat-checkbox[name=pinned] input')!.click();
    expect((sent().changes[0]!.after as unknown as Point).place).toEqual(jasmine.objectContaining({ field: 'gross', pinned: true }));
    pageOf(view).querySelector<HTMLButtonElement>('button[name=place-anew]')!.click();
    const moved = sent().changes.map(({ after }) => after as unknown as Point);
    expect(moved.length).toBeGreaterThan(0);
    expect(moved.every(({ id }) => demo.points.some((point) => point.id === id && point.place.kind !== 'register'))).toBeTrue();
  });

  it('has windows that fit into the image, or says which does not', async () => {
    at(textPort.id);
    const view = on.show(ImageView);
    await drawn(view);
    typeInto(view, '[data-window="2"] input[name=count]', '49');
    send(view, '.side > form:last-of-type');
    await drawn(view);
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    expect(textOf(view, '[data-window="2"] mat-error')).toBe('It would end at byte 80; the image ends at 79.');
    typeInto(view, '[data-window="2"] input[name=count]', '40');
    send(view, '.side > form:last-of-type');
    expect((sent().changes[0]!.after as unknown as Device).image!.windows[2]!.bytes).toBe(40);
  });
});
