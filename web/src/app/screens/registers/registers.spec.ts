import { HttpTestingController } from '@angular/common/http/testing';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { ReadEvent } from '@plain-envoy/core/feed';
import { stripOf } from '@plain-envoy/core/map';
import type { Change, Point } from '@plain-envoy/core/model';
import { of } from 'rxjs';
import { Api } from '../../data/api';
import { Proofs } from '../../data/proofs';
import {
  demo,
  deviceNamed,
  doubt,
  pointNamed,
  pressKey,
  type Stage,
  stage,
  submit,
  textOf,
  turn,
  typeInto,
  pick,
  pickInMenu,
} from '../../testing.spec-helper';
import { AlignView } from './align-view';
import { ImportView } from './import-view';
import { MapState } from './map-state';
import { OrderHelp } from './order-help';
import { ReadPanel } from './read-panel';
import { RegistersScreen } from './registers';
import { ScaleEditor } from './scale-editor';
import { layoutStrip, offsetAt, xOf } from './strip-layout';
import { viewsOf } from './words';

const changeSets = `/api/projects/${demo.project.id}/change-sets`;
const body = (http: HttpTestingController) => http.expectOne(changeSets).request.body as { label: string; changes: Change[] };
const click = (fixture: ComponentFixture<unknown>, text: string) => {
  const buttons = [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')];
  buttons.find((button) => button.innerText.includes(text))!.click();
  fixture.detectChanges();
};
const cells = (fixture: ComponentFixture<unknown>, column: string) =>
  [...(fixture.nativeElement as HTMLElement).querySelectorAll<HTMLElement>(`.ag-row [col-id=${column}]`)].map((cell) =>
    cell.innerText.trim(),
  );

/** Readings that the server would send. */
function reading(...events: ReadEvent[]) {
  return { provide: Proofs, useValue: { read: () => of(...events) } };
}

describe('RegistersScreen', () => {
  let on: Stage;
  const damper = deviceNamed('Exhaust damper');
  beforeEach(async () => {
    on = await stage();
    spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
    localStorage.removeItem('plain-envoy columns');
  });
  const shown = async (inputs: Record<string, unknown>) => {
    const screen = on.show(RegistersScreen, inputs);
    for (let times = 0; times < 5; times++) {
      TestBed.tick();
      await new Promise((done) => setTimeout(done, 20));
    }
    return screen;
  };

  it('shows a device’s points in register order and looks at just these', async () => {
    const screen = await shown({ device: damper.id });
    expect(cells(screen, 'name')).toEqual(['End position open', 'End position closed', 'Position', 'Set point']);
    expect(cells(screen, 'address')).toEqual(['1', '2', '1', '1']);
    expect(on.live.points.wanted().length).toBe(4);
    screen.destroy();
    expect(on.live.points.wanted()).toEqual([]);
  });

  it('calls a value good as it was read, but not while something speaks against it', async () => {
    const { id } = pointNamed('Position');
    doubt(id, 'Its papers have another scale.');
    on.live.points.take([{ pointId: id, words: [617], quality: 'good', reason: null, atMs: 9000 }]);
    const screen = await shown({ device: damper.id });
    expect(cells(screen, 'quality')).toEqual(['', '', 'doubtful', '']);
  });

  it('writes addresses in the notation that is chosen', async () => {
    const screen = await shown({ device: damper.id });
    pick(screen, 'notation', 'reference6');
    TestBed.tick();
    expect(cells(screen, 'address')).toEqual(['100001', '100002', '300001', '400001']);
  });

  it('goes to an address in any notation, and names what one wrong digit would have been', async () => {
    const screen = await shown({ device: deviceNamed('Plant meter').id });
    const find = (text: string) => {
      typeInto(screen, 'input[name=find]', text);
      pressKey((screen.nativeElement as HTMLElement).querySelector('input[name=find]')!, 'Enter');
      screen.detectChanges();
      return textOf(screen, '.line');
    };
    expect(find('0x1FCD')).toContain('is Reactive energy');
    expect(find('408412')).toContain('408142, Reactive energy, is: a digit may be wrong, or two swapped.');
    expect(find('465537')).toContain('references of holding registers end at 465536');
  });

  it('starts a new point where the chosen one ends, and makes as many as are wished', async () => {
    const serial = pointNamed('Serial number');
    const screen = await shown({ point: serial.id });
    click(screen, 'Add point');
    TestBed.tick();
    expect((screen.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=offset]')!.value).toBe('102');
    typeInto(screen, 'input[name=name]', 'Cable 1 T01');
    typeInto(screen, 'input[name=howMany]', '16');
    expect(textOf(screen, 'pe-point-form')).toContain('Cable 1 T01 … Cable 1 T16');
    await submit(screen);
    const { changes, label } = body(on.http);
    expect(label).toBe('Add 16 points, Cable 1 T01 and on');
    const last = changes.at(-1)!.after as Point;
    expect([changes.length, last.name, last.offset]).toEqual([16, 'Cable 1 T16', 102 + 15 * 2]);
  });
});

describe('helpers of Registers', () => {
  const meter = deviceNamed('Plant meter');

  it('OrderHelp ranks readings by what is expected, and writes type, order and scale of the first', async () => {
    const on = await stage([MapState, reading({ kind: 'words', first: 8141, words: [0x0700, 0x8442] })]);
    const state = TestBed.inject(MapState);
    state.deviceId.set(meter.id);
    const energy = pointNamed('Reactive energy');
    state.focused.set(energy.id);
    const help = on.show(OrderHelp);
    expect(textOf(help)).toContain('Nothing has been read here yet');
    click(help, 'Read it now');
    await turn();
    await turn();
    help.detectChanges();
    typeInto(help, 'input[name=expected]', 'much');
    expect(textOf(help, '.field-problem, mat-error')).toBe('“much” is no number.');
    typeInto(help, 'input[name=expected]', '476000');
    expect(textOf(help, 'tbody tr:first-child')).toContain('BADC');
    await submit(help);
    expect(body(on.http).changes[0]!.after).toEqual({ ...energy, order: 'BADC' });
  });

  it('AlignView sees in pasted numbers that an array starts one later, and shifts the points there', async () => {
    const on = await stage([MapState]);
    const state = TestBed.inject(MapState);
    state.deviceId.set(deviceNamed('Floor I/O block').id);
    const view = on.show(AlignView);
    pick(view, 'from', 'pasted');
    const words = Array.from({ length: 90 }, () => 7000);
    for (const floor of [0, 8, 16]) words.splice(floor + 1, 3, 172, 190, 880);
    words.splice(31, 2, 240, 12);
    words[88] = 7;
    typeInto(view, 'textarea[name=pasted]', words.map((word, index) => `[${index}] ${word}`).join('\n'));
    expect(textOf(view, '.proposals')).toContain('shift by +1');
    expect(textOf(view, '.proposals')).toContain('later than the map says');
    click(view, 'Shift by +1');
    const moved = body(on.http).changes.map(({ before, after }) => (after as Point).offset - (before as Point).offset);
    expect(new Set(moved)).toEqual(new Set([1]));
    typeInto(view, 'textarea[name=pasted]', 'twelve');
    expect(textOf(view, '.problem')).toContain('Line 1, “twelve”');
  });

  it('ReadPanel shows each register in every way, and keeps what is refused', async () => {
    const on = await stage([
      MapState,
      reading(
        { kind: 'words', first: 7440, words: [0x4348, 0x5e50] },
        { kind: 'refused', offset: 7442, why: 'exception 2' },
        { kind: 'round', round: 1, requests: 3, refused: 1, tookMs: 12 },
      ),
    ]);
    TestBed.inject(MapState).deviceId.set(meter.id);
    const panel = on.show(ReadPanel);
    TestBed.tick();
    typeInto(panel, 'input[name=first]', 'nowhere');
    await submit(panel);
    expect(textOf(panel, '.field-problem, mat-error')).toContain('is no address');
    typeInto(panel, 'input[name=first]', '407441');
    typeInto(panel, 'input[name=count]', '3');
    await submit(panel);
    expect(textOf(panel, 'tbody tr:first-child')).toContain('200.368');
    expect(textOf(panel, 'tbody')).toContain('refused: exception 2');
    click(panel, 'Keep as forbidden');
    const after = body(on.http).changes[0]!.after as { forbidden: unknown[] };
    expect(after.forbidden).toEqual([...meter.forbidden, { table: 'holding', first: 7442, last: 7442 }]);
  });

  it('ScaleEditor takes a formula, a range, decimals and encoder counts, and says why something is none', async () => {
    const on = await stage();
    const editor = on.show(ScaleEditor, { value: { factor: 0.1, offset: 0 }, pointType: 'uint16', unit: '°C' });
    const told: unknown[] = [];
    editor.componentInstance.changed.subscribe((change) => told.push(change.ok ? change.scale : change.message));
    expect(textOf(editor)).toContain('uint16 reaches 0 to 6553.5 °C');
    typeInto(editor, 'input[name=scale]', '× zero');
    expect(textOf(editor, '.field-problem, mat-error')).toContain('is no scale');
    typeInto(editor, 'input[name=scale]', '/100');
    pick(editor, 'scaleKind', 'range');
    pickInMenu(editor, 'common', '[data-common="12 bit, 4–20 mA"]');
    pick(editor, 'scaleKind', 'decimals');
    typeInto(editor, 'input[name=decimals]', '2');
    pick(editor, 'scaleKind', 'encoder');
    typeInto(editor, 'input[name=turn]', '250');
    expect(told[1]).toEqual({ factor: 0.01, offset: 0 });
    expect(told).toContain({ raw: [819, 4095], units: [0, 100] });
    expect(told.at(-1)).toEqual({ factor: 250 / 1024, offset: 0 });
  });

  it('ImportView shows how a file was understood and what each row becomes, and lets a column be named otherwise', async () => {
    const on = await stage([MapState]);
    TestBed.inject(MapState).deviceId.set(meter.id);
    const draft = { ...pointNamed('Active power'), name: 'One' };
    const open = [{ field: 'type', message: '“wort” is no type that is known.', word: 'wort' }];
    const row = { line: 2, cells: ['One', '1'], fate: 'adds', draft, problems: [], open, remarks: [], place: null };
    const bad = {
      line: 3,
      cells: ['Two', 'x'],
      fate: 'problem',
      draft: null,
      problems: [{ field: 'address', message: 'x is no address.' }],
      open: [],
      remarks: [],
      place: null,
    };
    const preview = {
      id: 'i',
      what: 'Text in ASCII',
      kind: 'table',
      remarks: ['Cells are merged in it.'],
      problem: null,
      reading: {
        header: ['name', 'register'],
        fields: ['name', 'address'],
        notation: 'pdu',
        why: ['Because.'],
        counts: { adds: 1, changes: 0, same: 0, joins: 0, apart: 0, problem: 1 },
        unknown: [{ field: 'type', word: 'wort', rows: 1 }],
      },
      parts: [
        { title: 'Input registers', rows: 2, pages: [4, 4] },
        { title: 'Holding registers', rows: 9, pages: [5, 6] },
      ],
      known: [],
      total: 2,
      rows: [row, bad],
      problems: [bad],
      options: { table: 'holding', order: 'ABCD', without: [] },
    };
    const stream = spyOn(TestBed.inject(Api), 'stream').and.returnValue(
      of({ kind: 'progress', done: 1, total: 2 }, { kind: 'offered', preview }),
    );
    const view = on.show(ImportView, { text: 'name,register\nOne,1\nTwo,x' });
    TestBed.tick();
    await turn();
    expect(stream.calls.mostRecent().args[0]).toBe(`projects/${demo.project.id}/devices/${meter.id}/imports`);
    view.detectChanges();
    expect(textOf(view, '.told')).toContain('1 new, 0 change');
    expect(textOf(view, '.told')).toContain('1 row does not fit');
    expect(textOf(view, 'tbody')).toContain('x is no address.');
    expect(textOf(view, 'tbody')).toContain('Open: “wort” is no type that is known.');
    expect(textOf(view, '.parts')).toContain('Holding registers · 9 rows, pages 5 to 6');
    pick(view, 'field0', 'note');
    const asked = on.http.expectOne('/api/imports/i');
    expect(asked.request.body).toEqual({ table: 'holding', order: 'ABCD', without: [], fields: ['note', 'address'] });
    asked.flush({ error: { message: 'No column holds names.', path: [] } }, { status: 422, statusText: 'x' });
    await turn();
    view.detectChanges();
    expect(textOf(view, '[role=alert]')).toContain('No column holds names.');
    expect(textOf(view, 'tbody')).toContain('One');

    pick(view, 'word', 'float32');
    const learnt = on.http.expectOne('/api/words');
    expect(learnt.request.body).toEqual({ field: 'type', word: 'wort', meaning: 'float32' });
    learnt.flush({});
    const known = {
      ...preview,
      reading: { ...preview.reading, unknown: [] },
      known: [{ field: 'type', word: 'wort', meaning: 'float32' }],
    };
    on.http.expectOne('/api/imports/i').flush(known);
    await turn();
    view.detectChanges();
    expect(textOf(view, 'pe-import-words')).toContain('“wort” among the types was said to mean float32.');
    click(view, 'Forget it');
    const forgotten = on.http.expectOne('/api/words?field=type&word=wort');
    expect(forgotten.request.method).toBe('DELETE');
    forgotten.flush({});
    on.http.expectOne('/api/imports/i').flush(preview);
    await turn();
    view.detectChanges();

    (view.nativeElement as HTMLElement).querySelectorAll<HTMLInputElement>('.parts input')[1]!.click();
    expect(on.http.expectOne('/api/imports/i').request.body).toEqual({ table: 'holding', order: 'ABCD', without: [1] });
  });

  it('the strip finds each register where it draws it, holes drawn shorter than they are', () => {
    const points = demo.points.filter(({ deviceId }) => deviceId === meter.id);
    const strip = stripOf('holding', points, meter.forbidden)!;
    const layout = layoutStrip(strip, 1100);
    expect(layout.width).toBeLessThan(1100);
    for (const point of points) {
      const place = xOf(layout, point.offset)!;
      expect(offsetAt(layout, place.x + 1)).toBe(point.offset);
    }
    const many = Array.from({ length: 3000 }, (_, index) => ({ ...points[0]!, id: `p${index}`, offset: index * 2 }));
    const long = layoutStrip(stripOf('holding', many)!, 1100);
    expect(long.width).toBeGreaterThan(6000);
    expect(offsetAt(long, xOf(long, 4567)!.x + 1)).toBe(4567);
    expect(xOf(long, 60_000)).toBeNull();
  });

  it('a register is shown in every way', () => {
    expect(viewsOf(0x4276, 0)).toEqual({
      decimal: '17014',
      signed: '17014',
      hex: '4276',
      binary: '0100 0010 0111 0110',
      text: 'Bv',
      floats: ['61.5', jasmine.any(String) as never, jasmine.any(String) as never, jasmine.any(String) as never],
    });
    expect(viewsOf(0xffff, undefined)).toEqual(jasmine.objectContaining({ signed: '-1', text: '··', floats: [] }));
  });
});
