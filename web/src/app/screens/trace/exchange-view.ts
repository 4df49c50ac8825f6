import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import type { ToldExchange, ToldFrame } from '@plain-envoy/core/trace';

/** One exchange: both its frames with every byte explained, the points it carried, and ways to where they are made. */
@Component({
  selector: 'pe-exchange-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouterLink],
  templateUrl: './exchange-view.html',
  styleUrl: './exchange-view.scss',
})
export class ExchangeView {
  readonly told = input.required<ToldExchange>();
  readonly routes = input<readonly PlannedRoute[]>([]);
  readonly closed = output();

  protected readonly pointed = signal<ToldFrame['fields'][number] | null>(null);
  protected readonly points = computed(() => this.told().points());
  protected readonly frames = computed(() => this.told().frames());
}
