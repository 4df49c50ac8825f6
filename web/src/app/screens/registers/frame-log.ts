import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input, linkedSignal, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { type FoundSignal, hexIdentifier, learnSignals, readCanFrames, type SignalKind, sniff, type Sniffed } from '@plain-envoy/core/can';
import { knownFrame } from '@plain-envoy/core/can-line';
import type { CanInterfaces, CanListenEvent } from '@plain-envoy/core/feed';
import type { DeviceFrame } from '@plain-envoy/core/model';
import { auditTime, Subject, type Subscription } from 'rxjs';
import { Api, Refused } from '../../data/api';

/** A longer log would hold the page up while it is read. */
const MOST_BYTES_OF_LOG = 10_000_000;
/** How often what is heard is looked through. */
const LOOK_MS = 1000;
const kindNames: Record<SignalKind, string> = { counter: 'Counter', check: 'Check', number: 'Number', flag: 'Flag' };

/** What a frame that was seen likely is. */
export interface LearnedFrame {
  fields: Pick<DeviceFrame, 'name' | 'identifierBits' | 'identifier' | 'bytes' | 'when' | 'lostAfterMs'>;
  signals: (FoundSignal & { name: string })[];
}

/** An identifier that was seen. */
interface Row {
  id: string;
  seen: Sniffed;
  isKnown: boolean;
  text: string;
}

/** The frames that a log of CAN holds, to be chosen from: one is looked at before it is kept, several are kept at once. */
@Component({
  selector: 'pe-frame-log',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule],
  template: `
    <div class="row">
      <input #file hidden type="file" name="log-file" accept=".log,.txt,.csv" (change)="open(file.files?.[0]); file.value = ''" />
      <button mat-stroked-button type="button" name="open-log" (click)="file.click()">From a log …</button>
      @for (one of machine()?.interfaces ?? []; track one.name) {
        <button
          mat-stroked-button
          type="button"
          [name]="'listen-' + one.name"
          [disabled]="cannotListen(one.isUp)"
          (click)="listen(one.name)"
        >
          {{ listening()?.name === one.name ? 'Stop' : 'Listen at ' + one.name }}
        </button>
      }
      @if (log(); as opened) {
        <span class="quiet">{{ opened.name }}: {{ opened.seen.length }} {{ opened.seen.length === 1 ? 'identifier' : 'identifiers' }}</span>
        <span class="spread"></span>
        <button mat-stroked-button type="button" name="take-seen" [disabled]="chosen().size === 0" (click)="take()">
          {{ chosen().size > 1 ? 'Make ' + chosen().size + ' frames' : 'Make a frame of it' }}
        </button>
      }
    </div>
    @if (log()) {
      <ul class="seen" aria-label="Frames in the log">
        @for (row of rows(); track row.id) {
          <li>
            <mat-checkbox [name]="'seen-' + row.id" [checked]="chosen().has(row.id)" (change)="choose(row.id, $event.checked)">{{
              row.text
            }}</mat-checkbox>
          </li>
        }
      </ul>
    }
    @if (hears(); as text) {
      <p class="quiet says" data-name="hears">{{ text }}</p>
    }
    @for (text of says(); track $index) {
      <p class="says" role="status">{{ text }}</p>
    }
  `,
  styles: `
    .row {
      display: flex;
      align-items: center;
      gap: 12px;
      margin: 8px 0;
    }
    .spread {
      flex: 1;
    }
    .seen {
      max-height: 200px;
      margin: 0;
      padding: 0;
      overflow: auto;
      list-style: none;
      font-family: var(--pe-mono);
    }
    .says {
      margin: 4px 0;
    }
  `,
})
export class FrameLog {
  private readonly api = inject(Api);
  /** Those that the line has already. */
  readonly known = input.required<readonly DeviceFrame[]>();
  readonly taken = output<LearnedFrame[]>();

  protected readonly log = signal<{ name: string; seen: Sniffed[] } | null>(null);
  protected readonly says = signal<readonly string[]>([]);
  protected readonly rows = computed(() =>
    (this.log()?.seen ?? []).map((seen): Row => {
      const { on, count, periodMs } = seen;
      const known = knownFrame(this.known(), seen);
      const often = periodMs === null ? '' : `, every ${Math.round(periodMs)} ms`;
      return {
        ...{ id: `${on}-${hexIdentifier(seen)}`, seen, isKnown: known?.whole === null },
        text: `${hexIdentifier(seen)} · ${count} times${often}${known ? ` · ${known.whole ? 'goes through' : 'is'} ${known.name}` : ''}`,
      };
    }),
  );
  /** Those that are new, when they are seen first; then as a person has chosen, until they are kept. */
  protected readonly chosen = linkedSignal<readonly Row[], ReadonlySet<string>>({
    source: () => this.rows(),
    computation: (rows, previous) => {
      const before = new Map(previous?.source.map(({ id, isKnown }) => [id, isKnown]));
      const isChosen = ({ id, isKnown }: Row) => (before.get(id) === isKnown ? previous?.value.has(id) : !isKnown);
      return new Set(rows.flatMap((row) => (isChosen(row) ? [row.id] : [])));
    },
  });

