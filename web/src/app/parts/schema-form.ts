import { ChangeDetectionStrategy, Component, computed, forwardRef, input, model } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { Choose, type Option } from './choose';
import { TextField } from './text-field';
import { wordOf } from './words';
import { fieldsOf, type JsonSchema, type SchemaField, type Typed, typedOf, type TypedForm } from './schema-fields';

/** The fields that a schema asks for. What is wrong is shown at its field, by path: `devices.1.atM`. */
@Component({
  selector: 'pe-schema-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, TextField, forwardRef(() => SchemaForm)],
  template: `<div class="fields">
    @for (field of shown(); track field.key) {
      @switch (field.kind) {
        @case ('tick') {
          <mat-checkbox
            class="tick"
            [title]="field.hint"
            [name]="field.key"
            [checked]="typed()[field.key] === true"
            (change)="type(field.key, $event.checked)"
            >{{ labels()[field.key] ?? field.label }}</mat-checkbox
          >
        }
        @case ('rows') {
          <fieldset class="wide">
            <legend>{{ labels()[field.key] ?? field.label }}</legend>
            @for (row of rowsOf(field); track $index) {
              <pe-schema-form
                [schema]="field.row!"
                [typed]="row"
                [problems]="problems()"
                [path]="path() + field.key + '.' + $index + '.'"
                (typedChange)="typeRow(field, $index, $event)"
              />
              <button mat-button type="button" (click)="drop(field, $index)">Take {{ $index + 1 }} out</button>
            }
            <button mat-button type="button" (click)="add(field)">Add one</button>
            @if (problemOf(field); as text) {
              <span class="field-problem" role="alert">{{ text }}</span>
            }
          </fieldset>
        }
        @case ('choice') {
          <pe-choose
            [class.wide]="wide().includes(field.key)"
            [label]="labels()[field.key] ?? field.label"
            [hint]="field.hint"
            [name]="field.key"
            [options]="optionsOf(field)"
            [value]="'' + (typed()[field.key] ?? '')"
            [problem]="problemOf(field)"
            (valueChange)="type(field.key, $event)"
          />
        }
        @default {
          <pe-text
            [class.wide]="field.kind === 'json' || field.kind === 'numbers' || wide().includes(field.key)"
            [label]="labels()[field.key] ?? field.label"
            [hint]="field.hint"
            [name]="field.key"
            [numeric]="field.kind === 'number'"
            [value]="'' + (typed()[field.key] ?? '')"
            [problem]="problemOf(field)"
            (valueChange)="type(field.key, $event)"
          />
        }
      }
    }
  </div>`,
  styles: `
    fieldset {
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 4px;
      padding: 4px 10px 8px;
      min-width: 0;
    }
    legend {
      font-size: 12px;
      color: var(--mat-sys-on-surface-variant);
    }
    .tick {
      align-self: center;
    }
  `,
})
export class SchemaForm {
  readonly schema = input.required<JsonSchema>();
  readonly typed = model.required<TypedForm>();
  readonly problems = input<ReadonlyMap<string, string>>(new Map());
  readonly path = input('');
  /** Only these fields, in this order; all where it is left out. */
  readonly only = input<readonly string[] | null>(null);
  readonly labels = input<Readonly<Record<string, string>>>({});
  readonly wide = input<readonly string[]>([]);

  protected readonly shown = computed(() => {
    const fields = fieldsOf(this.schema());
    const only = this.only();
    return only ? only.flatMap((key) => fields.find((field) => field.key === key) ?? []) : fields;
  });

  protected optionsOf({ options, optional, nullable }: SchemaField): Option<string>[] {
    const none = optional || nullable ? [{ value: '', text: nullable ? 'none' : '' }] : [];
    return [...none, ...options.map((option) => ({ value: String(option), text: wordOf(option) }))];
  }

  protected problemOf(field: SchemaField): string | null {
    return this.problems().get(this.path() + field.key) ?? null;
  }

  protected rowsOf(field: SchemaField): TypedForm[] {
    return (this.typed()[field.key] as TypedForm[] | undefined) ?? [];
  }

  protected type(key: string, value: Typed): void {
    this.typed.update((typed) => ({ ...typed, [key]: value }));
  }

  protected typeRow(field: SchemaField, index: number, row: TypedForm): void {
    this.type(
      field.key,
      this.rowsOf(field).map((known, at) => (at === index ? row : known)),
    );
  }

  protected add(field: SchemaField): void {
    const rows = this.rowsOf(field);
    this.type(field.key, [...rows, rows.at(-1) ?? typedOf(field.row!, {})]);
  }

  protected drop(field: SchemaField, index: number): void {
    this.type(
      field.key,
      this.rowsOf(field).filter((_, at) => at !== index),
    );
  }
}
