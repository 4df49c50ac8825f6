import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { textsOn } from '@plain-envoy/core/converter';
import type { TerminalEvent } from '@plain-envoy/core/feed';
import { toHex } from '@plain-envoy/core/frame';
import type { Target } from '@plain-envoy/core/plan';
import { typedBytes, visible } from '@plain-envoy/core/telegram';
import { nameInWords, type NamedText, nameText } from '@plain-envoy/core/text-line';
import { writeTextPcapng } from '@plain-envoy/core/trace';
import { concatMap, delay, from, of, type Observable, type Subscription } from 'rxjs';
import { type Answer, Refused } from '../../data/api';
import { Live } from '../../data/live';
import { patternsRun } from '../../data/patterns-run';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { type LoggedText, readLog, TerminalLog, writeLog } from '../../data/terminal-log';
import { Terminals } from '../../data/terminals';
import { choiceAmong } from '../../parts/choice';
import { Choose, type Option } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { downloadBlob } from '../../parts/download';
import { typedNumber } from '../../parts/form';
import { clockText } from '../../parts/format';
import { forgetRefusals, problemIn, refuseIn } from '../../parts/schema-group';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';

/** So many texts that were sent can be had again with the arrow keys. */
const MOST_REMEMBERED = 50;
const SHORTEST_PAUSE_MS = 10;

/** The terminal of a text line: what goes over it in both directions, and what a person types and sends. */
@Component({
  selector: 'pe-terminal-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './terminal-view.html',
  styleUrl: './terminal-view.scss',
})
export class TerminalView {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly terminals = inject(Terminals);
  private readonly live = atEdge(inject(Live), 'now');
  private readonly log = new TerminalLog();

  protected readonly lines = computed(() =>
    this.project.document()!.lines.filter((line) => line.kind === 'serial' && line.framing === 'text'),
  );
  protected readonly lineOptions = computed((): Option<string>[] => this.lines().map(({ id, name }) => ({ value: id, text: name })));
  protected readonly lineId = choiceAmong(this.lines);
  protected readonly places: Option<Target>[] = [
    { value: 'stand-ins', text: 'the stand-ins' },
    { value: 'real', text: 'the real plant' },
  ];
  protected readonly on = signal<Target>('stand-ins');
  protected readonly ends: Option<string>[] = [
    { value: '<CR>', text: 'CR' },
    { value: '<LF>', text: 'LF' },
    { value: '<CR><LF>', text: 'CR LF' },
    { value: '<ETX>', text: 'ETX' },
    { value: '', text: 'nothing' },
  ];
  protected readonly form = new FormGroup({
    text: textControl(''),
    end: controlOf('<CR>'),
    pauseMs: textControl(200),
    echo: controlOf(true),
  });
  protected readonly problem = problemIn(() => this.form);

  protected readonly opened = signal<Subscription | null>(null);
  protected readonly state = signal('closed');
  protected readonly counts = signal({ heard: 0, sent: 0 });
  private readonly lastAtMs = signal<number | null>(null);
  private readonly texts = signal<readonly LoggedText[]>([]);
  protected readonly paused = signal<readonly LoggedText[] | null>(null);
  protected readonly going = signal<Subscription | null>(null);
  protected readonly rows = computed(() => {
    const all = this.paused() ?? this.texts();
    return (this.echo() ? all : all.filter(({ direction }) => direction === 'heard')).toReversed();
  });
  private readonly echo = signal(true);
  private readonly telegrams = computed(() => textsOn(this.project.document()!, this.lineId()));
  /** What was found in each text, kept while neither it nor the telegrams change. */
  private readonly named = computed(() => {
    const telegrams = this.telegrams();
    this.runsPatterns();
    const known = new WeakMap<LoggedText, NamedText>();
    return (text: LoggedText): NamedText => {
      const named = known.get(text) ?? nameText(telegrams, Uint8Array.from(text.bytes));
      known.set(text, named);
      return named;
    };
  });
  private readonly runsPatterns = patternsRun();
  protected readonly told = computed(() => {
    if (!this.opened()) return this.state();
    const { heard, sent } = this.counts();
    const last = this.lastAtMs();
    const silentS = last === null ? null : Math.max(0, Math.round((this.live.now() - last) / 1000));
    const silent = silentS === null ? 'nothing came yet' : silentS > 1 ? `silent for ${silentS} s` : 'receiving';
    return `${this.state()} · ${heard} bytes heard, ${sent} sent · ${silent}`;
  });

