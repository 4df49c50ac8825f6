import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, linkedSignal, output, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormArray, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { isBitTable, type Table, tableNames } from '@plain-envoy/core/address';
import { placeAnew } from '@plain-envoy/core/placing';
import { type ImageByte, imageBytes, type ImageSpan, namesOfByte, spansInImage } from '@plain-envoy/core/mapping';
import { Image, type SideWindow, type WordOrder } from '@plain-envoy/core/image';
import type { Change, Point } from '@plain-envoy/core/model';
import { isFar } from '@plain-envoy/core/place';
import { of, switchMap } from 'rxjs';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { focusViewOnOpen } from '../../parts/focus';
import { addressOf } from '../../parts/format';
import { named } from '../../parts/named';
import { forgetRefusals, problemIn, readGroup, refuseIn, schemaValidator } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { MapState } from './map-state';

const ROW = 16;
/** Bytes that are drawn at a time. */
const PAGE = 256;
const NO_TABLE = '';
type Shown = 'hex' | 'decimal' | 'text' | 'bits';

/** A stretch of a row that says something: of a side, or of a value. */
interface Band {
  /** Grid columns, from 1; the first is the label of the row. */
  column: string;
  text: string;
  hint: string;
  kind: 'register' | 'writes' | 'reads' | 'value';
  /** Of registers: which table, in a word. */
  of?: string;
}

interface ImageRow {
  from: number;
  /** Registers and bits as the sides with tables call them, a line each. */
  above: Band[][];
  cells: { byte: number; text: string; state: string; hint: string }[];
  values: Band[];
  below: Band[][];
}

