import { closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { bracketMatching } from '@codemirror/language';
import { type Diagnostic, forEachDiagnostic, lintGutter, lintKeymap, setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view';
import {
  afterNextRender,
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  CSP_NONCE,
  DestroyRef,
  effect,
  ElementRef,
  forwardRef,
  inject,
  input,
  viewChild,
} from '@angular/core';
import { type ControlValueAccessor, NG_VALUE_ACCESSOR } from '@angular/forms';
import type { ProgramProblem } from '@plain-envoy/core/program';
import { besideLines, showBeside, type Values } from './beside-lines';
import { type Known, structuredText } from './language';

/** Typed over a choice, these go around it. */
const OPENING = /^[([']$/;

/** Structured Text to be written: coloured and completed as the grammar says, problems in their places, and values beside the lines. */
@Component({
  selector: 'pe-program-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div #host class="host"></div>`,
  styleUrl: './program-editor.scss',
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => ProgramEditor), multi: true }],
})
export class ProgramEditor implements ControlValueAccessor {
  private readonly host = viewChild.required<ElementRef<HTMLElement>>('host');
  readonly label = input.required<string>();
  /** Names that the device has besides those of the language. */
  readonly known = input<readonly Known[]>([]);
  readonly problems = input<readonly ProgramProblem[]>([]);
  readonly values = input<Values>(null);
  /** It is shown, and not to be changed. */
  readonly isFixed = input(false, { transform: booleanAttribute });

  private readonly nonce = inject(CSP_NONCE);
  private view: EditorView | null = null;
  private given = '';
  private tell: (text: string) => void = () => undefined;
  private left: () => void = () => undefined;

  constructor() {
    afterNextRender(() => {
      this.view = new EditorView({ state: this.begin(), parent: this.host().nativeElement });
      this.mark(this.problems());
      showBeside(this.view, this.values());
    });
    inject(DestroyRef).onDestroy(() => this.view?.destroy());
    effect(() => this.mark(this.problems()));
    effect(() => {
      const values = this.values();
      if (this.view) showBeside(this.view, values);
    });
  }

  writeValue(text: string | null): void {
    this.given = text ?? '';
    if (this.view && this.view.state.doc.toString() !== this.given) this.view.setState(this.begin());
  }

  registerOnChange(tell: (text: string) => void): void {
    this.tell = tell;
  }

  registerOnTouched(left: () => void): void {
    this.left = left;
  }

  /** Writes a name where the cursor stands, and goes on there. */
  insert(name: string): void {
    const { view } = this;
    if (!view) return;
    view.dispatch(view.state.replaceSelection(name));
    view.focus();
  }

  focus(): void {
    this.view?.focus();
  }

  /** Goes to a place in the text. */
  goTo({ line, column }: Pick<ProgramProblem, 'line' | 'column'>): void {
    const { view } = this;
    if (!view) return;
    const at = placeIn(view.state, line, column);
    view.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) });
    view.focus();
  }

  private begin(): EditorState {
    return EditorState.create({
      doc: this.given,
      extensions: [
        lineNumbers(),
        history(),
        bracketMatching(),
        closeBrackets(),
        highlightActiveLine(),
        lintGutter(),
        besideLines,
        ...(this.nonce ? [EditorView.cspNonce.of(this.nonce)] : []),
        structuredText(() => this.known()),
        EditorState.readOnly.of(this.isFixed()),
        keymap.of([...closeBracketsKeymap, ...defaultKeymap, ...historyKeymap, ...completionKeymap, ...lintKeymap]),
        EditorView.contentAttributes.of({ 'aria-label': this.label(), spellcheck: 'false', tabindex: '0' }),
        EditorView.domEventHandlers({ beforeinput: replaceChosen }),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) this.tell(update.state.doc.toString());
          if (update.focusChanged && !update.view.hasFocus) this.left();
        }),
      ],
    });
  }

  private mark(problems: readonly ProgramProblem[]): void {
    const { view } = this;
    if (!view) return;
    let shown = 0;
    forEachDiagnostic(view.state, () => (shown += 1));
    if (problems.length === 0 && shown === 0) return;
    const { state } = view;
    const found = problems.map(({ line, column, message }): Diagnostic => {
      const from = placeIn(state, line, column);
      const word = /^\w+/.exec(state.sliceDoc(from, state.doc.lineAt(from).to))?.[0] ?? '';
      return { from, to: Math.min(from + Math.max(1, word.length), state.doc.length), severity: 'error', message };
    });
    view.dispatch(setDiagnostics(state, found));
  }
}

/** What is typed over a choice of lines is put there by us: the browser would dress it in the styles of what goes, which the page forbids. */
function replaceChosen({ inputType, data }: InputEvent, view: EditorView): boolean {
  if (inputType !== 'insertText' || !data || view.state.selection.main.empty || OPENING.test(data)) return false;
  view.dispatch({ ...view.state.replaceSelection(data), userEvent: 'input.type', scrollIntoView: true });
  return true;
}

/** As far as the text goes. */
function placeIn(state: EditorState, line: number, column: number): number {
  const at = state.doc.line(Math.min(Math.max(1, line), state.doc.lines));
  return Math.min(at.from + Math.max(0, column - 1), at.to);
}
