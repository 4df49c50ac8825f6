import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { blankFaults, describeFault, Fault, type FaultKind, type StandInState } from '@plain-envoy/core/feed';
import { StandIns } from '../../data/stand-ins';
import { typedNumber } from '../../parts/form';
import { asOptions, Choose } from '../../parts/choose';
import { TextField } from '../../parts/text-field';

const names: Readonly<Record<FaultKind, string>> = {
  silent: 'stays silent',
  slow: 'answers slowly',
  lost: 'loses answers',
  damaged: 'damages answers',
  'wrong unit': 'answers as another unit',
  late: 'answers too late',
  'cut short': 'stops in mid-answer',
  twice: 'two answer at once',
  exception: 'refuses a span',
  frozen: 'is frozen',
  'half-open': 'connections die silently',
  'one at a time': 'takes one question at a time',
};

/** What the fields of faults are called, in the order in which they stand. */
const fields: Readonly<Record<string, string>> = {
  ms: 'ms',
  spreadMs: '± ms',
  percent: '%',
  code: 'exception',
  table: 'table',
  first: 'first offset',
  last: 'last offset',
};
const tables = ['coil', 'discrete', 'input', 'holding'] as const;
const REBOOT_MS = 3000;

/** Makes one stand-in do things wrong, each for as long as a person wants it. */
@Component({
  selector: 'pe-fault-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, TextField],
  templateUrl: './fault-form.html',
  styles: `
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      align-items: end;
      margin-top: 6px;
    }
    pe-choose {
      width: 150px;
    }
    .wide {
      width: 200px;
    }
    .short {
      width: 96px;
    }
    ul {
      margin: 4px 0 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      align-items: center;
      justify-content: space-between;
      color: var(--pe-bad);
      font-weight: 600;
    }
  `,
})
export class FaultForm {
  private readonly standIns = inject(StandIns);
  readonly standIn = input.required<StandInState>();
  readonly isOpen = input.required<boolean>();

  protected readonly names = asOptions(Object.keys(names) as FaultKind[], (kind) => names[kind]);
  protected readonly labels = fields;
  protected readonly tables = asOptions<string>(tables);
  protected readonly kind = signal<FaultKind>('silent');
  /** What was typed, over what the kind begins with. */
  protected readonly typed = signal<Readonly<Record<string, string>>>({});
  protected readonly problem = signal<string | null>(null);
  protected readonly active = computed(() => this.standIn().faults.map((fault) => ({ fault, text: describeFault(fault) })));
  protected readonly shown = computed(() => {
    const blank: Record<string, unknown> = blankFaults[this.kind()];
    return Object.keys(fields).flatMap((field) => (field in blank ? [{ field, value: this.typed()[field] ?? String(blank[field]) }] : []));
  });

  protected choose(kind: FaultKind): void {
    this.kind.set(kind);
    this.typed.set({});
    this.problem.set(null);
  }

  protected type(field: string, text: string): void {
    this.typed.update((typed) => ({ ...typed, [field]: text }));
  }

  protected begin(): void {
    const values = this.shown().map(({ field, value }) => [field, field === 'table' ? value : typedNumber(value)] as const);
    const parsed = Fault.safeParse({ kind: this.kind(), ...Object.fromEntries(values) });
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      return this.problem.set(`${fields[String(issue?.path[0])] ?? ''}: ${issue?.message ?? ''}`);
    }
    this.set([...this.standIn().faults.filter(({ kind }) => kind !== parsed.data.kind), parsed.data]);
  }

  protected end(fault: Fault): void {
    this.set(this.standIn().faults.filter(({ kind }) => kind !== fault.kind));
  }

  protected reboot(): void {
    this.standIns
      .reboot(this.standIn().deviceId, REBOOT_MS)
      .subscribe((answer) => this.problem.set(answer.ok ? null : answer.problem.message));
  }

  private set(faults: readonly Fault[]): void {
    this.standIns
      .setFaults(this.standIn().deviceId, faults)
      .subscribe((answer) => this.problem.set(answer.ok ? null : answer.problem.message));
  }
}