/** The memory of a converter: its bytes, how each side calls them, who writes and who reads them, and what they hold. */
@Component({
  selector: 'pe-image-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, TextField],
  templateUrl: './image-view.html',
  styleUrls: ['./wide-view.scss', './image-view.scss'],
})
export class ImageView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly standIns = inject(StandIns);
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly closed = output();

  private readonly image = computed(() => this.state.device()?.image ?? null, { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) });
  protected readonly form = computed(() => {
    const form = imageGroup(this.image() ?? this.blank());
    form.addValidators(schemaValidator({ schema: Image, from: imageOfTyped }));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  protected readonly uses: Option<SideWindow['use']>[] = [
    { value: 'writes', text: 'writes' },
    { value: 'reads', text: 'reads' },
  ];
  protected readonly tables: Option<string>[] = [
    { value: NO_TABLE, text: 'bytes' },
    ...(['input', 'holding', 'discrete', 'coil'] as const).map((table) => ({ value: table, text: tableNames[table].many })),
  ];
  protected readonly orders: Option<WordOrder>[] = [
    { value: 'high-first', text: 'high first' },
    { value: 'low-first', text: 'low first' },
  ];
  /** The lines that the converter is on. */
  protected readonly lines = computed(() => {
    const { lines, ports } = this.project.document()!;
    const here = new Set(ports.filter(({ deviceId }) => deviceId === this.state.deviceId()).map(({ lineId }) => lineId));
    return named(lines.filter(({ id }) => here.has(id)));
  });

  protected readonly shownAs = asOptions<Shown>(['hex', 'decimal', 'text', 'bits']);
  protected readonly shown = signal<Shown>('hex');
  protected readonly widths: Option<'byte' | WordOrder>[] = [
    { value: 'byte', text: 'bytes' },
    { value: 'high-first', text: 'words, high byte first' },
    { value: 'low-first', text: 'words, low byte first' },
  ];
  protected readonly width = signal<'byte' | WordOrder>('byte');
  protected readonly page = linkedSignal<string, number>({ source: () => this.state.deviceId(), computation: () => 0 });
  protected readonly pages = computed((): Option<number>[] =>
    Array.from({ length: Math.ceil((this.image()?.bytes ?? 0) / PAGE) }, (_, index) => ({
      value: index * PAGE,
      text: `bytes ${index * PAGE} to ${Math.min(this.image()!.bytes, (index + 1) * PAGE) - 1}`,
    })),
  );
  private readonly played = computed(() => (this.image() && this.state.device()?.standIn ? this.state.deviceId() : null));
  protected readonly held = toSignal(toObservable(this.played).pipe(switchMap((id) => (id ? this.standIns.image(id) : of(null)))), {
    initialValue: null,
  });
  protected readonly at = linkedSignal<string, number>({ source: () => this.state.deviceId(), computation: () => 0 });

  private readonly spans = computed((): ImageSpan[] => {
    const device = this.state.device();
    return device ? spansInImage(this.project.document()!, device) : [];
  });
  private readonly bytes = computed((): ImageByte[] => {
    const image = this.image();
    return image ? imageBytes(image, this.spans(), this.page(), PAGE) : [];
  });
  protected readonly rows = computed((): ImageRow[] => {
    const bytes = this.bytes();
    return Array.from({ length: Math.ceil(bytes.length / ROW) }, (_, row) => this.rowOf(bytes.slice(row * ROW, (row + 1) * ROW)));
  });
  protected readonly summary = computed(() => {
    const image = this.image();
    if (!image) return 'Nothing is said of its image yet.';
    const all = imageBytes(image, this.spans(), 0, image.bytes);
    const count = (what: (byte: ImageByte) => boolean) => all.filter(what).length;
    const [free, twice, unread] = [
      count(({ values }) => values.length === 0),
      count(({ writers }) => writers.length > 1),
      count(({ writers, readers }) => writers.length > 0 && readers.length === 0),
    ];
    return `${image.bytes} bytes, ${free} of them free${twice ? `, ${twice} written by two sides` : ''}${unread ? `, ${unread} that nobody reads` : ''}.`;
  });

  protected readonly chosen = computed(() => {
    const image = this.image();
    const byte = this.at();
    if (!image || byte >= image.bytes) return null;
    const [found] = imageBytes(image, this.spans(), byte, 1);
    const { lines } = this.project.document()!;
    const nameOf = (id: string) => lines.find((line) => line.id === id)?.name ?? 'a line that is gone';
    const held = this.held()?.[byte];
    return {
      byte,
      held: held === undefined ? 'nobody plays it' : `${hex(held)} · ${held} · ${held.toString(2).padStart(8, '0')} · “${printable(held)}”`,
      names: namesOfByte(image, byte).map(({ side, window, byte: own, register, bit }) => ({
        side: nameOf(side),
        text:
          register === null
            ? `byte ${own}`
            : isBitTable(window.table!)
              ? `${addressOf({ table: window.table!, offset: register }, this.state.device())} and the seven after it`
              : `${addressOf({ table: window.table!, offset: register }, this.state.device())}, its ${isHigh(window.order, own) ? 'high' : 'low'} byte${bit === null ? '' : `, bit ${bit}`}`,
      })),
      writers: found!.writers.map(nameOf).join(' and ') || 'nobody',
      readers: found!.readers.map(nameOf).join(' and ') || 'nobody',
      values: found!.values.map(({ name }) => name).join(', ') || 'free',
      far: found!.values.find(({ place }) => isFar(place)) ?? null,
    };
  });
  protected readonly hand = new FormGroup({ bytes: textControl('') });
  protected readonly handProblem = problemIn(() => this.hand);

  constructor() {
    this.unsaved.watch(() => 'the image', this.form);
    focusViewOnOpen();
  }

  protected choose(byte: number): void {
    this.at.set(byte);
  }

  protected key(event: KeyboardEvent): void {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: ROW, ArrowUp: -ROW }[event.key];
    const last = (this.image()?.bytes ?? 0) - 1;
    if (step === undefined) return;
    event.preventDefault();
    const at = Math.min(last, Math.max(0, this.at() + step));
    this.at.set(at);
    this.page.set(Math.floor(at / PAGE) * PAGE);
    setTimeout(() => this.element.querySelector<HTMLElement>(`[data-byte="${at}"]`)?.focus());
  }

  protected isPinned({ place }: Point): boolean {
    return isFar(place) && place.pinned;
  }

  /** Whether a value stays where it is when the others are placed anew. */
  protected pin(point: Point, pinned: boolean): void {
    const change: Change = { entity: 'point', id: point.id, before: point, after: { ...point, place: { ...point.place, pinned } } };
    this.commit(`${point.name} ${pinned ? 'stays at its place' : 'may be placed anew'}`, [change]);
  }

  /** Places all that are not pinned anew, so that as few requests as possible carry them. */
  protected placeAnew(): void {
    const device = this.state.device();
    if (!device) return;
    const document = this.project.document()!;
    const placed = placeAnew(document, device.id);
    if (!placed.ok) return refuseIn(this.form(), { message: placed.problem.message, path: [] });
    if (placed.value.length === 0) return this.editor.say('They lie as well as they can.');
    const before = new Map(document.points.map((point) => [point.id, point]));
    this.commit(
      `Values of ${device.name} placed anew`,
      placed.value.map((point): Change => ({ entity: 'point', id: point.id, before: before.get(point.id)!, after: point })),
    );
  }

  private commit(label: string, changes: Change[]): void {
    this.store.commit(label, changes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }

  /** Puts bytes there by hand, to see them on the other side. */
  protected write(): void {
    const parts = this.hand
      .getRawValue()
      .bytes.trim()
      .split(/[\s,]+/)
      .filter(Boolean);
    const bytes = parts.map((part) => (/^(0x)?[0-9a-f]{1,2}$/i.test(part) ? parseInt(part.replace(/^0x/i, ''), 16) : NaN));
    forgetRefusals(this.hand);
    if (bytes.length === 0 || bytes.some(Number.isNaN))
      return refuseIn(this.hand, { message: 'Bytes in hex, with blanks between: 01 FF.', path: ['bytes'] });
    this.standIns.poke(this.state.deviceId(), this.at(), bytes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.hand, { message: answer.problem.message, path: ['bytes'] });
      this.hand.reset();
      this.editor.say(`${bytes.length === 1 ? 'A byte was' : `${bytes.length} bytes were`} written from byte ${this.at()} on.`);
    });
  }

  protected addWindow(): void {
    const { bytes } = this.form().getRawValue();
    const [line] = this.lines();
    this.form().controls.windows.push(
      windowGroup({ lineId: line?.value ?? '', use: 'writes', byte: 0, bytes: typedNumber(bytes) || 2, order: 'high-first' }),
    );
    this.form().markAsDirty();
  }

  protected removeWindow(index: number): void {
    this.form().controls.windows.removeAt(index);
    this.form().markAsDirty();
  }

  protected save(): void {
    const image = readGroup(this.form(), { schema: Image, from: imageOfTyped });
    const device = this.state.device();
    if (!image || !device) return;
    const change: Change = { entity: 'device', id: device.id, before: device, after: { ...device, image } };
    this.store.commit(`The image of ${device.name}`, [change]).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.form().markAsPristine();
      this.editor.say(`The image of ${device.name} is kept.`);
    });
  }

  protected leave(): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.closed.emit());
  }

  private rowOf(bytes: readonly ImageByte[]): ImageRow {
    const image = this.image()!;
    const [from, to] = [bytes[0]!.byte, bytes.at(-1)!.byte];
    const { lines } = this.project.document()!;
    const here = image.windows.flatMap((window) => {
      const [first, last] = [Math.max(from, window.byte), Math.min(to, window.byte + window.bytes - 1)];
      const side = lines.find(({ id }) => id === window.lineId)?.name ?? '?';
      return first <= last ? [{ window, first, last, side }] : [];
    });
    const column = (first: number, last: number) => `${first - from + 2} / ${last - from + 3}`;
    return {
      from,
      above: here.flatMap(({ window, first, last, side }) => (window.table ? [this.registersOf(window, first, last, column, side)] : [])),
      cells: bytes.map((one, index) => ({
        byte: one.byte,
        text: this.textOf(one.byte, index),
        state: one.writers.length > 1 || overlaps(one) ? 'twice' : one.values.length ? 'used' : one.writers.length ? 'free' : 'nobody',
        hint: `Byte ${one.byte}`,
      })),
      values: this.spans()
        .filter((span) => span.from <= to && span.to >= from)
        .map(({ point, from: begin, to: end }) => ({
          column: column(Math.max(from, begin), Math.min(to, end)),
          text: point.name,
          hint: `${point.name}, bytes ${begin} to ${end}`,
          kind: 'value',
        })),
      below: here
        .filter(({ window }) => !window.table)
        .map(({ window, first, last, side }): Band[] => {
          const own = (window.offset ?? 0) + first - window.byte;
          const text = `${side} ${window.use} ${last > first ? `its bytes ${own} to ${own + last - first}` : `its byte ${own}`}`;
          return [{ column: column(first, last), text, hint: text, kind: window.use }];
        }),
    };
  }

  private registersOf(
    window: SideWindow,
    first: number,
    last: number,
    column: (first: number, last: number) => string,
    side: string,
  ): Band[] {
    const table = window.table!;
    const step = isBitTable(table) ? 1 : 2;
    const bands: Band[] = [];
    for (let at = first - ((first - window.byte) % step); at <= last; at += step) {
      const inWindow = at - window.byte;
      const offset = (window.offset ?? 0) + (isBitTable(table) ? 8 * inWindow : inWindow >> 1);
      const text = addressOf({ table, offset }, this.state.device());
      bands.push({
        column: column(Math.max(first, at), Math.min(last, at + step - 1)),
        text,
        hint: `${side} ${window.use} ${tableNames[table].one} ${text} here`,
        kind: 'register',
        of: table,
      });
    }
    return bands;
  }

  private textOf(byte: number, index: number): string {
    const held = this.held();
    const width = this.width();
    if (!held || held[byte] === undefined) return '';
    if (width === 'byte') return shownByte(held[byte], this.shown());
    if (index % 2 === 1) return '';
    const next = held[byte + 1] ?? 0;
    const word = width === 'high-first' ? (held[byte] << 8) | next : (next << 8) | held[byte];
    return shownWord(word, this.shown());
  }

  /** An image as small converters have it: what each line has to do with is left to say. */
  private blank(): Image {
    return { bytes: 64, refreshMs: 10, evenWide: false, windows: [] };
  }
}

