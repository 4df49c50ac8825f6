import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { Device, Point } from '@plain-envoy/core/model';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import type { Option } from './choose';
import { addressOf } from './format';
import { FieldPart } from './field-part';
import { SearchField } from './search-field';

/** A point as it is searched and chosen: by its name, by its device and by its address. */
export function pointOption(point: Point, device: Device | undefined): Option<string> {
  return { value: point.id, text: `${point.name}, ${device?.name ?? 'a device that is gone'}`, more: addressOf(point, device) };
}

/** Chooses one point, or none, by typing parts of its name, its device or its address: those of a few devices come first, and where that is sensible all others. */
@Component({
  selector: 'pe-point-pick',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SearchField],
  template: `<pe-search
    [label]="label()"
    [name]="name()"
    [none]="none()"
    [options]="options()"
    [problem]="wrong()"
    [value]="value() ?? ''"
    (valueChange)="value.set($event || null)"
    (focusout)="left()"
  />`,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
  `,
})
export class PointPick extends FieldPart<string | null> {
  /** The field inside looks after itself. */
  protected readonly shown = signal(undefined);
  private readonly project = atEdge(inject(ProjectStore), 'devices', 'points', 'pointsOf');
  /** What stands for no point. */
  readonly none = input('none');
  /** The devices whose points are offered. */
  readonly devices = input.required<readonly string[]>();
  /** Whether points of other devices may be chosen as well. */
  readonly anywhere = input(false);
  readonly only = input<'bits' | 'writable' | null>(null);

  protected readonly options = computed(() => {
    const own = this.project.points().get(this.value() ?? '')?.deviceId;
    const first = [...new Set([...this.devices(), own])].filter((id) => typeof id === 'string');
    const others = this.anywhere() ? [...this.project.devices().keys()].filter((id) => !first.includes(id)) : [];
    return [...first, ...others].flatMap((deviceId) => {
      const device = this.project.devices().get(deviceId);
      return (this.project.pointsOf().get(deviceId) ?? [])
        .filter((point) => (this.only() === 'bits' ? point.type === 'bit' : this.only() !== 'writable' || point.access !== 'read'))
        .map((point) => pointOption(point, device));
    });
  });
}
