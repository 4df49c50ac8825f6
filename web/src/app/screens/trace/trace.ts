import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { type Answer } from '../../data/api';
import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { isFarLine } from '@plain-envoy/core/converter';
import {
  ends,
  isModbus,
  keepsAll,
  readRecording,
  readSerial,
  readSerialText,
  teller,
  type TraceEntry,
  type TraceRecord,
} from '@plain-envoy/core/trace';
import { filter, interval, merge, type Observable, of, Subject, tap, throttle } from 'rxjs';
import { type DocumentChoice, Documents } from '../../data/documents';
import { Editor } from '../../data/editor';
import { Live } from '../../data/live';
import { patternsRun } from '../../data/patterns-run';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { Recorded } from '../../data/recorded';
import { type FoundExchanges, Traces } from '../../data/traces';
import { atEdge } from '../../data/state';
import { Actions } from '../../parts/actions';
import { textControl } from '../../parts/controls';
import { download, downloadBlob } from '../../parts/download';
import { arrowStep } from '../../parts/keys';
import { CaptureForm } from './capture-form';
import { ExchangeView } from './exchange-view';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { refuseIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { filterOf, type Shown } from './trace-filter';
import { endNames, headlineOf, keyOf, type Line, lineOf, type Tell } from './trace-lines';

export const ROW = 26;
const FOLLOW_EVERY_MS = 500;
const NO_BYTES = 'Write bytes as hex digits in pairs, as in 15 04 00 0A 00 02; a line may begin with its time.';
/** So many are asked for at the end of the list, and before it is known how many can be seen. */
const AT_END = 60;
const nothing: FoundExchanges = { kept: { first: 0, last: 0 }, capture: keepsAll, files: [], matching: 0, records: [] };

/** Every exchange on the wire, in sentences and in bytes: of the bench, or of a recording. */
@Component({
  selector: 'pe-trace',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CaptureForm,
    Choose,
    ExchangeView,
    MatButtonModule,
    MatMenuModule,
    ReactiveFormsModule,
    ScrollingModule,
    SearchField,
    TextField,
  ],
  templateUrl: './trace.html',
  styleUrl: './trace.scss',
  host: { '(keydown)': 'key($event)', '(dragover)': '$event.preventDefault()', '(drop)': 'drop($event)' },
})
export class TraceScreen {
  private readonly traces = inject(Traces);
  protected readonly documents = atEdge(inject(Documents), 'menus').menus;
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  protected readonly project = atEdge(inject(ProjectStore), 'document', 'points');
  protected readonly live = atEdge(inject(Live), 'running');
  private readonly list = viewChild.required(CdkVirtualScrollViewport);

  private readonly file = viewChild.required<ElementRef<HTMLInputElement>>('file');

  protected readonly row = ROW;
  protected readonly endOptions: Option<Shown>[] = [
    { value: 'all', text: 'however it ended' },
    { value: 'trouble', text: 'only trouble' },
    ...asOptions(ends, (end) => endNames[end]),
  ];
  protected readonly following = signal(true);
  /** The last number that counts while the list is held. */
  private readonly heldAt = signal<number | null>(null);
  /** The route that is looked at first, from the address: what is looked for is its name. */
  readonly route = input<string>();
  protected readonly text = linkedSignal(() => this.project.document()?.routes.find(({ id }) => id === this.route())?.name ?? '');
  /** The device that is looked at first, from the address. */
  readonly device = input<string>();
  protected readonly deviceId = linkedSignal(() => this.device() ?? '');
  protected readonly shown = signal<Shown>('all');
  protected readonly code = signal('');
  protected readonly recording = signal<Recorded | null>(null);
  protected readonly pasting = signal(false);
  protected readonly capturing = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly found = signal<FoundExchanges>(nothing);
  /** Where `found` begins among all that match. */
  protected readonly foundFrom = signal(0);
  protected readonly chosen = signal<TraceEntry | null>(null);

  private readonly asks = new Subject<unknown>();
  private readonly runsPatterns = patternsRun();
  private readonly tell = computed(() => {
    this.runsPatterns();
    return teller(this.project.document(), this.plan.plan().requests);
  });