  protected readonly textOf = ({ bytes }: LoggedText): string => visible(String.fromCharCode(...bytes));
  protected readonly idOf = ({ id }: LoggedText): string => String(id);
  protected readonly columns: readonly Column<LoggedText>[] = [
    { name: 'at', head: 'Time', text: ({ atMs }) => clockText(atMs), kind: 'mono' },
    {
      name: 'direction',
      head: '',
      text: ({ direction, by }) => (direction === 'heard' ? 'heard' : by ? `sent by ${by}` : 'sent'),
      classOf: ({ direction }) => (direction === 'sent' ? 'sent' : ''),
    },
    { name: 'text', head: 'Text', kind: 'mono' },
    { name: 'telegram', head: 'Telegram', text: (text) => (this.telegrams().length ? nameInWords(this.named()(text)) : '') },
    {
      name: 'hex',
      head: 'Bytes',
      text: ({ bytes }) => toHex(bytes),
      kind: 'mono',
      classOf: () => 'quiet',
    },
  ];

  private readonly remembered: string[] = [];
  private rememberedAt = 0;

  constructor() {
    const gone = inject(DestroyRef);
    gone.onDestroy(() => this.close());
    this.form.controls.echo.valueChanges.pipe(takeUntilDestroyed()).subscribe((echo) => this.echo.set(echo));
    // Another line, or the same elsewhere, is not open yet.
    effect(() => {
      this.lineId();
      this.on();
      untracked(() => {
        this.close();
        this.clear();
      });
    });
  }

  protected open(): void {
    forgetRefusals(this.form);
    this.state.set('being opened …');
    this.opened.set(
      this.terminals.open(this.lineId(), this.on()).subscribe({
        next: (event) => this.take(event),
        error: (error: unknown) => {
          this.close();
          if (error instanceof Refused) refuseIn(this.form, { message: error.problem.message, path: [] });
        },
        complete: () => this.close(),
      }),
    );
  }

  protected close(): void {
    this.going()?.unsubscribe();
    this.going.set(null);
    this.opened()?.unsubscribe();
    this.opened.set(null);
    this.state.set('closed');
  }

  protected clear(): void {
    this.log.clear();
    this.texts.set([]);
    this.paused.set(null);
    this.counts.set({ heard: 0, sent: 0 });
    this.lastAtMs.set(null);
  }

  protected send(): void {
    const { text, end } = this.form.getRawValue();
    forgetRefusals(this.form);
    const bytes = typedBytes(text + end);
    if (!bytes.ok) return refuseIn(this.form, { message: bytes.problem.message, path: ['text'] });
    if (bytes.value.length === 0) return refuseIn(this.form, { message: 'There is nothing to send.', path: ['text'] });
    if (text !== '' && this.remembered.at(-1) !== text) this.remembered.push(text);
    this.remembered.splice(0, this.remembered.length - MOST_REMEMBERED);
    this.rememberedAt = this.remembered.length;
    this.sent(bytes.value).subscribe((answer) => {
      if (answer.ok) this.form.controls.text.setValue('');
      else refuseIn(this.form, { message: answer.problem.message, path: [] });
    });
  }

  /** What was sent before, and after that. */
  protected remember(step: number, event: Event): void {
    const at = Math.min(this.remembered.length, Math.max(0, this.rememberedAt + step));
    if (at === this.rememberedAt) return;
    event.preventDefault();
    this.rememberedAt = at;
    this.form.controls.text.setValue(this.remembered[at] ?? '');
  }

  protected pause(): void {
    this.paused.update((paused) => (paused ? null : this.texts()));
  }

