import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { type FoundSignal, hexIdentifier, learnSignals, readCanFrames, type SignalKind, sniff, type Sniffed } from '@plain-envoy/core/can';
import { knownFrame } from '@plain-envoy/core/can-line';
import type { DeviceFrame } from '@plain-envoy/core/model';

/** A longer log would hold the page up while it is read. */
const MOST_BYTES_OF_LOG = 10_000_000;
const kindNames: Record<SignalKind, string> = { counter: 'Counter', check: 'Check', number: 'Number', flag: 'Flag' };

/** What a frame that was seen likely is. */
export interface LearnedFrame {
  fields: Pick<DeviceFrame, 'name' | 'identifierBits' | 'identifier' | 'bytes' | 'when' | 'lostAfterMs'>;
  signals: (FoundSignal & { name: string })[];
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
      font-family: var(--mono);
    }
    .says {
      margin: 4px 0;
    }
  `,
})
export class FrameLog {
  /** Those that the line has already. */
  readonly known = input.required<readonly DeviceFrame[]>();
  readonly taken = output<LearnedFrame[]>();

  protected readonly log = signal<{ name: string; seen: Sniffed[] } | null>(null);
  protected readonly says = signal<readonly string[]>([]);
  protected readonly rows = computed(() =>
    (this.log()?.seen ?? []).map((seen) => {
      const { on, count, periodMs } = seen;
      const known = knownFrame(this.known(), seen);
      const often = periodMs === null ? '' : `, every ${Math.round(periodMs)} ms`;
      return {
        ...{ id: `${on}-${hexIdentifier(seen)}`, seen, isKnown: known !== undefined },
        text: `${hexIdentifier(seen)} · ${count} times${often}${known ? ` · is ${known.name}` : ''}`,
      };
    }),
  );
  /** Those that are new, at first. */
  protected readonly chosen = linkedSignal<ReadonlySet<string>>(
    () => new Set(this.rows().flatMap(({ id, isKnown }) => (isKnown ? [] : [id]))),
  );

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
