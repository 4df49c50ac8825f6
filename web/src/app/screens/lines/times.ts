import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { lineTime, silentTimeMs } from '@plain-envoy/core/line';
import { type ModbusLine } from '@plain-envoy/core/media';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

const READS = [
  { name: 'A read of 10 registers', count: 10 },
  { name: 'A read of 125 registers', count: 125 },
];

interface Read {
  name: string;
  request: string;
  response: string;
  total: string;
  perSecond: string;
}

/** What a serial line's settings cost in time; for lines that carry Modbus. */
@Component({
  selector: 'pe-line-times',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Table],
  template: `<dl>
      @for (fact of facts(); track fact.name) {
        <dt>{{ fact.name }}</dt>
        <dd class="mono">{{ fact.text }}</dd>
      }
    </dl>
    <pe-table label="What transactions take" [columns]="columns" [rows]="reads()" [idOf]="idOf" />
    <p class="quiet">
      With {{ delayMs }} ms for the device to think. A device that stays silent holds the line for {{ silent() }} each time, at a timeout of
      {{ timeoutMs }} ms. The reckoner line-time (R) takes other figures.
    </p>`,
  styles: `
    dl {
      display: grid;
      grid-template-columns: max-content 1fr;
      gap: 2px 18px;
      margin: 4px 0 12px;
    }
    dt {
      color: var(--mat-sys-on-surface-variant);
    }
    dd {
      margin: 0;
    }
  `,
})
export class LineTimes {
  readonly line = input.required<ModbusLine>();
  protected readonly delayMs = 5;
  protected readonly timeoutMs = 1000;

  protected readonly idOf = ({ name }: Read): string => name;
  protected readonly columns: readonly Column<Read>[] = [
    { name: 'name', head: 'Transaction', text: ({ name }) => name },
    { name: 'request', head: 'Request', text: ({ request }) => request, kind: 'mono' },
    { name: 'response', head: 'Answer', text: ({ response }) => response, kind: 'mono' },
    { name: 'total', head: 'In all', text: ({ total }) => total, kind: 'mono' },
    { name: 'perSecond', head: 'A second', text: ({ perSecond }) => perSecond, kind: 'mono' },
  ];
  private readonly times = computed(() =>
    READS.map(({ name, count }) => ({
      name,
      time: lineTime({ settings: this.line(), framing: this.line().framing, functionCode: 3, count, responseDelayMs: this.delayMs }),
    })),
  );
  protected readonly facts = computed(() => {
    const { characterBits, characterMs, t15Ms, t35Ms } = this.times()[0]!.time;
    return [
      { name: 'Character', text: `${characterBits} bits, ${ms(characterMs)}` },
      { name: 'Longest pause inside a frame (t1.5)', text: ms(t15Ms) },
      { name: 'Silence between frames (t3.5)', text: ms(t35Ms) },
    ];
  });
  protected readonly reads = computed((): Read[] =>
    this.times().map(({ name, time }) => ({
      name,
      request: `${time.requestBytes} bytes, ${ms(time.requestMs)}`,
      response: `${time.responseBytes} bytes, ${ms(time.responseMs)}`,
      total: ms(time.totalMs),
      perSecond: time.perSecond.toFixed(1),
    })),
  );
  protected readonly silent = computed(() => ms(silentTimeMs(this.line(), this.line().framing, this.timeoutMs)));
}

function ms(value: number): string {
  return `${value < 10 ? value.toFixed(2) : value.toFixed(1)} ms`;
}