  protected readonly devices = computed(() => {
    const document = this.project.document()!;
    const far = document.lines.filter(isFarLine).map(({ id }) => id);
    const ids = new Set([
      ...this.plan.plan().requests.map(({ deviceId }) => deviceId),
      ...document.ports.filter(({ lineId }) => far.includes(lineId)).map(({ deviceId }) => deviceId),
    ]);
    return document.devices.filter(({ id }) => ids.has(id));
  });
  protected readonly codes = computed(() =>
    [...new Set(this.plan.plan().requests.map(({ functionCode }) => functionCode))].sort((a, b) => a - b),
  );
  protected readonly deviceOptions = computed(() => named(this.devices()));
  protected readonly codeOptions = computed((): Option<string>[] => [
    { value: '', text: 'all functions' },
    ...this.codes().map((code) => ({ value: String(code), text: `function ${code}` })),
  ]);
  /** What is asked of the server. */
  protected readonly filter = computed(() =>
    filterOf(
      { text: this.text(), deviceId: this.deviceId(), code: this.code(), shown: this.shown() },
      this.plan.plan(),
      this.project.document()!,
      this.project.points(),
    ),
  );
  /** The places of all that match, each a row; what is at those that can be seen is asked for. */
  protected readonly places = computed(() => Array.from({ length: this.matching() }, (_, place) => place));
  /** Apart, so that a full trace that goes on does not make its places anew. */
  private readonly matching = computed(() => this.found().matching);
  /** What is on the list in words; what was on it before keeps them. */
  private readonly told = linkedSignal<{ records: TraceEntry[]; tell: Tell }, Line[]>({
    source: () => ({ records: this.found().records, tell: this.tell() }),
    computation: ({ records, tell }, previous) => {
      const known = new Map(previous?.source.tell === tell ? previous.value.map((line) => [keyOf(line.record), line]) : []);
      return records.map((record) => known.get(keyOf(record)) ?? lineOf(record, tell));
    },
  });
  protected readonly headline = computed(() =>
    headlineOf({
      ...{ found: this.found(), heldAt: this.heldAt(), recording: this.recording()?.name ?? null },
      ...{ isRunning: this.live.running(), isFollowing: this.following() },
    }),
  );
  protected readonly chosenTold = computed(() => {
    const record = this.chosen();
    return record ? this.tell()(record) : null;
  });
  /** The routes that the chosen exchange carries. */
  protected readonly chosenRoutes = computed(() => {
    const record = this.chosen();
    const { routes } = this.plan.plan();
    if (!record) return [];
    if (!isModbus(record)) {
      const carried = new Set(
        this.chosenTold()!
          .points()
          .map(({ point }) => point.id),
      );
      return routes.filter(({ source, destination }) => carried.has(source.id) || carried.has(destination.id));
    }
    const { requestId: id } = record;
    return id === null ? [] : routes.filter(({ readId, writeId, valid }) => [readId, writeId, valid?.writeId].includes(id));
  });

  constructor() {
    inject(Actions).offer({
      'trace.hold': () => this.hold(),
      'trace.open': () => this.file().nativeElement.click(),
      'trace.paste': () => this.pasting.update((open) => !open),
      'trace.capture': () => this.capturing.update((open) => !open),
    });
    const ticks = interval(FOLLOW_EVERY_MS).pipe(filter(() => this.following() && !this.recording() && this.live.running()));
    // One question at a time; what is asked meanwhile is asked once more when it is answered.
    const asked = merge(this.asks, ticks)
      .pipe(throttle(() => this.find(), { leading: true, trailing: true }))
      .subscribe();
    effect(() => {
      this.filter();
      this.recording();
      // Only these two ask anew; what else a question looks at does not.
      untracked(() => this.askAnew());
    });
    const destroyed = inject(DestroyRef);
    destroyed.onDestroy(() => asked.unsubscribe());
    afterNextRender(() => {
      const list = this.list();
      list
        .elementScrolled()
        .pipe(takeUntilDestroyed(destroyed))
        .subscribe(() => this.scrolled());
      list.renderedRangeStream.pipe(takeUntilDestroyed(destroyed)).subscribe(() => this.isThere() || this.askAnew());
    });
  }

  protected hold(): void {
    this.following.update((on) => !on);
    this.heldAt.set(this.following() ? null : this.found().kept.last);
    this.askAnew();
  }

  /** Whoever scrolls back wants to read, so the list is held. At its end it follows by itself, at its own pace. */
  private scrolled(): void {
    if (this.following() && !this.recording() && this.list().measureScrollOffset('bottom') > ROW) this.hold();
  }

  protected askAnew(): void {
    this.asks.next(null);
  }

  /** What is at a place; null while it is asked for. */
  protected lineAt(place: number): Line | null {
    return this.told()[place - this.foundFrom()] ?? null;
  }

  protected isChosen(place: number): boolean {
    const chosen = this.chosen();
    return chosen !== null && this.lineAt(place)?.record.number === chosen.number;
  }

  protected chooseAt(place: number): void {
    const line = this.lineAt(place);
    if (line) this.choose(line.record);
  }

  private choose(record: TraceEntry): void {
    this.chosen.set(record);
    // What is shown of it below may have taken the place in which it stood.
    requestAnimationFrame(() => this.bringIntoView(record));
  }

