import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { asItIs, type WhatIf } from '@plain-envoy/core/forecast';
import { Forecasts } from '../../data/forecasts';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { SearchField } from '../../parts/search-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatSliderModule } from '@angular/material/slider';
import type { Option } from '../../parts/choose';

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
  imports: [MatButtonModule, MatCheckboxModule, MatSliderModule, SearchField],
  template: `<strong>What if</strong>
    @for (device of dead(); track device.id) {
      <span class="chip"
        >{{ device.name }} is dead
        <button mat-button type="button" [attr.aria-label]="device.name + ' answers again'" (click)="revive(device.id)">×</button></span
      >
    }
    @if (dead().length) {
      <mat-checkbox name="asked-as-ever" [checked]="!forecasts.backsOff()" (change)="backOff(!$event.checked)"
        >and is asked as often as ever</mat-checkbox
      >
    }
    @for (row of turned(); track row.knob + row.id) {
      <span class="chip"
        >{{ row.name }}
        <mat-slider min="0" step="1" [max]="knobs[row.knob].steps.length - 1">
          <input
            matSliderThumb
            [value]="row.step"
            [attr.aria-label]="row.name + ' ' + knobs[row.knob].offer"
            [attr.aria-valuetext]="row.value + ' ' + knobs[row.knob].unit"
            (input)="turn(row.knob, row.id, knobs[row.knob].steps[+$any($event.target).value]!)"
          />
        </mat-slider>
        <span class="mono">{{ row.value }} {{ knobs[row.knob].unit }}</span>
        <button mat-button type="button" [attr.aria-label]="row.name + ' as it is'" (click)="put(row.knob, row.id, null)">×</button>
      </span>
    }
    <pe-search name="what-if" aria="Suppose" none="a device, a line or a round …" [options]="things()" [(value)]="thingId" />
    @for (offer of offers(); track offer.knob) {
      <button mat-stroked-button type="button" [attr.data-suppose]="offer.knob" (click)="add(offer.knob)">{{ offer.text }}</button>
    }
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
      min-width: 28px;
      padding: 0;
    }
    mat-slider {
      width: 120px;
    }
    pe-search {
      width: 270px;
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

  /** What something can be supposed of, found by its name; then what about it. */
  protected readonly thingId = signal('');
  private readonly asked = computed(() => {
    const { devices, ports } = this.document();
    return devices.filter(({ id }) => ports.some((port) => port.deviceId === id && 'unitId' in port && port.unitId !== null));
  });
  protected readonly things = computed((): Option<string>[] => {
    const { devices, lines, rounds } = this.document();
    const asked = new Set(this.asked());
    return [
      ...devices
        .filter((device) => asked.has(device) || device.kind === 'gateway')
        .map(({ id, name }) => ({ value: id, text: name, more: 'device' })),
      ...lines.filter(({ kind }) => kind === 'serial').map(({ id, name }) => ({ value: id, text: name, more: 'line' })),
      ...rounds.map(({ id, name }) => ({ value: id, text: name, more: 'round' })),
    ];
  });
  protected readonly offers = computed((): { knob: Knob | 'dead'; text: string }[] => {
    const id = this.thingId();
    const { devices, lines, rounds } = this.document();
    const as = (...offered: Knob[]) => offered.map((knob) => ({ knob, text: knobs[knob].offer }));
    if (rounds.some((round) => round.id === id)) return as('period');
    if (lines.some((line) => line.id === id)) return as('baud');
    if (this.asked().some((device) => device.id === id))
      return [{ knob: 'dead', text: 'is dead' }, ...as('slower', 'loss', 'timeout'), ...(this.sources().has(id) ? as('own') : [])];
    return devices.some((device) => device.id === id) ? as('timeout') : [];
  });

  protected add(knob: Knob | 'dead'): void {
    const id = this.thingId();
    this.thingId.set('');
    if (knob === 'dead') return this.reckoning.suppose((now) => ({ ...now, dead: [...new Set([...now.dead, id])] }));
    this.put(knob, id, this.asItIs(knob, id));
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
