import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { fieldSchema } from '@plain-envoy/core/model';
import { stepKinds, stepOf, type StepPoint, type TransformKind } from '@plain-envoy/core/steps';
import { PointPick } from '../../parts/point-pick';
import { type JsonSchema, typedOf, type TypedForm } from '../../parts/schema-fields';
import { SchemaForm } from '../../parts/schema-form';
import { MatMenuModule } from '@angular/material/menu';

/** A step while it is typed: its kind, and what stands in its fields. */
export interface TypedStep {
  kind: TransformKind;
  form: TypedForm;
}

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

/** The steps of a route in their order, each with its fields and what it makes of the value just now. */
@Component({
  selector: 'pe-step-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatMenuModule, PointPick, SchemaForm],
  template: `<ol>
      @for (step of steps(); track $index; let index = $index) {
        <li>
          <div class="head">
            <strong>{{ labelOf(step.kind) }}</strong>
            <span class="mono quiet example" [class.bad]="!!examples()[index]?.problem">{{ examples()[index]?.text }}</span>
            <button
              mat-button
              type="button"
              [disabled]="index === 0"
              [attr.aria-label]="'Step ' + (index + 1) + ' earlier'"
              (click)="move(index)"
            >
              ↑
            </button>
            <button mat-button type="button" [attr.aria-label]="'Take step ' + (index + 1) + ' out'" (click)="drop(index)">×</button>
          </div>
          @for (pick of pointsOf(step.kind); track pick.field) {
            <pe-point-pick
              [label]="pick.label"
              [name]="step.kind + ' ' + pick.field"
              [only]="pick.isBit ? 'bits' : null"
              [none]="pick.none"
              [anywhere]="true"
              [devices]="devices()"
              [problem]="problems().get('transforms.' + index + '.' + pick.field) ?? null"
              [value]="'' + (step.form[pick.field] ?? '')"
              (valueChange)="choose(index, pick.field, $event)"
            />
          }
          <pe-schema-form
            [schema]="schemaOf(step.kind)"
            [only]="fieldsOf(step.kind)"
            [typed]="step.form"
            [problems]="problems()"
            [path]="'transforms.' + index + '.'"
            (typedChange)="type(index, $event)"
          />
        </li>
      }
    </ol>
    <button mat-stroked-button type="button" name="step" [matMenuTriggerFor]="kindMenu">Add a step</button>
    <mat-menu #kindMenu="matMenu">
      @for (choice of kinds; track choice) {
        <button mat-menu-item type="button" [attr.data-step]="choice" (click)="add(choice)">{{ labelOf(choice) }}</button>
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
  readonly steps = model.required<readonly TypedStep[]>();
  readonly problems = input<ReadonlyMap<string, string>>(new Map());
  /** What each step makes of the value that is there now. */
  readonly examples = input<readonly { text: string; problem: boolean }[]>([]);
  /** Whose points can be named by a step. */
  readonly devices = input.required<readonly string[]>();

  protected readonly kinds = stepKinds;
  protected readonly schemaOf = schemaOf;
  private readonly fields = computed(
    () => new Map(stepKinds.map((kind) => [kind, Object.keys(schemaOf(kind).properties ?? {}).filter((key) => !key.endsWith('Id'))])),
  );

  protected labelOf(kind: TransformKind): string {
    return stepOf(kind).label;
  }

  protected pointsOf(kind: TransformKind): readonly StepPoint[] {
    return stepOf(kind).points;
  }

  protected fieldsOf(kind: TransformKind): string[] {
    return this.fields().get(kind)!;
  }

  protected type(index: number, form: TypedForm): void {
    this.steps.update((steps) => steps.map((step, at) => (at === index ? { ...step, form: { ...step.form, ...form } } : step)));
  }

  protected choose(index: number, field: string, pointId: string | null): void {
    this.type(index, { [field]: pointId ?? '' });
  }

  protected add(kind: TransformKind): void {
    this.steps.update((steps) => [...steps, { kind, form: typedOf(schemaOf(kind), stepOf(kind).blank) }]);
  }

  protected drop(index: number): void {
    this.steps.update((steps) => steps.filter((_, at) => at !== index));
  }

  protected move(index: number): void {
    this.steps.update((steps) => {
      const moved = [...steps];
      [moved[index - 1], moved[index]] = [steps[index]!, steps[index - 1]!];
      return moved;
    });
  }
}
