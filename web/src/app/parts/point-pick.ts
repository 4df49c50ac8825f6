import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { addressOf } from './format';

const ELSEWHERE = 'elsewhere';

/** Chooses one point by name, or none: of a few devices, and where that is sensible of any other. */
@Component({
  selector: 'pe-point-pick',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@if (asking()) {
      <label class="field"
        >{{ label() }}
        <select #device [name]="name() + ' device'" (change)="offer(device.value)">
          <option value="">of which device …</option>
          @for (other of others(); track other.id) {
            <option [value]="other.id">{{ other.name }}</option>
          }
        </select>
      </label>
    } @else {
      <label class="field"
        >{{ label() }}
        <select #box [name]="name()" [attr.aria-invalid]="!!problem()" (change)="choose(box.value)">
          <option value="" [selected]="!value()">{{ none() }}</option>
          @for (choice of choices(); track choice.id) {
            <option [value]="choice.id" [selected]="choice.id === value()">{{ choice.text }}</option>
          }
          @if (anywhere() && others().length) {
            <option [value]="ELSEWHERE">of another device …</option>
          }
        </select>
        @if (problem(); as text) {
          <span class="field-problem" role="alert">{{ text }}</span>
        }
      </label>
    }`,
  styles: `
    :host {
      display: contents;
    }
    select {
      max-width: 220px;
    }
  `,
})
export class PointPick {
  private readonly project = atEdge(inject(ProjectStore), 'devices', 'points', 'pointsOf');
  readonly label = input.required<string>();
  readonly name = input.required<string>();
  /** What stands for no point. */
  readonly none = input('none');
  /** The devices whose points are offered. */
  readonly devices = input.required<readonly string[]>();
  /** Whether other devices may be asked for as well. */
  readonly anywhere = input(false);
  readonly only = input<'bits' | 'writable' | null>(null);
  readonly problem = input<string | null>(null);
  readonly value = model.required<string | null>();

  protected readonly ELSEWHERE = ELSEWHERE;
  /** It asks for the device first. */
  protected readonly asking = signal(false);
  private readonly asked = signal<string | null>(null);
  private readonly offered = computed(() => {
    const own = this.project.points().get(this.value() ?? '')?.deviceId;
    return [...new Set([...this.devices(), own, this.asked()])].filter((id) => typeof id === 'string');
  });
  protected readonly others = computed(() => {
    const offered = new Set(this.offered());
    return [...this.project.devices().values()].filter(({ id }) => !offered.has(id) && this.project.pointsOf().get(id)?.length);
  });
  protected readonly choices = computed(() => {
    const several = this.offered().length > 1;
    return this.offered().flatMap((deviceId) => {
      const device = this.project.devices().get(deviceId);
      return (this.project.pointsOf().get(deviceId) ?? [])
        .filter((point) => (this.only() === 'bits' ? point.type === 'bit' : this.only() !== 'writable' || point.access !== 'read'))
        .map((point) => ({ id: point.id, text: `${several ? `${device?.name}: ` : ''}${point.name}, ${addressOf(point, device)}` }));
    });
  });

  protected choose(value: string): void {
    if (value === ELSEWHERE) this.asking.set(true);
    else this.value.set(value || null);
  }

  protected offer(deviceId: string): void {
    this.asking.set(false);
    if (deviceId) this.asked.set(deviceId);
  }
}
