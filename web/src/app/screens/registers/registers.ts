import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, ElementRef, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { tableNames } from '@plain-envoy/core/address';
import { blankPoint, deletion, type Point, pointWidth } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { addressOf, ageText, rawText, valueText } from '../../parts/format';
import { arrowStep } from '../../parts/keys';
import { PointShape } from '../../parts/point-shape';
import { QualityMark } from '../../parts/quality';
import { PointForm } from './point-form';

/** A device's points in register order, with what is in them now; added, changed and deleted here. */
@Component({
  selector: 'pe-registers',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, PointShape, QualityMark, PointForm],
  templateUrl: './registers.html',
  styleUrl: './registers.scss',
})
export class RegistersScreen {
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly project = inject(ProjectStore);
  protected readonly live = inject(Live);
  /** The chosen device and point, from the address. */
  readonly device = input<string>();
  readonly point = input<string>();

  protected readonly tableNames = tableNames;
  protected readonly rawText = rawText;
  protected readonly valueText = valueText;
  protected readonly ageText = ageText;
  protected readonly withPoints = computed(() => this.project.document()!.devices.filter((device) => device.kind !== 'gateway'));
  protected readonly chosenPoint = computed(() => this.project.points().get(this.point() ?? ''));
  protected readonly chosenDevice = computed(
    () => this.project.devices().get(this.chosenPoint()?.deviceId ?? this.device() ?? '') ?? this.withPoints()[0],
  );
  protected readonly points = computed(() => this.project.pointsOf().get(this.chosenDevice()?.id ?? '') ?? []);
  protected readonly used = computed(() => {
    const counts = new Map<string, number>();
    for (const { sourceId, destinationId } of this.project.document()!.routes) {
      for (const id of [sourceId, destinationId]) counts.set(id, (counts.get(id) ?? 0) + 1);
    }
    return counts;
  });
  /** What the form holds: a point that is there, or one that is about to be. */
  protected readonly edited = signal<{ point: Point; isNew: boolean } | null>(null);
  protected readonly problem = signal<string | null>(null);

  constructor() {
    effect(() =>
      this.live.watch(
        this,
        this.points().map((point) => point.id),
      ),
    );
    inject(DestroyRef).onDestroy(() => this.live.watch(this, []));
  }

  protected address(point: Point): string {
    return addressOf(point, this.chosenDevice());
  }

  protected scaleText({ scale }: Point): string {
    if (!scale) return '';
    if ('factor' in scale) return `× ${scale.factor}${scale.offset ? ` + ${scale.offset}` : ''}`;
    return `${scale.raw.join('…')} → ${scale.units.join('…')}`;
  }

  protected chooseDevice(id: string): void {
    this.edited.set(null);
    void this.router.navigate([], { queryParams: { device: id } });
  }

  protected choose(point: Point): void {
    this.problem.set(null);
    void this.router.navigate([], { queryParams: { device: point.deviceId, point: point.id }, replaceUrl: true });
  }

  protected open(point: Point): void {
    this.choose(point);
    this.edited.set({ point, isNew: false });
  }

  /** A new point starts where the last one, or the chosen one, ends. */
  protected add(): void {
    const device = this.chosenDevice();
    if (!device) return;
    const after = this.chosenPoint() ?? this.points().at(-1);
    const ids = { id: newId(), projectId: device.projectId, deviceId: device.id };
    const point: Point = {
      ...(after ?? blankPoint(ids)),
      ...ids,
      name: '',
      note: '',
      offset: after ? Math.min(65_535, after.offset + pointWidth(after)) : 0,
    };
    this.edited.set({ point, isNew: true });
  }

  protected async remove(point: Point): Promise<void> {
    const changes = deletion(this.project.document()!, 'point', point.id);
    const routes = changes.length - 1;
    const answer = await this.project.commit(`Delete ${point.name}${routes ? ` and ${routes} of its routes` : ''}`, changes);
    if (!answer.ok) return this.problem.set(answer.problem.message);
    this.edited.set(null);
    this.editor.say(`Deleted: ${point.name}${routes ? `, with ${routes} route${routes === 1 ? '' : 's'}` : ''}. Ctrl+Z brings it back.`);
  }

  protected saved(point: Point): void {
    this.edited.set(null);
    this.choose(point);
    setTimeout(() => this.element.nativeElement.querySelector<HTMLElement>(`[data-point="${point.id}"]`)?.focus());
  }

  protected key(event: KeyboardEvent, point: Point, index: number): void {
    const step = arrowStep(event);
    const next = this.points()[index + step];
    if (step && next) {
      event.preventDefault();
      this.choose(next);
      this.element.nativeElement.querySelector<HTMLElement>(`[data-point="${next.id}"]`)?.focus();
    } else if (event.key === 'Enter') {
      this.open(point);
    } else if (event.key === 'Insert') {
      this.add();
    } else if (event.key === 'Delete') {
      void this.remove(point);
    }
  }
}