  protected key(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    const step = arrowStep(event);
    if (event.key === 'Escape' && this.pasting()) return this.pasting.set(false);
    if (!target.classList.contains('list')) return;
    if (event.key === ' ') {
      event.preventDefault();
      this.hold();
    } else if (step) {
      event.preventDefault();
      this.step(step);
    }
  }

  protected readonly pasteForm = new FormGroup({ bytes: textControl('') });

  protected paste(): void {
    const read = readSerialText(this.pasteForm.getRawValue().bytes);
    if (!read) return refuseIn(this.pasteForm, { message: NO_BYTES, path: ['bytes'] });
    const records = readSerial(read.bytes, read.timeAt);
    if (records.length) this.show('Pasted bytes', records);
    else this.problem.set('Pasted bytes: No frame of a serial line is in them.');
    this.pasting.set(false);
  }

  protected async openFile(file: File | undefined): Promise<void> {
    if (file) this.open(file.name, new Uint8Array(await file.arrayBuffer()));
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    void this.openFile(event.dataTransfer?.files[0]);
  }

  protected close(): void {
    this.recording.set(null);
    this.chosen.set(null);
    this.following.set(true);
    this.heldAt.set(null);
  }

  protected save({ id, extension }: DocumentChoice): void {
    this.traces.file(this.project.document()!.project.id, this.filter(), this.heldAt(), id).subscribe((answer) => {
      if (!answer.ok) return this.problem.set(`The server did not make the file. ${answer.problem.message}`);
      downloadBlob(answer.value, `trace.${extension}`);
      this.editor.say(`Saved: trace.${extension}`);
    });
  }

  /** From now on all that fits the filter goes to a file, until it is ended or the bench stops. */
  protected saveAsItComes(): void {
    this.traces.beginFile(this.project.document()!.project.id, this.filter()).subscribe((begun) => {
      this.problem.set(begun.ok ? null : begun.problem.message);
      if (!begun.ok) return;
      download(begun.value, 'capture.pcapng');
      this.askAnew();
    });
  }

  protected endFile(id: string): void {
    this.traces.endFile(this.project.document()!.project.id, id).subscribe((ended) => {
      this.problem.set(ended.ok ? null : ended.problem.message);
      this.askAnew();
    });
  }

  private open(name: string, bytes: Uint8Array): void {
    const read = readRecording(bytes);
    if (read.ok) this.show(name, read.value);
    else this.problem.set(`${name}: ${read.problem.message}`);
  }

  private show(name: string, records: TraceRecord[]): void {
    this.problem.set(null);
    this.chosen.set(records[0]!);
    this.recording.set(new Recorded(name, records));
    this.following.set(false);
    this.list().scrollToIndex(0);
  }

  private step(step: 1 | -1 | number): void {
    const records = this.found().records;
    const at = records.findIndex(({ number }) => number === this.chosen()?.number);
    const next = records[at === -1 ? (step > 0 ? 0 : records.length - 1) : at + step];
    if (!next) return;
    if (this.following() && !this.recording()) this.hold();
    this.chosen.set(next);
    this.bringIntoView(next);
  }

  private bringIntoView({ number }: TraceEntry): void {
    const list = this.list();
    list.checkViewportSize();
    const at = this.found().records.findIndex((record) => record.number === number);
    if (at < 0) return;
    const top = (this.foundFrom() + at) * ROW;
    const [from, height] = [list.measureScrollOffset('top'), list.getViewportSize()];
    if (top < from) list.scrollTo({ top });
    else if (top + ROW > from + height) list.scrollTo({ top: top + ROW - height });
  }

  /** Whether what is drawn is there already. */
  private isThere(): boolean {
    const { start, end } = this.list().getRenderedRange();
    return this.foundFrom() <= start && this.foundFrom() + this.found().records.length >= end;
  }

  private find(): Observable<unknown> {
    const { start, end } = this.list().getRenderedRange();
    const isAtEnd = this.following() && !this.recording();
    const part = {
      upTo: this.heldAt(),
      ...(isAtEnd ? { from: -AT_END, count: AT_END } : { from: start, count: Math.max(end - start, AT_END) }),
    };
    const recording = this.recording();
    const found = recording
      ? of<Answer<FoundExchanges>>({ ok: true, value: recording.find(this.filter(), part) })
      : this.traces.find(this.project.document()!.project.id, this.filter(), part);
    return found.pipe(
      tap((answer) => {
        if (answer.ok) this.takeFound(answer.value, part.from, isAtEnd);
        else this.problem.set(answer.problem.message);
      }),
    );
  }

  private takeFound(found: FoundExchanges, from: number, isAtEnd: boolean): void {
    this.found.set(found);
    this.foundFrom.set(from < 0 ? Math.max(0, found.matching + from) : from);
    // Once the list has its new height.
    if (isAtEnd) requestAnimationFrame(() => this.following() && this.list().scrollTo({ bottom: 0 }));
  }
}
