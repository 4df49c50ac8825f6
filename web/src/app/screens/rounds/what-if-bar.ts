import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { asItIs, type WhatIf } from '@plain-envoy/core/forecast';
import { Forecasts } from '../../data/forecasts';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';

type Knob = Exclude<keyof WhatIf, 'dead'>;

/** What a knob turns: its words, its range, and where it stands in the project. */
interface KnobKind {
  offer: string;
  unit: string;
  steps: readonly number[];
}

const periods = [50, 100, 150, 200, 250, 300, 400, 500, 600, 800, 1000, 1500, 2000, 3000, 5000, 8000, 10_000, 20_000, 60_000];

const knobs: Record<Knob, KnobKind> = {
  slower: { offer: 'answers more slowly', unit: '×', steps: [1, 1.5, 2, 3, 5, 8, 12, 20, 40, 80] },
  loss: { offer: 'loses answers', unit: '% lost', steps: [0, 1, 2, 3, 5, 8, 12, 20, 30, 50] },
  timeout: { offer: 'is waited for', unit: 'ms timeout', steps: [50, 100, 150, 200, 250, 400, 600, 1000, 1500, 2000, 3000, 5000] },
  baud: { offer: 'at another rate', unit: 'baud', steps: [1200, 2400, 4800, 9600, 19_200, 38_400, 57_600, 115_200] },
  period: {
    offer: 'at another period',
    unit: 'ms',
    steps: periods,
  },
  own: { offer: 'in a round of its own', unit: 'ms, its own round', steps: periods },
};

interface Turned {
  knob: Knob;
  id: string;
  name: string;
  value: number;
  step: number;
}

/** What is supposed otherwise: each supposition with its slider, and the way to take them over. */
@Component({
  selector: 'pe-what-if-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `<strong>What if</strong>
    @for (device of dead(); track device.id) {
      <span class="chip"
        >{{ device.name }} is dead
        <button type="button" [attr.aria-label]="device.name + ' answers again'" (click)="revive(device.id)">×</button></span
      >
    }
    @if (dead().length) {
      <label class="chip"
        ><input type="checkbox" [checked]="!forecasts.backsOff()" (change)="backOff(!forecasts.backsOff())" /> and is asked as often as
        ever</label
      >
    }
    @for (row of turned(); track row.knob + row.id) {
      <label class="chip"
        >{{ row.name }}
        <input
          #slider
          type="range"
          min="0"
          [max]="knobs[row.knob].steps.length - 1"
          [value]="row.step"
          [attr.aria-label]="row.name + ' ' + knobs[row.knob].offer"
          [attr.aria-valuetext]="row.value + ' ' + knobs[row.knob].unit"
          (input)="turn(row.knob, row.id, knobs[row.knob].steps[+slider.value]!)"
        />
        <span class="mono">{{ row.value }} {{ knobs[row.knob].unit }}</span>
        <button type="button" [attr.aria-label]="row.name + ' as it is'" (click)="put(row.knob, row.id, null)">×</button>
      </label>
    }
    <select #offer class="small offer" name="what-if" aria-label="Suppose" (change)="add(offer.value); offer.value = ''">
      <option value="">suppose …</option>
      @for (group of offers(); track group.label) {
        <optgroup [label]="group.label">
          @for (item of group.items; track item.value) {
            <option [value]="item.value">{{ item.name }}</option>
          }
        </optgroup>
      }
    </select>
    <span class="spread"></span>
    @if (isAny()) {
      @if (turned().length) {
        <button mat-flat-button type="button" name="take-over" (click)="takeOver.emit()">Take over</button>
      }
      <button mat-button type="button" (click)="forget()">As it is</button>
    }`,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 10px;
      margin: 6px 16px;
      padding: 5px 12px;
      background: var(--mat-sys-surface-container-lowest);
      border: 1px solid var(--mat-sys-outline-variant);
    }
    .chip {
      display: inline-flex;
      align-items: center;
      gap: 6px;
      padding: 2px 10px;
      font-size: 13px;
      background: var(--mat-sys-surface-container-highest);
      border-radius: 14px;
    }
    .chip button {
      font: inherit;
      color: inherit;
      background: none;
      border: 0;
      padding: 0 2px;
      cursor: pointer;
    }
    input[type='range'] {
      width: 110px;
      accent-color: var(--pe-carried);
    }
    .offer {
      max-width: 120px;
    }
    .spread {
      flex: 1;
    }
  `,
})
export class WhatIfBar {
  private readonly reckoning = inject(Forecasts);
  protected readonly forecasts = atEdge(this.reckoning, 'whatIf', 'backsOff');
  private readonly project = atEdge(inject(ProjectStore), 'document');
  readonly takeOver = output();

