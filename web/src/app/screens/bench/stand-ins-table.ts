import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatTableModule } from '@angular/material/table';
import { type Counters, describeFault, type ProgramState, type RecordingState, type StandInState } from '@plain-envoy/core/feed';
import { exceptions } from '@plain-envoy/core/frame';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { msText } from '../../parts/format';
import { StandInCard } from './stand-in-card';

interface Row {
  standIn: StandInState;
  counters: Counters | undefined;
  /** What was done to it on purpose, and why it did not answer last. */
  said: string;
  isTrouble: boolean;
}

interface Figure {
  name: string;
  head: string;
  hint: string;
  isTrouble: boolean;
  /** Empty where there is nothing to say. */
  of(row: Row): number | string;
  more?(row: Row): string;
}

const figures: readonly Figure[] = [
  { name: 'answered', head: 'answered', hint: '', isTrouble: false, of: ({ counters }) => counters?.answered ?? '' },
  { name: 'noAnswer', head: 'no answer', hint: '', isTrouble: true, of: ({ counters }) => counters?.noAnswer || '' },
  { name: 'damaged', head: 'damaged', hint: '', isTrouble: true, of: ({ counters }) => counters?.damaged || '' },
  {
    ...{ name: 'refused', head: 'refused', hint: 'Answered with an exception', isTrouble: true },
    of: ({ counters }) => Object.values(counters?.exceptions ?? {}).reduce((sum, count) => sum + count, 0) || '',
    more: ({ counters }) =>
      Object.entries(counters?.exceptions ?? {})
        .map(([code, count]) => `${count} × exception ${code}, ${exceptions[Number(code)]?.name ?? 'unknown'}`)
        .join('; '),
  },
  {
    ...{ name: 'missed', head: 'missed', hint: 'A request was due again while it still waited or ran', isTrouble: false },
    of: ({ counters }) => counters?.missed || '',
  },
  {
    ...{ name: 'times', head: 'last · mean · worst, ms', hint: 'How long its answers take', isTrouble: false },
    of: ({ counters }) => (counters ? [counters.lastMs, counters.meanMs, counters.worstMs].map(msText).join(' · ') : ''),
  },
];

/**
 * All stand-ins, a line each: how they answer, and what was done to them on purpose. A line opens to hold values and make faults; one to
 * which something is done is open. While the bench runs on the plant itself it is the devices that are told of, and nothing can be done.
 */
@Component({
  selector: 'pe-stand-ins-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatTableModule, StandInCard],
  templateUrl: './stand-ins-table.html',
  styleUrl: './stand-ins-table.scss',
})
export class StandInsTable {
  private readonly doing = inject(StandIns);
  private readonly standIns = atEdge(this.doing, 'all', 'problem');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'onRealPlant', 'standInsPort');
  protected readonly figures = figures;
  protected readonly columns = ['name', ...figures.map(({ name }) => name), 'said', 'does'];
  protected readonly label = computed(() => (this.live.onRealPlant() ? 'Devices' : 'Stand-ins'));
  private readonly refused = signal<string | null>(null);
  protected readonly problem = computed(() => this.standIns.problem() ?? this.refused());
  private readonly counters = rowsFor(this.feed.devices, () => this.standIns.all().map(({ deviceId }) => deviceId));
  /** What a person has opened or closed; until then a line is open that has something to take back. */
  private readonly turned = signal<ReadonlyMap<string, boolean>>(new Map());

  protected readonly rows = computed(() =>
    this.standIns.all().map((standIn): Row => {
      const counters = this.counters().get(standIn.deviceId);
      const { cut, held, faults, program, recording } = standIn;
      const onPurpose = this.live.onRealPlant()
        ? []
        : [
            cut ? 'cut off' : '',
            held.length ? `${held.length} held` : '',
            ...faults.map(describeFault),
            program ? programText(program) : '',
            recording ? recordingText(recording) : '',
          ];
      const isTrouble = !!counters && counters.lastOutcome !== null && counters.lastOutcome !== 'answered';
      return { standIn, counters, isTrouble, said: [...onPurpose, isTrouble ? counters.lastError : ''].filter(Boolean).join(' · ') };
    }),
  );

  protected readonly idOf = (_: number, { standIn }: Row): string => standIn.deviceId;

  protected isOpen({ standIn: { deviceId, held, faults } }: Row): boolean {
    return !this.live.onRealPlant() && (this.turned().get(deviceId) ?? held.length + faults.length > 0);
  }

  protected turn(row: Row): void {
    const open = !this.isOpen(row);
    this.turned.update((turned) => new Map(turned).set(row.standIn.deviceId, open));
  }

  protected cut({ standIn }: Row): void {
    this.doing
      .cut(standIn.deviceId, !standIn.cut)
      .subscribe((answer) => this.refused.set(answer.ok ? null : `${standIn.name}: ${answer.problem.message}`));
  }
}

/** What is wrong with the program of a stand-in; empty where it runs. */
function programText({ problems, stopped }: ProgramState): string {
  const [first] = problems;
  if (first) return `Its program does not run: line ${first.line}: ${first.message}`;
  return stopped ? `Its program stopped in line ${stopped.line}: ${stopped.message}` : '';
}

function recordingText({ problem }: RecordingState): string {
  return problem ? `It answers nothing: ${problem}` : 'plays a recording';
}