  protected save(): void {
    downloadBlob(new Blob([writeLog(this.texts())], { type: 'text/plain' }), 'terminal.txt');
  }

  /** For a packet analyser, with what each text is beside it. */
  protected capture(): void {
    const packets = this.texts().map((text) => ({ ...text, bytes: Uint8Array.from(text.bytes), comment: nameInWords(this.named()(text)) }));
    downloadBlob(new Blob([Uint8Array.from(writeTextPcapng(packets))], { type: 'application/x-pcapng' }), 'terminal.pcapng');
  }

  /** Line by line, each with the end mark that is chosen and a pause after it. */
  protected sendFile(file: File | undefined): void {
    const pauseMs = typedNumber(this.form.getRawValue().pauseMs);
    forgetRefusals(this.form);
    if (!(pauseMs >= SHORTEST_PAUSE_MS && pauseMs <= 60_000))
      return refuseIn(this.form, { message: 'From 10 ms to a minute.', path: ['pauseMs'] });
    void file?.text().then((text) => {
      const lines = text.split(/\r?\n/).filter((line) => line !== '');
      const typed = lines.map((line) => typedBytes(line + this.form.getRawValue().end));
      const wrong = typed.findIndex((each) => !each.ok);
      const first = typed[wrong];
      if (first && !first.ok) return refuseIn(this.form, { message: `Line ${wrong + 1}: ${first.problem.message}`, path: [] });
      this.goThrough(typed.flatMap((each) => (each.ok ? [{ bytes: each.value, afterMs: pauseMs }] : [])));
    });
  }

  /** Sends what a saved terminal has sent, or where it sent nothing what it heard, in its time. */
  protected playAgain(file: File | undefined): void {
    forgetRefusals(this.form);
    void file?.text().then((text) => {
      const read = readLog(text);
      if (!read.ok) return refuseIn(this.form, { message: read.problem.message, path: [] });
      const sent = read.value.filter(({ direction }) => direction === 'sent');
      const all = sent.length ? sent : read.value;
      this.goThrough(
        all.map(({ atMs, bytes }, index) => ({ bytes: Uint8Array.from(bytes), afterMs: atMs - (all[index - 1]?.atMs ?? atMs) })),
      );
    });
  }

  protected stop(): void {
    this.going()?.unsubscribe();
    this.going.set(null);
  }

  /** A telegram stands in a box, and one that is damaged in a box of its own colour. */
  protected boxOf(text: LoggedText): string {
    const { found } = this.named()(text);
    if (found.length === 0) return '';
    return found.every(({ parsed }) => parsed.ok) ? 'boxed' : 'boxed damaged';
  }

  private goThrough(all: readonly { bytes: Uint8Array; afterMs: number }[]): void {
    this.stop();
    this.going.set(
      from(all)
        .pipe(
          concatMap(({ bytes, afterMs }) =>
            of(bytes).pipe(
              delay(afterMs),
              concatMap((each) => this.sent(each)),
            ),
          ),
        )
        .subscribe({
          next: (answer) => {
            if (answer.ok) return;
            this.stop();
            refuseIn(this.form, { message: answer.problem.message, path: [] });
          },
          complete: () => this.going.set(null),
        }),
    );
  }

  private sent(bytes: Uint8Array): Observable<Answer<unknown>> {
    return this.terminals.send(this.lineId(), this.on(), bytes);
  }

  private take(event: TerminalEvent): void {
    if (event.kind === 'open') return this.state.set(`open, ${event.settings}`);
    if (event.kind === 'failed') {
      this.close();
      return refuseIn(this.form, { message: event.sentence, path: [] });
    }
    this.log.take(event);
    this.texts.set(this.log.texts);
    const { heard, sent } = this.counts();
    const more = event.hex.length / 2;
    this.counts.set(event.kind === 'heard' ? { heard: heard + more, sent } : { heard, sent: sent + more });
    if (event.kind === 'heard') this.lastAtMs.set(event.atMs);
  }
}
