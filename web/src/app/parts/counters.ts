import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { exceptions } from '@plain-envoy/core/frame';
import type { Counters } from '@plain-envoy/core/feed';
import { msText } from './format';

/** The counters of a device: which of the things that can go wrong went wrong, and how long answers take. */
@Component({
  selector: 'pe-counters',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<dl>
      <div>
        <dt>answered</dt>
        <dd>{{ counters().answered }}</dd>
      </div>
      <div [class.some]="counters().noAnswer">
        <dt>no answer</dt>
        <dd>{{ counters().noAnswer }}</dd>
      </div>
      <div [class.some]="counters().damaged">
        <dt>damaged</dt>
        <dd>{{ counters().damaged }}</dd>
      </div>
      @for (row of refused(); track row.code) {
        <div class="some">
          <dt [title]="row.meaning">refused ({{ row.code }})</dt>
          <dd>{{ row.count }}</dd>
        </div>
      }
      @if (counters().restarts) {
        <div>
          <dt title="Its chain stood still and was begun anew">restarts</dt>
          <dd>{{ counters().restarts }}</dd>
        </div>
      }
      @if (counters().missed) {
        <div>
          <dt title="The request was due again while it still waited or ran">missed</dt>
          <dd>{{ counters().missed }}</dd>
        </div>
      }
      <div>
        <dt>last · mean · worst</dt>
        <dd>{{ ms(counters().lastMs) }} · {{ ms(counters().meanMs) }} · {{ ms(counters().worstMs) }} ms</dd>
      </div>
    </dl>
    @if (counters().lastOutcome !== 'answered' && counters().lastError; as text) {
      <p class="problem">{{ text }}</p>
    }`,
  styles: `
    dl {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 14px;
      margin: 0;
    }
    div {
      display: flex;
      gap: 6px;
    }
    dt {
      color: var(--mat-sys-on-surface-variant);
    }
    dd {
      margin: 0;
      font-weight: 600;
    }
    .some dt,
    .some dd {
      color: var(--pe-bad);
    }
    .problem {
      margin-top: 4px;
      font-size: 13px;
    }
  `,
})
export class CountersView {
  readonly counters = input.required<Counters>();
  protected readonly ms = msText;
  protected readonly refused = computed(() =>
    Object.entries(this.counters().exceptions).map(([code, count]) => ({ code, count, meaning: exceptions[Number(code)]?.name ?? '' })),
  );
}
