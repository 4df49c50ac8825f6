import { ChangeDetectionStrategy, Component, computed, inject, input, model } from '@angular/core';
import { ProjectStore } from '../data/project';
import { addressOf } from './format';

/** Chooses one of a few points by name, or none. */
@Component({
  selector: 'pe-point-pick',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<label class="field"
    >{{ label() }}
    <select #box [name]="name()" [attr.aria-invalid]="!!problem()" (change)="value.set(box.value || null)">
      <option value="" [selected]="!value()">{{ none() }}</option>
      @for (choice of choices(); track choice.id) {
        <option [value]="choice.id" [selected]="choice.id === value()">{{ choice.text }}</option>
      }
    </select>
    @if (problem(); as text) {
      <span class="field-problem" role="alert">{{ text }}</span>
    }
  </label>`,
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
  private readonly project = inject(ProjectStore);
  readonly label = input.required<string>();
  readonly name = input.required<string>();
  /** What stands for no point. */
  readonly none = input('none');
  /** The devices whose points are offered. */
  readonly devices = input.required<readonly string[]>();
  readonly only = input<'bits' | 'writable' | null>(null);
  readonly problem = input<string | null>(null);
  readonly value = model.required<string | null>();

  protected readonly choices = computed(() => {
    const several = this.devices().length > 1;
    return this.devices().flatMap((deviceId) => {
      const device = this.project.devices().get(deviceId);
      return (this.project.pointsOf().get(deviceId) ?? [])
        .filter((point) => (this.only() === 'bits' ? point.type === 'bit' : this.only() !== 'writable' || point.access !== 'read'))
        .map((point) => ({ id: point.id, text: `${several ? `${device?.name}: ` : ''}${point.name}, ${addressOf(point, device)}` }));
    });
  });
}
