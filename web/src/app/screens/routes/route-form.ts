import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { type Point, Route } from '@plain-envoy/core/model';
import { checkEnds } from '@plain-envoy/core/route';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { FieldProblems } from '../../parts/form';
import { addressOf } from '../../parts/format';

/** Makes a route between two chosen points, or changes one. What keeps it from carrying is said before it is saved. */
@Component({
  selector: 'pe-route-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  templateUrl: './route-form.html',
  styles: `
    :host {
      display: block;
      padding: 8px 12px;
      background: var(--mat-sys-surface-container-lowest);
      border: 1px solid var(--pe-carried);
      border-radius: 4px;
    }
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 12px;
      align-items: end;
    }
    .ends {
      flex: 1 1 100%;
      margin: 0;
    }
    .arrow {
      color: var(--pe-carried);
      font-weight: 700;
    }
    .problem {
      flex: 1 1 100%;
    }
    .name {
      flex: 1;
    }
  `,
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class RouteForm {
  private readonly project = inject(ProjectStore);
  private readonly editor = inject(Editor);
  private readonly nameBox = viewChild.required<ElementRef<HTMLInputElement>>('name');

  readonly route = input.required<Route>();
  readonly isNew = input.required<boolean>();
  readonly saved = output<Route>();
  readonly closed = output();
  readonly removed = output();

  protected readonly problems = new FieldProblems();
  protected readonly typed = linkedSignal(() => {
    const { name, carry, roundId } = this.route();
    return { name, carry, roundId };
  });
  protected readonly rounds = computed(() => this.project.document()!.rounds);
  protected readonly source = computed(() => this.project.points().get(this.route().sourceId));
  protected readonly destination = computed(() => this.project.points().get(this.route().destinationId));
  protected readonly endProblems = computed(() => {
    const source = this.source();
    const destination = this.destination();
    return source && destination ? checkEnds(source, destination, this.typed().carry) : [];
  });
  protected readonly rest = computed(() => this.problems.rest(['name', 'roundId']));

  constructor() {
    effect(() => {
      this.route();
      this.problems.clear();
      if (this.isNew()) setTimeout(() => this.nameBox().nativeElement.focus());
    });
  }

  protected endText(point: Point | undefined): string {
    const device = this.project.devices().get(point?.deviceId ?? '');
    return point ? `${point.name}, ${device?.name} ${addressOf(point, device)}` : 'a point that is gone';
  }

  protected type(fields: Partial<Pick<Route, 'name' | 'carry' | 'roundId'>>): void {
    this.typed.update((typed) => ({ ...typed, ...fields }));
  }

  protected async save(): Promise<void> {
    const before = this.route();
    const after = this.problems.check(Route, { ...before, ...this.typed(), name: this.typed().name.trim() });
    if (!after || this.endProblems().length) return;
    const label = `${this.isNew() ? 'Make' : 'Change'} route ${after.name}`;
    const answer = await this.project.commit(label, [{ entity: 'route', id: after.id, before: this.isNew() ? null : before, after }]);
    if (!answer.ok) return this.problems.refused(answer.problem);
    this.editor.say(`Saved: ${after.name}`);
    this.saved.emit(after);
  }
}
