import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { describeException, functionOf } from '@plain-envoy/core/frame';
import type { ToldRecording, ToldRequest } from '../data/overheard.worker';
import type { Column } from '../parts/table/column';
import { Table } from '../parts/table/table';

export type Heard = Extract<ToldRecording, { kind: 'heard' }>;

/** What was heard of a plant: who was asked what, how often, and how it was answered. */
@Component({
  selector: 'pe-heard',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Table],
  template: `<p>
      <b
        >{{ heard().exchanges }} exchanges{{ lasted() }}: {{ heard().requests.length }} question{{
          heard().requests.length === 1 ? '' : 's'
        }}
        to {{ heard().devices }} device{{ heard().devices === 1 ? '' : 's' }}, {{ heard().points }} points.</b
      >
      Types and orders are guessed from how values move; the note of each point says why. What was heard is no manual, so nothing of it is
      proved.
    </p>
    @for (remark of heard().remarks; track remark) {
      <p class="remark">{{ remark }}</p>
    }
    <ng-content />
    <pe-table class="heard" label="What was heard" scrolls [columns]="columns" [rows]="heard().requests" [idOf]="idOf" />`,
  styles: `
    .heard {
      display: block;
      max-height: 46vh;
      overflow: auto;
      margin-top: 10px;
    }
  `,
})
export class HeardView {
  readonly heard = input.required<Heard>();
  protected readonly lasted = computed(() => {
    const ms = this.heard().lastedMs;
    return ms === null ? '' : ` in ${ms < 120_000 ? `${Math.round(ms / 1000)} s` : `${Math.round(ms / 60_000)} min`}`;
  });
  protected readonly idOf = ({ endpointId, askedBy, unit, functionCode, span }: ToldRequest) =>
    [endpointId, askedBy, unit, functionCode, span.offset, span.count].join(' ');
  protected readonly columns: readonly Column<ToldRequest>[] = [
    { name: 'where', head: 'Asked', text: ({ endpointId }) => endpointId },
    { name: 'unit', head: 'Unit', text: ({ unit }) => String(unit) },
    { name: 'what', head: 'What', text: ({ functionCode }) => `${functionCode} ${functionOf(functionCode)?.name ?? ''}` },
    {
      name: 'span',
      head: 'Offsets',
      text: ({ span }) => (span.count === 1 ? String(span.offset) : `${span.offset}–${span.offset + span.count - 1}`),
    },
    { name: 'period', head: 'Period', text: ({ periodMs }) => (periodMs === null ? 'not known' : `${Math.round(periodMs)} ms`) },
    { name: 'seen', head: 'Seen', text: ({ seen }) => String(seen) },
    { name: 'answer', head: 'Answered', text: answerText },
  ];
}

function answerText({ seen, answered, silent, refused, responseMs }: ToldRequest): string {
  const parts = [
    answered === seen ? 'always' : answered ? `${answered} of ${seen}` : '',
    silent ? `${silent} got no answer` : '',
    ...[...refused].map(([code, times]) => `${times} refused: ${describeException(code)}`),
    responseMs ? `in ${responseMs.usual.toFixed(1)} ms` : '',
  ];
  return parts.filter(Boolean).join(', ');
}
