import '@plain-envoy/core/formula';
import { CdkDrag, CdkDragHandle, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { type AbstractControl, type FormArray, type FormGroup, ReactiveFormsModule } from '@angular/forms';
import { controlOf } from '../../parts/controls';
import { MatButtonModule } from '@angular/material/button';
import { fieldSchema } from '@plain-envoy/core/model';
import { stepKinds, stepOf, type StepPoint, type Transform, type TransformKind } from '@plain-envoy/core/steps';
import { Icon } from '../../parts/icon';
import { PointPick } from '../../parts/point-pick';
import { groupOf, type JsonSchema, typedOf, type TypedForm, valueOf } from '../../parts/schema-fields';
import { SchemaForm } from '../../parts/schema-form';
import { MatMenuModule } from '@angular/material/menu';

/** A step while it is typed: its kind, and what stands in its fields. */
export type StepGroup = FormGroup<Record<string, AbstractControl>>;

const schemas = new Map<TransformKind, JsonSchema>();

/** The JSON Schema of a step's fields; its kind is chosen, not typed. */
export function schemaOf(kind: TransformKind): JsonSchema {
  const known = schemas.get(kind);
  if (known) return known;
  const schema = fieldSchema('transform', kind) as JsonSchema;
  const properties = Object.fromEntries(Object.entries(schema.properties ?? {}).filter(([key]) => key !== 'kind'));
  schemas.set(kind, { ...schema, properties });
  return schemas.get(kind)!;
}

export function stepGroup(kind: TransformKind, step: object): StepGroup {
  const schema = schemaOf(kind);
  const group = groupOf(schema, typedOf(schema, { ...step }));
  group.addControl('kind', controlOf(kind));
  return group;
}

function kindOf(step: StepGroup): TransformKind {
  return step.controls['kind']!.value as TransformKind;
}

/** The step that stands in its fields; its schema says what does not fit. */
export function stepFrom(typed: TypedForm): Transform {
  const kind = typed['kind'] as TransformKind;
  return { kind, ...valueOf(schemaOf(kind), typed) } as Transform;
}

/** The steps of a route in their order, each with its fields and what it makes of the value just now. */
@Component({
  selector: 'pe-step-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, CdkDragHandle, CdkDropList, Icon, MatButtonModule, MatMenuModule, PointPick, ReactiveFormsModule, SchemaForm],
  template: `<ol cdkDropList (cdkDropListDropped)="put($event.previousIndex, $event.currentIndex)">
      @for (step of steps().controls; track step; let index = $index) {
        <li cdkDrag cdkDragLockAxis="y">
          <div class="head">
            <span class="grip" cdkDragHandle aria-hidden="true"><pe-icon name="grip" /></span>
            <strong>{{ labelOf(step) }}</strong>
            <span class="mono quiet example" [class.bad]="!!examples()[index]?.problem">{{ examples()[index]?.text }}</span>
            <button
              mat-button
              type="button"
              [disabled]="index === 0"
              [attr.aria-label]="'Step ' + (index + 1) + ' earlier'"
              (click)="put(index, index - 1)"
            >
              <pe-icon name="up" />
            </button>
            <button mat-button type="button" [attr.aria-label]="'Take step ' + (index + 1) + ' out'" (click)="drop(index)">
              <pe-icon name="remove" />
            </button>
          </div>
          @for (pick of pointsOf(step); track pick.field) {
            <pe-point-pick
              [label]="pick.label"
              [name]="kindOf(step) + ' ' + pick.field"
              [only]="pick.isBit ? 'bits' : null"
              [none]="pick.none"
              [anywhere]="true"
              [devices]="devices()"
              [formControl]="$any(step.controls[pick.field])"
            />
          }
          <pe-schema-form [schema]="schemaOf(kindOf(step))" [only]="fieldsOf(step)" [group]="step" />
        </li>
      }
    </ol>
    <button mat-stroked-button type="button" name="step" [matMenuTriggerFor]="kindMenu">Add a step</button>
    <mat-menu #kindMenu="matMenu">
      @for (choice of kinds; track choice) {
        <button mat-menu-item type="button" [attr.data-step]="choice" (click)="add(choice)">{{ stepOf(choice).label }}</button>
      }
    </mat-menu>`,
  styles: `
    ol {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      padding: 2px 0 6px;
      border-bottom: 1px solid var(--mat-sys-outline-variant);
    }
    .head {
      display: flex;
      align-items: center;
      gap: 6px;
    }
    .example {
      flex: 1;
      text-align: right;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .bad {
      color: var(--pe-bad);
    }
    button {
      min-width: 28px;
      padding: 0 6px;
    }
  `,
})
export class StepList {
  readonly steps = input.required<FormArray<StepGroup>>();
  /** What each step makes of the value that is there now. */
  readonly examples = input<readonly { text: string; problem: boolean }[]>([]);
  /** Whose points can be named by a step. */
  readonly devices = input.required<readonly string[]>();

  protected readonly kinds = stepKinds;
  protected readonly schemaOf = schemaOf;
  protected readonly stepOf = stepOf;
  protected readonly kindOf = kindOf;

  protected labelOf(step: StepGroup): string {
    return stepOf(kindOf(step)).label;
  }

  protected pointsOf(step: StepGroup): readonly StepPoint[] {
    return stepOf(kindOf(step)).points;
  }

  protected fieldsOf(step: StepGroup): string[] {
    return Object.keys(schemaOf(kindOf(step)).properties ?? {}).filter((key) => !key.endsWith('Id'));
  }

  protected add(kind: TransformKind): void {
    this.steps().push(stepGroup(kind, stepOf(kind).blank));
    this.steps().markAsDirty();
  }

  protected drop(index: number): void {
    this.steps().removeAt(index);
    this.steps().markAsDirty();
  }

  protected put(from: number, to: number): void {
    const steps = this.steps();
    const step = steps.at(from);
    steps.removeAt(from, { emitEvent: false });
    steps.insert(to, step);
    steps.markAsDirty();
  }
}
