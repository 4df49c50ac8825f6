import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { Change, Point } from '@plain-envoy/core/model';
import { BehaviorSubject } from 'rxjs';
import { StandIns } from '../../data/stand-ins';
import { demo, deviceNamed, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { placeOfMark } from './link-form';
import { LinkView } from './link-view';
import { MapState } from './map-state';

const [conveyor, kiln] = [deviceNamed('Silo conveyor'), deviceNamed('Kiln controller')];
const portOf = (deviceId: string) => demo.ports.find((port) => port.kind === 'cyclic' && port.deviceId === deviceId)!.id;
const end = (deviceId: string, fields: object = {}) => ({
  links: [
    {
      ...{ portId: portOf(deviceId), state: 'running', problem: null, heard: 42, sent: 42, missed: 1, doubled: 0, lost: 1, ageMs: 20 },
      ...{ program: deviceId === kiln.id ? { runs: 84, problem: null } : null },
      ...{ upMs: 5000, input: '03 00 B4 00 00 00 00 00 00 00 00 00 13 00 00 00', output: '01 01 B4 00 12 00 00 00 00 00 00 00' },
      ...fields,
    },
  ],
});

describe('Blocks of a station on a cyclic link', () => {
  let on: Stage;
  let view: ComponentFixture<LinkView>;
  const played = new BehaviorSubject<unknown[]>([]);
  beforeEach(async () => {
    played.next([end(kiln.id), end(conveyor.id)]);
    on = await stage([MapState, { provide: StandIns, useValue: { all$: played, refresh: () => undefined } }]);
    TestBed.inject(MapState).deviceId.set(conveyor.id);
    view = on.show(LinkView);
    await drawn();
  });
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
  const keep = async () => {
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
  };
  const box = (index: number, name: string) => `[data-value="${index}"] input[name=${name}]`;
  const sent = () => (on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] }).changes;

  it('show each bit with the value that it belongs to, and what came last', () => {
    expect(cell(0).getAttribute('aria-label')).toBe('byte 0, bit 0: Conveyor status, 1');
    expect(cell(8).getAttribute('aria-label')).toBe('byte 1, bit 0: free, 0');
    expect(cell(127).getAttribute('aria-label')).toBe('byte 15, bit 7: free, 0');
    expect(textOf(view)).toContain('Kiln controller opens Silo link and shows its values in registers.');
    expect(textOf(view, '[data-end="Kiln controller"]')).toBe(
      'Kiln controller: blocks come and go · LINK is lit · 42 came, 1 stayed away, lost 1 time · its Structured Text ran 84 times',
    );
  });

  it('say in the words of each end’s papers what its lamps show when the link is not well, and show no bytes that never came', async () => {
    played.next([end(kiln.id, { state: 'refused', problem: 'It has 16 bytes in and 12 out.', ageMs: null }), end(conveyor.id)]);
    await drawn();
    const told = pageOf(view).querySelector('[data-end="Kiln controller"]')!;
    expect(told.textContent).toContain('the other end refuses the link · LINK blinks twice and pauses');
    expect(told.textContent).toContain('It has 16 bytes in and 12 out.');
    expect(told.classList).toContain('problem');
    expect(cell(0).textContent).toBe('·');
  });

  it('get a value of bits that are marked by keys, placed where the carrier reads it', async () => {
    await press(112, 'ArrowDown', true);
    await press(120, 'ArrowLeft', true);
    await press(121, 'Enter');
    expect(cell(115).getAttribute('aria-label')).toContain('Value 7');
    await keep();
    const [change] = sent();
    const point = change!.after as Point;
    expect([point.name, point.type, point.table, point.access]).toEqual(['Value 7', 'uint16', 'holding', 'read']);
    expect(point.place).toEqual({ kind: 'cyclic', block: 'input', byte: 14, bit: 0, bits: 10, order: 'little', pinned: false });
    const taken = demo.points.filter(({ deviceId }) => deviceId === conveyor.id).map(({ offset }) => offset);
    expect(taken).not.toContain(point.offset);
  });

  it('say at its place what is wrong with a value, and keep what was typed', async () => {
    typeInto(view, box(1, 'byte'), '15');
    typeInto(view, box(2, 'bits'), 'many');
    typeInto(view, box(3, 'value-name'), ' ');
    await keep();
    const rows = pageOf(view).querySelectorAll('[data-value]');
    expect(rows[1]!.textContent).toContain('Belt speed reaches bit 135 (byte 16, bit 7), and the input ends with byte 15.');
    expect(rows[2]!.textContent).toContain('A whole number.');
    expect(rows[3]!.textContent).toContain('A name is needed.');
    expect(pageOf(view).querySelector<HTMLInputElement>(box(2, 'bits'))!.value).toBe('many');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
  });

  it('lose a value that is removed, with its routes', async () => {
    pageOf(view).querySelector<HTMLElement>('[data-value="1"] button[name=remove-value]')!.click();
    await drawn();
    await keep();
    const gone = sent().map(({ entity, before, after }) => [entity, (before as { name: string }).name, after]);
    expect(gone).toEqual(
      jasmine.arrayWithExactContents([
        ['point', 'Belt speed', null],
        ['route', 'Belt speed', null],
      ]),
    );
  });
});

describe('Bits that were marked', () => {
  it('are told by byte and bit in either order', () => {
    const place = (firstBit: number, bits: number, order: 'little' | 'big') => {
      const { byte, bit } = placeOfMark({ firstBit, bits, order });
      return [byte, bit];
    };
    expect([place(21, 3, 'little'), place(23, 16, 'big'), place(21, 3, 'big'), place(8, 1, 'big')]).toEqual([
      [2, 5],
      [2, 0],
      [2, 3],
      [1, 0],
    ]);
  });
});