  /** A real bus, where this machine has an interface to one. */
  protected readonly machine = signal<CanInterfaces | null>(null);
  protected readonly listening = signal<{ name: string; until: Subscription } | null>(null);
  private lines: string[] = [];
  private readonly heard = new Subject<string>();
  protected readonly hears = computed(() => {
    const machine = this.machine();
    if (!machine) return '';
    if (machine.interfaces.length === 0)
      return 'This machine has no interface of CAN (SocketCAN), so no real bus is heard here; a log of one can be opened.';
    if (machine.lacks) return `To hear a real bus, ${machine.lacks} has to be installed.`;
    const down = machine.interfaces.filter(({ isUp }) => !isUp).map(({ name }) => name);
    return down.length ? `${down.join(', ')} is down; it is heard once it has a bit rate and is brought up.` : '';
  });

  constructor() {
    this.api
      .get<CanInterfaces>('machine/can-interfaces')
      .pipe(takeUntilDestroyed())
      .subscribe((answer) => answer.ok && this.machine.set(answer.value));
    this.heard.pipe(auditTime(LOOK_MS), takeUntilDestroyed()).subscribe((name) => this.show(name, this.lines.join('\n')));
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected cannotListen(isUp: boolean): boolean {
    return !isUp || this.machine()?.lacks != null;
  }

  /** Hears what comes over a real bus until it is stopped; nothing is sent there. */
  protected listen(name: string): void {
    const isOn = this.listening()?.name === name;
    this.stop();
    if (isOn) return;
    this.lines = [];
    let bytes = 0;
    this.log.set(null);
    this.says.set([`Nothing has come over ${name} yet.`]);
    const until = this.api.stream<CanListenEvent>('machine/listen-can', { name }).subscribe({
      next: (event) => {
        if (event.kind === 'failed') this.says.set([event.sentence]);
        if (event.kind !== 'heard') return;
        this.lines.push(event.line);
        bytes += event.line.length;
        this.heard.next(name);
        if (bytes > MOST_BYTES_OF_LOG) this.stop();
      },
      error: (error: unknown) => {
        this.listening.set(null);
        this.says.set([error instanceof Refused ? error.problem.message : String(error)]);
      },
      complete: () => this.listening.set(null),
    });
    if (!until.closed) this.listening.set({ name, until });
  }

  private stop(): void {
    this.listening()?.until.unsubscribe();
    this.listening.set(null);
  }

  /** Looks what a log of frames holds; nothing is taken of it yet. */
  protected async open(file: File | undefined): Promise<void> {
    if (!file) return;
    this.says.set([]);
    this.log.set(null);
    if (file.size > MOST_BYTES_OF_LOG) return this.says.set([`${file.name} has more than ${MOST_BYTES_OF_LOG / 1_000_000} MB; cut it.`]);
    this.show(file.name, await file.text());
  }

  protected choose(id: string, isChosen: boolean): void {
    const chosen = new Set(this.chosen());
    if (isChosen) chosen.add(id);
    else chosen.delete(id);
    this.chosen.set(chosen);
  }

  protected take(): void {
    const chosen = this.rows().filter(({ id }) => this.chosen().has(id));
    if (chosen.length) this.taken.emit(chosen.map(({ seen }) => learnedOf(seen, chosen.length > 1)));
  }

  private show(name: string, text: string): void {
    const { frames, problems } = readCanFrames(text);
    const seen = sniff(frames);
    const [first] = problems;
    if (seen.length === 0)
      return this.says.set([first ? `${name}, line ${first.line}: ${first.message}` : `There is no frame in ${name}.`]);
    this.log.set({ name, seen });
    this.says.set([]);
    if (first) this.says.set([`${problems.length} of its lines are no frames; the first is line ${first.line}: ${first.message}`]);
  }
}

/** Names of several frames say of which of them each signal is. */
function learnedOf(seen: Sniffed, ofSeveral: boolean): LearnedFrame {
  const { identifierBits, identifier, periodMs, bytes, frames } = seen;
  const hex = hexIdentifier(seen);
  const when: DeviceFrame['when'] =
    periodMs === null ? { on: 'change', atLeastMs: null } : { on: 'period', periodMs: Math.max(1, Math.round(periodMs)) };
  const found = learnSignals(frames.flatMap(({ isRemote, data }) => (isRemote ? [] : [data])));
  return {
    fields: {
      ...{ name: `Frame ${hex}`, identifierBits, identifier, bytes: bytes[1], when },
      lostAfterMs: when.on === 'period' ? Math.max(10, 3 * when.periodMs) : 1000,
    },
    signals: found.map((one, index) => ({ ...one, name: `${ofSeveral ? `${hex} ` : ''}${kindNames[one.kind]} ${index + 1}` })),
  };
}
