import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { converterOf, farLineOf, listenerOf } from '@plain-envoy/core/converter';
import { diagnoseText, pointsOfTelegram, portInWords, type ReadSample, readSamples, type ToldText } from '@plain-envoy/core/text-line';
import { type Change, deletion, DeviceTelegram } from '@plain-envoy/core/model';
import { messageOf } from '@plain-envoy/core/place';
import '@plain-envoy/core/re2';
import { Telegram, typedBytes } from '@plain-envoy/core/telegram';
import { fieldKinds, proposeTelegram } from '@plain-envoy/core/telegram-text';
import { timer } from 'rxjs';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { HeardTexts } from '../../data/heard-texts';
import { atEdge } from '../../data/state';
import { choiceAmong } from '../../parts/choice';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { focusViewOnOpen } from '../../parts/focus';
import { clockText } from '../../parts/format';
import { named } from '../../parts/named';
import { forgetRefusals, issuesValidator, problemIn, readGroup, refuseIn, valueIn } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { MapState } from './map-state';
import { bareSample, fieldGroup, fieldOfMark, issueAt, shapeOf, telegramGroup, telegramOfTyped, type TypedTelegram } from './telegram-form';

const LOOK_MS = 1000;
const NEW = 'new';

/** What a device on a text line sends and takes: how each text ends and where its fields are, beside lines that really came. */
@Component({
  selector: 'pe-telegrams-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './telegrams-view.html',
  styleUrls: ['./wide-view.scss', './telegrams-view.scss'],
  host: { '(keydown.alt.f)': 'mark(); $event.preventDefault()' },
})
export class TelegramsView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly heardTexts = inject(HeardTexts);
  private readonly by = atEdge(this.heardTexts, 'byListener');
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  private readonly samplesBox = viewChild<unknown, ElementRef<HTMLElement>>('samplesBox', { read: ElementRef });
  readonly closed = output();
  /** The one to begin with; the first where nothing is said. */
  readonly wanted = input<string>();

  private readonly own = computed(() => this.project.document()!.telegrams.filter(({ deviceId }) => deviceId === this.state.deviceId()));
  /** Those that there are, and one that is being made. */
  private readonly choices = computed(() => [...this.own(), ...(this.making() ? [{ id: NEW, name: 'A new one' }] : [])]);
  private readonly making = linkedSignal<string, boolean>({
    source: () => this.state.deviceId(),
    computation: () => this.own().length === 0,
  });
  protected readonly chosen = choiceAmong(this.choices);
  protected readonly options = computed(() => named(this.choices()));
  private readonly fresh = linkedSignal<string, DeviceTelegram>({ source: () => this.state.deviceId(), computation: () => this.blank() });
  private readonly telegram = computed(() => this.own().find(({ id }) => id === this.chosen()) ?? this.fresh(), {
    equal: (a, b) => JSON.stringify(a) === JSON.stringify(b),
  });

  protected readonly form = computed(() => {
    const form = telegramGroup(this.telegram());
    form.addValidators(
      issuesValidator((typed: TypedTelegram) => (DeviceTelegram.safeParse(this.valueOf(typed)).error?.issues ?? []).map(issueAt)),
    );
    return form;
  });
  private readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  protected readonly says = signal<readonly string[]>([]);
  protected readonly makesPoints = linkedSignal<string, boolean>({ source: () => this.chosen(), computation: () => true });

  protected readonly directions: Option<DeviceTelegram['direction']>[] = [
    { value: 'sent', text: 'sends it' },
    { value: 'taken', text: 'takes it' },
  ];
  protected readonly endings: Option<string>[] = [
    { value: 'end', text: 'a mark' },
    { value: 'length', text: 'its length' },
    { value: 'lengthField', text: 'a length that it says' },
    { value: 'silence', text: 'a silence' },
  ];
  protected readonly encodings = asOptions(['ascii', 'latin1', 'utf-8']);
  protected readonly written = asOptions(['hex', 'decimal', 'raw']);
  protected readonly kinds: Option<string>[] = fieldKinds.map(({ id, label }) => ({ value: id, text: label }));
  protected readonly bys: Option<string>[] = [
    { value: 'position', text: 'position' },
    { value: 'separator', text: 'separator' },
    { value: 'pattern', text: 'pattern' },
  ];
  protected readonly pads: Option<string>[] = [
    { value: '', text: 'as usual' },
    { value: 'left', text: 'on the left' },
    { value: 'right', text: 'on the right' },
  ];
  protected readonly sums = asOptions(['xor8', 'sum8', 'lrc', 'crc16-modbus']);
  protected readonly whens = computed((): Option<string>[] => [
    { value: 'period', text: 'again and again' },
    { value: 'change', text: 'on a change' },
    ...(this.typed().direction === 'sent' ? [{ value: 'request', text: 'in answer' }] : []),
  ]);
  protected readonly taken = computed(() => named(this.own().filter(({ direction }) => direction === 'taken')));
  protected readonly isAsked = computed(() => this.typed().direction === 'taken');

  /** The samples as what is typed reads them; none where that is no telegram yet. */
  protected readonly samples = computed((): ReadSample[] => {
    const shape = Telegram.safeParse(shapeOf(this.typed()));
    return shape.success ? readSamples({ telegram: shape.data, samples: this.typed().samples }) : [];
  });
  protected readonly sampleId = (sample: ReadSample): string => String(this.samples().indexOf(sample));
  protected readonly sampleColumns = computed((): readonly Column<ReadSample>[] => [
    { name: 'text', head: 'Line', kind: 'mono', text: ({ text }) => text },
    ...this.typed().fields.map((field, index): Column<ReadSample> => ({
      ...{ name: `field-${index}`, head: field.name, kind: 'mono' },
      text: ({ fields }) => String(fields.find(({ name }) => name === field.name)?.value ?? ''),
    })),
    { name: 'problem', head: 'What is wrong', kind: 'what', text: ({ problem }) => problem, classOf: ({ ok }) => (ok ? '' : 'bad') },
  ]);
  protected readonly fits = computed(() => {
    const all = this.samples();
    const good = all.filter(({ ok }) => ok).length;
    return all.length === 0 ? 'No samples yet.' : `${good} of ${all.length} ${all.length === 1 ? 'sample matches' : 'samples match'}.`;
  });

  private readonly line = computed(() => farLineOf(this.project.document()!, this.state.deviceId()));
  protected readonly before = computed(() => converterOf(this.project.document()!, this.state.deviceId()));
  protected readonly where = computed(() => {
    const [line, before] = [this.line(), this.before()];
    if (!line)
      return 'This device is on no text line, so it has no telegrams. A serial line carries text when its framing is set so, in Lines.';
    return before
      ? `${before.converter.name} has it on ${line.name} and shows its values in registers.`
      : `No converter is on ${line.name}: Plain Envoy listens there itself while a route wants its values.`;
  });
  /** What the text port of the converter has heard of it, or Plain Envoy itself. */
  protected readonly port = computed(() => {
    const listener = listenerOf(this.project.document()!, this.state.deviceId());
    return listener ? (this.by.byListener().get(listener.id) ?? null) : null;
  });
  /** What is likely wrong with what comes. */
  protected readonly likely = computed(() => {
    const port = this.port();
    const [first] = port ? diagnoseText(this.project.document()!, this.state.deviceId(), port) : [];
    return first ? `${first.message} ${first.mend}` : null;
  });
  protected readonly heard = computed(() => [...(this.port()?.texts ?? [])].reverse().slice(0, 20));
  protected readonly counters = computed(() => {
    const port = this.port();
    if (!port) return this.before() ? 'Its converter has no stand-in that hears it.' : 'Nothing is heard while the bench does not run.';
    const own = port.telegrams.find(({ id }) => id === this.chosen());
    const parts = [
      ...(own ? [`${own.count} ${own.way === 'heard' ? 'sound' : 'sent'}`, `${own.damaged} damaged`] : []),
      ...(own?.skipped ? [`${own.skipped} left out`] : []),
      ...(own?.unanswered ? [`${own.unanswered} without an answer`] : []),
      ...(port.unknown ? [`${port.unknown} that are none`] : []),
      ...(port.framingErrors ? [`${port.framingErrors} framing errors`] : []),
      ...(port.parityErrors ? [`${port.parityErrors} parity errors`] : []),
      portInWords(port),
      ...(own?.problem ? [`cannot be sent: ${own.problem}`] : []),
    ];
    return `${parts.join(' · ')}.`;
  });
  protected readonly heardId = (text: ToldText): string => `${text.atMs} ${text.text}`;
  protected readonly heardColumns: readonly Column<ToldText>[] = [
    { name: 'at', head: 'Time', kind: 'mono', text: ({ atMs }) => clockText(atMs) },
    {
      ...{ name: 'what', head: 'What it is' },
      text: ({ telegramId }) => this.project.document()!.telegrams.find(({ id }) => id === telegramId)?.name ?? 'none',
    },
    { name: 'text', head: 'Text', kind: 'mono', text: ({ text }) => text },
    {
      ...{ name: 'fields', head: 'What it says', kind: 'what' },
      text: ({ fields, problems }) => problems[0] ?? fields.map(({ name, value }) => `${name} ${String(value)}`).join(', '),
      classOf: ({ problems }) => (problems.length ? 'bad' : ''),
    },
  ];

  constructor() {
    this.unsaved.watch(() => 'the telegram', this.form);
    focusViewOnOpen();
    effect(() => {
      const wanted = this.wanted();
      if (wanted) untracked(() => this.chosen.set(wanted));
    });
    timer(LOOK_MS, LOOK_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.heardTexts.refresh());
    effect(() => {
      this.chosen();
      untracked(() => this.says.set([]));
    });
  }

  protected choose(id: string): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.chosen.set(id));
  }

  protected add(): void {
    this.unsaved.mayLeave().subscribe((may) => {
      if (!may) return;
      this.fresh.set(this.blank());
      this.making.set(true);
      this.chosen.set(NEW);
    });
  }

  /** What the samples suggest takes the place of what was typed of endings and fields. */
  protected propose(): void {
    const { samples } = this.typed();
    forgetRefusals(this.form());
    const lines = samples.split('\n').filter(Boolean).map(typedBytes);
    const bytes = lines.flatMap((line) =>
      line.ok ? [...line.value, ...((line.value.at(-1) ?? 32) >= 32 && this.lacksEnds(samples) ? [13] : [])] : [],
    );
    const proposed = proposeTelegram(Uint8Array.from(bytes));
    if (!proposed.ok) return refuseIn(this.form(), { message: proposed.problem.message, path: ['samples'] });
    const { telegram, says, texts, fits } = proposed.value;
    const { fields, ...shape } = telegramGroup({ ...this.telegram(), telegram }).controls;
    const form = this.form();
    for (const key of [
      'ending',
      'end',
      'length',
      'start',
      'encoding',
      'lengthFrom',
      'lengthLength',
      'lengthWritten',
      'lengthAdds',
    ] as const)
      form.controls[key].setValue(shape[key].value as never);
    form.controls.fields.clear();
    for (const field of fields.controls) form.controls.fields.push(field);
    form.markAsDirty();
    this.says.set([...says, `${fits} of ${texts} texts match.`]);
  }

  /** A field for what is marked in the samples, with mouse or keyboard. */
  protected mark(): void {
    const box = this.samplesBox()?.nativeElement.querySelector('textarea');
    if (!box || box.selectionEnd <= box.selectionStart) {
      return refuseIn(this.form(), {
        message: 'Mark some characters of one line first, with the mouse or with Shift and the arrow keys.',
        path: ['samples'],
      });
    }
    forgetRefusals(this.form());
    const begin = box.value.lastIndexOf('\n', box.selectionStart - 1) + 1;
    const [line = ''] = box.value.slice(begin).split('\n');
    const { text, skipped } = bareSample(line, { start: Telegram.safeParse(shapeOf(this.typed())).data?.start });
    const at = (place: number) => {
      const bytes = typedBytes(line.slice(0, place - begin));
      return (bytes.ok ? bytes.value.length : 0) - skipped;
    };
    const fields = this.form().controls.fields;
    const [from, to] = [Math.max(0, at(box.selectionStart)), Math.min(text.length, at(box.selectionEnd))];
    // The one that a blank telegram begins with says nothing yet.
    if (fields.length === 1 && fields.at(0).controls.name.value === '') fields.clear();
    fields.push(fieldGroup(fieldOfMark(text, from, to, `field ${fields.length + 1}`)));
    this.form().markAsDirty();
  }

  protected addField(): void {
    this.form().controls.fields.push(fieldGroup({ name: '', kind: 'text', at: { from: 0, length: 1 } }));
    this.form().markAsDirty();
  }

  protected removeField(index: number): void {
    this.form().controls.fields.removeAt(index);
    this.form().markAsDirty();
  }

  /** What came since the bench runs, among the samples. */
  protected takeHeard(): void {
    const texts = new Set(this.heard().map(({ text }) => text));
    const lines = [...texts].filter(Boolean).slice(0, 10).reverse();
    this.form().controls.samples.setValue(lines.join('\n'));
    this.form().markAsDirty();
  }

  protected save(): void {
    const telegram = readGroup(this.form(), { schema: DeviceTelegram, from: (typed: TypedTelegram) => this.valueOf(typed) });
    if (!telegram) return;
    const before = this.own().find(({ id }) => id === telegram.id) ?? null;
    const changes: Change[] = [{ entity: 'telegram', id: telegram.id, before, after: telegram }];
    const points = this.makesPoints() ? pointsOfTelegram(this.project.document()!, telegram, newId) : null;
    if (points && !points.ok) return refuseIn(this.form(), { message: points.problem.message, path: [] });
    for (const point of points?.value ?? []) changes.push({ entity: 'point', id: point.id, before: null, after: point });
    const made = changes.length - 1;
    this.store.commit(`${telegram.name} of ${this.state.device()?.name ?? ''}`, changes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.form().markAsPristine();
      this.making.set(false);
      this.chosen.set(telegram.id);
      this.editor.say(
        `${telegram.name} is kept${made ? `, with ${made} point${made === 1 ? '' : 's'} of its fields` : ''}. Undo with Ctrl+Z.`,
      );
    });
  }

  protected remove(): void {
    const document = this.project.document()!;
    const telegram = this.own().find(({ id }) => id === this.chosen());
    if (!telegram) return;
    const inside = document.points.flatMap(({ id, place }) => (messageOf(place) === telegram.id ? [id] : []));
    const changes = deletion(document, 'point', ...inside);
    const gone = changes.length;
    const all: Change[] = [...changes, { entity: 'telegram', id: telegram.id, before: telegram, after: null }];
    this.store.commit(`Delete ${telegram.name}`, all).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.editor.say(`Deleted: ${telegram.name}${gone ? `, with ${gone} points and routes of it` : ''}. Ctrl+Z brings it back.`);
    });
  }

  protected leave(): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.closed.emit());
  }

  protected readonly isNew = computed(() => this.chosen() === NEW);

  /** Lines that were typed without what ends them: each is a text of its own. */
  private lacksEnds(samples: string): boolean {
    return (
      !/<[A-Za-z0-9]{2,3}>\s*$/m.test(samples) &&
      new Set(
        samples
          .split('\n')
          .filter(Boolean)
          .map((line) => line.length),
      ).size > 1
    );
  }

  private valueOf(typed: TypedTelegram): unknown {
    return telegramOfTyped(typed, this.telegram());
  }

  private blank(): DeviceTelegram {
    const device = untracked(() => this.state.device());
    return {
      ...{ id: newId(), projectId: device?.projectId ?? '', deviceId: device?.id ?? '', name: '', note: '' },
      direction: 'sent',
      telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: '', kind: 'text', at: { from: 0, length: 1 } }] },
      when: { on: 'period', periodMs: 1000 },
      ...{ lostAfterMs: 5000, timeoutMs: 1000, tries: 2, samples: '' },
    };
  }
}
