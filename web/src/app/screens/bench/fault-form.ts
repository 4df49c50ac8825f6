import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { type FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { isTextLine } from '@plain-envoy/core/converter';
import { blankFaults, describeFault, Fault, type FaultKind, faultsWhere, type Speech, type StandInState } from '@plain-envoy/core/feed';
import { isModbusLine } from '@plain-envoy/core/media';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { asOptions, Choose } from '../../parts/choose';
import { problemIn, readGroup, schemaValidator, settle } from '../../parts/schema-group';
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
  'takes nothing': 'takes no text',
  'link cut': 'link is cut again and again',
  'confirms lost': 'loses confirmations',
  'number skipped': 'skips numbers',
  'clock off': 'clock is wrong',
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
  everyS: 'every, s',
  minutes: 'min ahead',
};
const tables = ['coil', 'discrete', 'input', 'holding'] as const;
const REBOOT_MS = 3000;

/** Makes one stand-in do things wrong, each for as long as a person wants it. */
@Component({
  selector: 'pe-fault-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, TextField],
  templateUrl: './fault-form.html',
  styles: `
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      align-items: end;
    }
    strong {
      width: 100%;
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

  private readonly project = atEdge(inject(ProjectStore), 'document');
  /** Those that its ports can have. */
  protected readonly names = computed(() => {
    const { ports = [], lines = [] } = this.project.document() ?? {};
    const own = ports.filter(({ deviceId }) => deviceId === this.standIn().deviceId);
    const speaks = own.flatMap(({ lineId }): Speech[] => {
      const line = lines.find(({ id }) => id === lineId);
      if (!line) return [];
      return [isTextLine(line) ? 'text' : isModbusLine(line) || line.kind === 'ethernet' ? 'modbus' : (line.kind as Speech)];
    });
    return asOptions(faultsWhere(speaks.length ? speaks : ['modbus']), (kind) => names[kind]);
  });
  protected readonly labels = fields;
  protected readonly tables = asOptions<string>(tables);
  protected readonly kind = signal<FaultKind>('silent');
  protected readonly active = computed(() => this.standIn().faults.map((fault) => ({ fault, text: describeFault(fault) })));
  /** The fields of the kind, in their order. */
  protected readonly shown = computed(() => Object.keys(fields).filter((field) => field in blankFaults[this.kind()]));
  private readonly check = {
    schema: Fault,
    from: (typed: Record<string, string>) => {
      const values = Object.entries(typed).map(([field, text]) => [field, field === 'table' ? text : typedNumber(text)] as const);
      return { kind: this.kind(), ...Object.fromEntries(values) };
    },
  };
  /** Begun anew for each kind, as it usually is. */
  protected readonly form = computed(() => {
    const blank: Record<string, unknown> = blankFaults[this.kind()];
    const controls = this.shown().map((field) => [field, textControl(String(blank[field]))] as const);
    return new FormGroup<Record<string, FormControl<string>>>(Object.fromEntries(controls), schemaValidator(this.check));
  });
  protected readonly problem = problemIn(this.form);

  protected begin(): void {
    const fault = readGroup(this.form(), this.check);
    if (fault) this.set([...this.standIn().faults.filter(({ kind }) => kind !== fault.kind), fault]);
  }

  protected end(fault: Fault): void {
    this.set(this.standIn().faults.filter(({ kind }) => kind !== fault.kind));
  }

  protected reboot(): void {
    this.standIns.reboot(this.standIn().deviceId, REBOOT_MS).subscribe((answer) => settle(this.form(), answer));
  }

  private set(faults: readonly Fault[]): void {
    this.standIns.setFaults(this.standIn().deviceId, faults).subscribe((answer) => settle(this.form(), answer));
  }
}
