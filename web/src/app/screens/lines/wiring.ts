import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
  afterNextRender,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { SerialBus } from '@plain-envoy/core/findings';
import { formatSettings, standards } from '@plain-envoy/core/line';
import { BOX, layoutWiring } from '@plain-envoy/core/wiring';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

type Member = SerialBus['members'][number];

const references = { direct: 'direct', resistance: 'through 100 Ω', none: 'not joined' } as const;

/** A serial line's wiring, drawn from the data, and the sheet by which it is wired. */
@Component({
  selector: 'pe-wiring',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, Table],
  templateUrl: './wiring.html',
  styleUrl: './wiring.scss',
})
export class Wiring {
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  readonly bus = input.required<SerialBus>();
  readonly chosen = input<string>();
  readonly choose = output<string>();
  private readonly drawing = viewChild.required<ElementRef<HTMLElement>>('drawing');

  protected readonly box = BOX;
  private readonly room = signal(900);
  protected readonly layout = computed(() => layoutWiring(this.bus(), this.room() - 8));
  protected readonly rows = computed(() => [...this.bus().members].sort((a, b) => a.port.atM - b.port.atM));
  protected readonly idOf = ({ port }: Member): string => port.id;
  protected readonly chosenIds = computed(() => new Set([this.chosen()].filter((id) => id !== undefined)));
  protected readonly columns = computed((): readonly Column<Member>[] => {
    const { standard, cable } = this.bus().line;
    const terminal = (signal: string) => ({
      ...{ name: `terminal ${signal}`, head: [signal, cable.colours[signal]].filter(Boolean).join(' '), kind: 'mono' },
      text: ({ port }: Member) => port.terminals[signal] ?? '',
    });
    return [
      { name: 'device', head: 'Device', text: ({ name }) => name, by: ({ name }) => name },
      { name: 'at', head: 'At, m', text: ({ port }) => port.atM, kind: 'mono number', by: ({ port }) => port.atM },
      { name: 'unit', head: 'Unit ID', text: ({ port }) => port.unitId ?? '', kind: 'mono', by: ({ port }) => port.unitId ?? -1 },
      ...standards[standard].signals.map(terminal),
      { name: 'terminated', head: '120 Ω', text: ({ port }) => (port.terminated ? 'yes' : '') },
      { name: 'bias', head: 'Bias', text: ({ port }) => (port.bias ? 'yes' : '') },
      { name: 'shield', head: 'Shield', text: ({ port }) => port.shield },
      {
        name: 'reference',
        head: 'Reference',
        text: ({ port }) => `${references[port.reference]}${port.isolated ? ', isolated' : ''}`,
      },
      { name: 'how', head: 'How it is set', text: ({ port }) => port.setHow, kind: 'what' },
    ];
  });
  /** The stations that a ground loop goes through. */
  protected readonly looped = computed(() => {
    const loops = this.plan.findings().filter(({ check }) => check === 'ground-loop');
    return new Set(loops.map(({ at }) => at.id));
  });
  protected readonly facts = computed(() => {
    const { line } = this.bus();
    const { cable } = line;
    const shield = cable.shieldOhmPerKm === null ? 'no shield' : `shield ${cable.shieldOhmPerKm} Ω per km`;
    const reference =
      line.standard === 'rs232'
        ? `${cable.crossing} cable`
        : cable.reference
          ? 'with a reference conductor'
          : 'without a reference conductor';
    const terminated = standards[line.standard].terminated ? ', 120 Ω at both ends' : '';
    return `${standards[line.standard].name}, ${formatSettings(line)}, ${line.lengthM} m, conductors ${cable.conductorOhmPerKm} Ω per km, ${shield}, ${reference}${terminated}.`;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const observer = new ResizeObserver(([entry]) => this.room.set(Math.floor(entry!.contentRect.width)));
      observer.observe(this.drawing().nativeElement);
      destroyed.onDestroy(() => observer.disconnect());
    });
  }

  protected print(): void {
    window.print();
  }
}