function overlaps({ values }: ImageByte): boolean {
  return values.filter(({ bit }) => bit === null).length > 1;
}

function isHigh(order: WordOrder, at: number): boolean {
  return (at % 2 === 0) === (order === 'high-first');
}

function hex(value: number, figures = 2): string {
  return value.toString(16).toUpperCase().padStart(figures, '0');
}

function printable(value: number): string {
  return value >= 0x20 && value < 0x7f ? String.fromCharCode(value) : '·';
}

function shownByte(value: number, shown: Shown): string {
  return { hex: hex(value), decimal: String(value), text: printable(value), bits: value.toString(2).padStart(8, '0') }[shown];
}

function shownWord(value: number, shown: Shown): string {
  return {
    hex: hex(value, 4),
    decimal: String(value),
    text: printable(value >> 8) + printable(value & 0xff),
    bits: value.toString(2).padStart(16, '0'),
  }[shown];
}

function windowGroup({ lineId, use, table, offset, byte, bytes, order }: SideWindow) {
  return new FormGroup({
    lineId: controlOf(lineId),
    use: controlOf(use),
    table: controlOf<string>(table ?? NO_TABLE),
    offset: textControl(offset ?? 0),
    byte: textControl(byte),
    bytes: textControl(bytes),
    order: controlOf(order),
  });
}

function imageGroup({ bytes, refreshMs, evenWide, windows }: Image) {
  return new FormGroup({
    bytes: textControl(bytes),
    refreshMs: textControl(refreshMs),
    evenWide: controlOf(evenWide),
    windows: new FormArray(windows.map(windowGroup)),
  });
}
type TypedImage = ReturnType<ReturnType<typeof imageGroup>['getRawValue']>;

function imageOfTyped({ bytes, refreshMs, evenWide, windows }: TypedImage): unknown {
  return {
    bytes: typedNumber(bytes),
    refreshMs: typedNumber(refreshMs),
    evenWide,
    windows: windows.map(({ table, offset, ...window }) => ({
      ...window,
      ...(table === NO_TABLE ? {} : { table: table as Table }),
      offset: typedNumber(offset),
      byte: typedNumber(window.byte),
      bytes: typedNumber(window.bytes),
    })),
  };
}
