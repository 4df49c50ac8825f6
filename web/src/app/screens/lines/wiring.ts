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
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { BOX, layoutWiring } from './wiring-layout';

/** A serial line's wiring, drawn from the data, and the sheet by which it is wired. */
@Component({
  selector: 'pe-wiring',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
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
  protected readonly signals = computed(() => standards[this.bus().line.standard].signals);
  protected readonly rows = computed(() => [...this.bus().members].sort((a, b) => a.port.atM - b.port.atM));
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

  protected reference(how: 'direct' | 'resistance' | 'none'): string {
    return { direct: 'direct', resistance: 'through 100 Ω', none: 'not joined' }[how];
  }

  protected print(): void {
    window.print();
  }
}
