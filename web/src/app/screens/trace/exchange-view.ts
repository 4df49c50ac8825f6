import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { explainFrame, type FrameField } from '@plain-envoy/core/frame';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import type { ToldExchange, TraceRecord } from '@plain-envoy/core/trace';

/** A field of a frame as it is drawn: its bytes, and what kind of thing it is. */
interface DrawnField extends FrameField {
  kind: string;
}

/** What a field is about, by its name; its colour follows from it. */
const kinds: Readonly<Record<string, string>> = {
  unit: 'unit',
  function: 'function',
  offset: 'place',
  'write offset': 'place',
  count: 'amount',
  'write count': 'amount',
  value: 'data',
  data: 'data',
  kept: 'data',
  set: 'data',
  exception: 'wrong',
  leftover: 'wrong',
  crc: 'check',
  lrc: 'check',
};

/** One exchange: both its frames with every byte explained, the points it carried, and ways to where they are made. */
@Component({
  selector: 'pe-exchange-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouterLink],
  templateUrl: './exchange-view.html',
  styleUrl: './exchange-view.scss',
})
export class ExchangeView {
  readonly record = input.required<TraceRecord>();
  readonly told = input.required<ToldExchange>();
  readonly routes = input<readonly PlannedRoute[]>([]);
  readonly closed = output();

  protected readonly pointed = signal<DrawnField | null>(null);
  protected readonly points = computed(() => this.told().points());
  protected readonly frames = computed(() => {
    const { sent, got, framing } = this.record();
    const drawn = (name: string, bytes: Uint8Array | null, direction: 'request' | 'response') => {
      if (!bytes) return [];
      const { fields, problems } = explainFrame(bytes, framing, direction);
      return [{ name, problems, fields: fields.map((field): DrawnField => ({ ...field, kind: kinds[field.name] ?? 'head' })) }];
    };
    return [...drawn('Asked', sent, 'request'), ...drawn('Answered', got, 'response')];
  });
}