  protected readonly knobs = knobs;
  private readonly document = computed(() => this.project.document()!);
  protected readonly dead = computed(() => this.document().devices.filter(({ id }) => this.forecasts.whatIf().dead.includes(id)));
  protected readonly turned = computed((): Turned[] =>
    (Object.keys(knobs) as Knob[]).flatMap((knob) =>
      Object.entries(this.forecasts.whatIf()[knob]).map(([id, value]) => {
        const step = knobs[knob].steps.findLastIndex((each) => each <= value);
        return { knob, id, name: this.nameOf(knob, id), value, step: Math.max(0, step) };
      }),
    ),
  );
  /** The devices that something is read from, and how often. */
  private readonly sources = computed(() => {
    const { routes, rounds, points } = this.document();
    const deviceOf = new Map(points.map(({ id, deviceId }) => [id, deviceId]));
    const periodOf = new Map(rounds.map(({ id, periodMs }) => [id, periodMs]));
    return new Map(routes.map(({ sourceId, roundId }) => [deviceOf.get(sourceId), periodOf.get(roundId)]));
  });
  protected readonly isAny = computed(() => this.turned().length > 0 || this.dead().length > 0);

  protected readonly offers = computed(() => {
    const { devices, lines, rounds } = this.document();
    const asked = devices.filter(({ id }) =>
      this.document().ports.some((port) => port.deviceId === id && 'unitId' in port && port.unitId !== null),
    );
    const gateways = devices.filter(({ kind }) => kind === 'gateway');
    const each = (knob: string, rows: readonly { id: string; name: string }[], words: string) =>
      rows.map(({ id, name }) => ({ value: `${knob} ${id}`, name: `${name} ${words}` }));
    return [
      { label: 'A device is dead', items: each('dead', asked, 'is dead') },
      { label: 'A round has another period', items: each('period', rounds, knobs.period.offer) },
      {
        label: 'One more round',
        items: each(
          'own',
          devices.filter(({ id }) => this.sources().has(id)),
          knobs.own.offer,
        ),
      },
      {
        label: 'A line has another rate',
        items: each(
          'baud',
          lines.filter(({ kind }) => kind === 'serial'),
          knobs.baud.offer,
        ),
      },
      { label: 'A device answers more slowly', items: each('slower', asked, knobs.slower.offer) },
      { label: 'A link loses answers', items: each('loss', asked, knobs.loss.offer) },
      { label: 'Another timeout', items: each('timeout', [...new Set([...gateways, ...asked])], knobs.timeout.offer) },
    ];
  });

  protected add(what: string): void {
    const [knob, id] = what.split(' ') as [Knob | 'dead', string];
    if (knob === 'dead') return this.reckoning.suppose((now) => ({ ...now, dead: [...new Set([...now.dead, id])] }));
    if (knob) this.put(knob, id, this.asItIs(knob, id));
  }

  protected revive(id: string): void {
    this.reckoning.suppose((now) => ({ ...now, dead: now.dead.filter((other) => other !== id) }));
  }

  protected turn(knob: Knob, id: string, value: number): void {
    this.put(knob, id, value);
  }

  protected put(knob: Knob, id: string, value: number | null): void {
    this.reckoning.suppose((now) => {
      const { [id]: _, ...others } = now[knob];
      return { ...now, [knob]: value === null ? others : { ...now[knob], [id]: value } };
    });
  }

  protected backOff(backsOff: boolean): void {
    this.reckoning.backOff(backsOff);
  }

  protected forget(): void {
    this.reckoning.suppose(() => asItIs);
    this.reckoning.backOff(true);
  }

  private asItIs(knob: Knob, id: string): number {
    const { devices, lines, rounds } = this.document();
    const device = devices.find((row) => row.id === id);
    const line = lines.find((row) => row.id === id);
    switch (knob) {
      case 'slower':
        return 1;
      case 'loss':
        return device?.lossPercent ?? 0;
      case 'timeout':
        return device?.timeoutMs ?? 1000;
      case 'baud':
        return line?.kind === 'serial' ? line.baud : 9600;
      case 'own':
        return this.sources().get(id) ?? 1000;
      case 'period':
        return rounds.find((row) => row.id === id)?.periodMs ?? 1000;
    }
  }

  private nameOf(knob: Knob, id: string): string {
    const { devices, lines, rounds } = this.document();
    const rows: readonly { id: string; name: string }[] = knob === 'period' ? rounds : knob === 'baud' ? lines : devices;
    return rows.find((row) => row.id === id)?.name ?? '';
  }
}
