import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { type CellField, cellOf, fieldOf, type MapField } from '@plain-envoy/core/fields';
import type { KnownWord, UnknownWord } from '@plain-envoy/core/format';
import { pointTypes } from '@plain-envoy/core/types';
import { Api } from '../../data/api';
import { asOptions, Choose, type Option } from '../../parts/choose';

const LABELS: Partial<Record<MapField, string>> = { type: 'types', access: 'access', table: 'tables', order: 'byte orders' };

/** Words of a manual that are not known: a person says once what each means, and it is known from then on, for all manuals. */
@Component({
  selector: 'pe-import-words',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule],
  template: `@for (word of unknown(); track word.field + word.word) {
      <div class="word" [attr.data-word]="word.word">
        <span>“{{ word.word }}” among the {{ nameOf(word.field) }} ({{ word.rows }} row{{ word.rows === 1 ? '' : 's' }}) means</span>
        <pe-choose
          [aria]="'What ' + word.word + ' means'"
          name="word"
          placeholder="not said yet"
          [options]="optionsOf(word.field)"
          [value]="null"
          (valueChange)="learn(word, $event)"
        />
      </div>
    }
    @for (word of known(); track word.field + word.word) {
      <div class="word quiet">
        <span>“{{ word.word }}” among the {{ nameOf(word.field) }} was said to mean {{ word.meaning || 'nothing' }}.</span>
        <button
          mat-button
          type="button"
          name="forget-word"
          [attr.aria-label]="'Forget what ' + word.word + ' means'"
          (click)="forget(word)"
        >
          Forget it
        </button>
      </div>
    }`,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 24px;
    }
    .word {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    pe-choose {
      width: 150px;
    }
  `,
})
export class ImportWords {
  private readonly api = inject(Api);
  readonly unknown = input.required<readonly UnknownWord[]>();
  readonly known = input.required<readonly KnownWord[]>();
  /** What is known has changed: the file is to be read again. */
  readonly changed = output();
  readonly failed = output<string>();

  protected nameOf(field: MapField): string {
    return LABELS[field] ?? field;
  }

  protected optionsOf(field: MapField): Option<string | null>[] {
    const cell = fieldOf(field).cell ? cellOf(field as CellField) : null;
    return [...asOptions<string>(cell?.choices ?? pointTypes), { value: '', text: 'nothing', more: 'it is left as it is' }];
  }

  protected learn({ field, word }: UnknownWord, meaning: string | null): void {
    if (meaning !== null) this.send(this.api.put('words', { field, word, meaning }));
  }

  protected forget({ field, word }: KnownWord): void {
    this.send(this.api.delete(`words?${new URLSearchParams({ field, word })}`));
  }

  private send(asked: ReturnType<Api['delete']>): void {
    asked.subscribe((answer) => (answer.ok ? this.changed.emit() : this.failed.emit(answer.problem.message)));
  }
}
