import { ChangeDetectionStrategy, Component, computed, effect, type ElementRef, inject, output, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { describeReckoners, reckon } from '@plain-envoy/core/reckoner';
import { Editor } from '../data/editor';
import { arrowStep } from '../parts/keys';
import { groupOf, type JsonSchema, type TypedForm, typedOf, valueOf } from '../parts/schema-fields';
import { issuesValidator, problemIn, valueIn } from '../parts/schema-group';
import { SchemaForm } from '../parts/schema-form';
import { ResultView } from './result-view';

const all = describeReckoners();

/** Every calculation on every screen: search it, type, and read the result while typing. */
@Component({
  selector: 'pe-reckoner-drawer',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ResultView, SchemaForm],
  template: `<header>
      <h2>Reckoner</h2>
      <button mat-button type="button" (click)="closed.emit()">Close</button>
    </header>
    <input
      #search
      class="search"
      type="search"
      aria-label="Search the reckoners"
      placeholder="A name, or what it is about"
      autocomplete="off"
      (input)="text.set(search.value)"
      (keydown)="step($event)"
    />
    <ul role="listbox" aria-label="Reckoners">
      @for (row of found(); track row.name) {
        <li
          role="option"
          tabindex="-1"
          [attr.aria-selected]="row.name === chosen().name"
          (click)="name.set(row.name)"
          (keydown.enter)="name.set(row.name)"
        >
          {{ row.name }}
        </li>
      } @empty {
        <li class="quiet">No reckoner is about that.</li>
      }
    </ul>
    <p class="quiet">{{ chosen().sentence }}</p>
    <pe-schema-form [schema]="schema()" [group]="form()" />
    @if (whole(); as message) {
      <p class="problem" role="alert">{{ message }}</p>
    }
    @if (result(); as value) {
      <section aria-label="Result" aria-live="polite">
        <pe-result [value]="value" />
        <button mat-button type="button" (click)="copy(value)">Copy the result</button>
      </section>
    }`,
  styles: `
    :host {
      position: fixed;
      inset: 44px 0 0 auto;
      z-index: 15;
      box-sizing: border-box;
      width: 440px;
      overflow: auto;
      padding: 8px 16px 16px;
      background: var(--mat-sys-surface-container-high);
      border-left: 1px solid var(--mat-sys-outline);
      box-shadow: -6px 0 24px rgb(0 0 0 / 0.15);
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: center;
    }
    .search {
      width: 100%;
      box-sizing: border-box;
      font: inherit;
      padding: 6px 10px;
      color: inherit;
      background: var(--mat-sys-surface);
      border: 1px solid var(--mat-sys-outline);
      border-radius: 4px;
    }
    ul {
      list-style: none;
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
      margin: 8px 0;
      padding: 0;
    }
    li {
      padding: 2px 10px;
      cursor: pointer;
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 4px;
      font-family: var(--pe-mono);
      font-size: 13px;
    }
    li[aria-selected='true'] {
      background: var(--mat-sys-primary-container);
      border-color: var(--pe-carried);
    }
    section {
      margin-top: 12px;
      padding-top: 8px;
      border-top: 2px solid var(--mat-sys-on-surface);
    }
  `,
  host: { '(keydown.escape)': 'closed.emit()', role: 'complementary', 'aria-label': 'Reckoner' },
})
export class ReckonerDrawer {
  private readonly editor = inject(Editor);
  readonly closed = output();
  private readonly search = viewChild.required<ElementRef<HTMLInputElement>>('search');

  protected readonly text = signal('');
  protected readonly name = signal(all[0]!.name);
  protected readonly found = computed(() => {
    const words = this.text().toLowerCase().split(/\s+/).filter(Boolean);
    return all.filter(({ name, sentence }) => words.every((word) => `${name} ${sentence}`.toLowerCase().includes(word)));
  });
  protected readonly chosen = computed(() => this.found().find(({ name }) => name === this.name()) ?? this.found()[0] ?? all[0]!);
  protected readonly schema = computed(() => this.chosen().input as JsonSchema);
  /** What is typed for each reckoner stays while another is looked at. */
  private readonly kept = new Map<string, ReturnType<typeof groupOf>>();
  protected readonly form = computed(() => {
    const { name, example } = this.chosen();
    const known = this.kept.get(name);
    if (known) return known;
    const form = groupOf(this.schema(), typedOf(this.schema(), example as Record<string, unknown>));
    form.addValidators(
      issuesValidator((typed: TypedForm) => {
        const outcome = reckon(name, valueOf(this.schema(), typed));
        return outcome.ok ? [] : [outcome.problem];
      }),
    );
    // Wherever something does not fit is said at once, since the result is there at once.
    form.markAllAsTouched();
    this.kept.set(name, form);
    return form;
  });
  private readonly typed = valueIn(this.form);
  private readonly outcome = computed(() => reckon(this.chosen().name, valueOf(this.schema(), this.typed() as TypedForm)));
  protected readonly result = computed(() => {
    const outcome = this.outcome();
    return outcome.ok ? (outcome.value as Record<string, unknown>) : null;
  });
  /** What belongs to no field that is shown. */
  protected readonly whole = problemIn(this.form);

  constructor() {
    effect(() => this.search().nativeElement.focus());
  }

  protected step(event: KeyboardEvent): void {
    const by = arrowStep(event);
    const names = this.found().map(({ name }) => name);
    if (!by || names.length === 0) return;
    event.preventDefault();
    this.name.set(names[(names.indexOf(this.chosen().name) + by + names.length) % names.length]!);
  }

  protected async copy(value: Record<string, unknown>): Promise<void> {
    await navigator.clipboard.writeText(JSON.stringify(value, null, 2));
    this.editor.say(`Copied: the result of ${this.chosen().name}`);
  }
}
