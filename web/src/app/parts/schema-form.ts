import { ChangeDetectionStrategy, Component, computed, forwardRef, input } from '@angular/core';
import { type AbstractControl, type FormArray, type FormControl, type FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { Choose, type Option } from './choose';
import { HelpButton } from './help/help';
import type { HelpName } from './help/topics';
import { TextField } from './text-field';
import { wordOf } from './words';
import { changesOf, problemOf } from './schema-group';
import { defaultsOf, fieldsOf, groupOf, type JsonSchema, type SchemaField, type TypedForm, typedOf } from './schema-fields';

/** The fields that a schema asks for, over the controls of a group; see `groupOf`. What is wrong is shown at its field. */
@Component({
  selector: 'pe-schema-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, HelpButton, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, TextField, forwardRef(() => SchemaForm)],
  template: `<div class="fields">
    @for (field of shown(); track field.key) {
      @switch (field.kind) {
        @case ('tick') {
          <span class="tick" [attr.data-name]="field.key">
            <mat-checkbox [title]="field.hint" [name]="field.key" [formControl]="controlOf(field)">{{
              labels()[field.key] ?? field.label
            }}</mat-checkbox>
            @if (help()[field.key]; as topic) {
              <pe-help [topic]="topic" />
            }
          </span>
        }
        @case ('rows') {
          <fieldset class="wide">
            <legend>{{ labels()[field.key] ?? field.label }}</legend>
            @for (row of rowsOf(field).controls; track row) {
              <pe-schema-form [schema]="field.row!" [group]="row" [labels]="labels()" />
              <button mat-button type="button" (click)="drop(field, $index)">Take {{ $index + 1 }} out</button>
            }
            <button mat-button type="button" (click)="add(field)">Add one</button>
            @if (rowsProblem(field) ?? found().get(field.key); as text) {
              <span class="field-problem" role="alert">{{ text }}</span>
            }
          </fieldset>
        }
        @case ('choice') {
          <pe-choose
            [class.wide]="wide().includes(field.key)"
            [label]="labels()[field.key] ?? field.label"
            [hint]="field.hint"
            [help]="help()[field.key] ?? null"
            [name]="field.key"
            [options]="optionsOf(field)"
            [formControl]="controlOf(field)"
            [problem]="found().get(field.key) ?? null"
          />
        }
        @default {
          <pe-text
            [class.wide]="field.lines > 0 || field.kind === 'json' || field.kind === 'numbers' || wide().includes(field.key)"
            [label]="labels()[field.key] ?? field.label"
            [hint]="field.hint"
            [help]="help()[field.key] ?? null"
            [name]="field.key"
            [lines]="field.lines"
            [numeric]="field.kind === 'number'"
            [formControl]="controlOf(field)"
            [problem]="found().get(field.key) ?? null"
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
      display: flex;
      align-items: center;
    }
  `,
})
export class SchemaForm {
  readonly schema = input.required<JsonSchema>();
  readonly group = input.required<FormGroup<Record<string, AbstractControl>>>();
  /** What was found wrong with the thing as it is saved, by field. */
  readonly found = input<ReadonlyMap<string, string>>(new Map());
  /** Only these fields, in this order; all that the group has where it is left out. */
  readonly only = input<readonly string[] | null>(null);
  readonly labels = input<Readonly<Record<string, string>>>({});
  /** The fields that a drawing explains. */
  readonly help = input<Readonly<Record<string, HelpName>>>({});
  readonly wide = input<readonly string[]>([]);

  protected readonly shown = computed(() => {
    const fields = fieldsOf(this.schema()).filter(({ key }) => key in this.group().controls);
    const only = this.only();
    return only ? only.flatMap((key) => fields.find((field) => field.key === key) ?? []) : fields;
  });

  private readonly changes = changesOf(() => this.group().events);

  /** What is wrong with rows together, such as one that is there twice. */
  protected rowsProblem(field: SchemaField): string | null {
    this.changes();
    const rows = this.rowsOf(field);
    return rows.touched ? problemOf(rows) : null;
  }

  protected optionsOf({ options, optional, nullable }: SchemaField): Option<string>[] {
    const none = optional || nullable ? [{ value: '', text: nullable ? 'none' : '' }] : [];
    return [...none, ...options.map((option) => ({ value: String(option), text: wordOf(option) }))];
  }

  protected controlOf({ key }: SchemaField): FormControl {
    return this.group().controls[key] as FormControl;
  }

  protected rowsOf({ key }: SchemaField): FormArray<FormGroup<Record<string, AbstractControl>>> {
    return this.group().controls[key] as FormArray<FormGroup<Record<string, AbstractControl>>>;
  }

  /** One more, like the last. */
  protected add(field: SchemaField): void {
    const rows = this.rowsOf(field);
    const last = rows.controls.at(-1)?.getRawValue() as TypedForm | undefined;
    rows.push(groupOf(field.row!, last ?? typedOf(field.row!, defaultsOf(field.row!))));
    rows.markAsDirty();
  }

  protected drop(field: SchemaField, index: number): void {
    this.rowsOf(field).removeAt(index);
    this.rowsOf(field).markAsDirty();
  }
}
