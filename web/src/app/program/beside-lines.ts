import { type Extension, StateEffect, StateField } from '@codemirror/state';
import { Decoration, type DecorationSet, EditorView, WidgetType } from '@codemirror/view';

/** What variables hold now, by their names; null while nobody knows. */
export type Values = Readonly<Record<string, unknown>> | null;

const show = StateEffect.define<Values>();

class Beside extends WidgetType {
  constructor(private readonly text: string) {
    super();
  }

  override eq(other: Beside): boolean {
    return other.text === this.text;
  }

  override toDOM(): HTMLElement {
    const span = document.createElement('span');
    span.className = 'beside-line';
    span.textContent = this.text;
    span.setAttribute('aria-hidden', 'true');
    return span;
  }
}

/** At the end of each line, what the variables hold that it gives a value. */
const field = StateField.define<{ values: Values; marks: DecorationSet }>({
  create: () => ({ values: null, marks: Decoration.none }),
  update(before, transaction) {
    const told = transaction.effects.find((effect) => effect.is(show));
    if (!told && !transaction.docChanged) return before;
    const values = told ? (told.value as Values) : before.values;
    const marks = [];
    for (let number = 1; values && number <= transaction.state.doc.lines; number++) {
      const line = transaction.state.doc.line(number);
      const text = besideLine(line.text, values);
      if (text) marks.push(Decoration.widget({ widget: new Beside(text), side: 1 }).range(line.to));
    }
    return { values, marks: Decoration.set(marks) };
  },
  provide: (own) => EditorView.decorations.from(own, ({ marks }) => marks),
});

export const besideLines: Extension = field;

export function showBeside(view: EditorView, values: Values): void {
  view.dispatch({ effects: show.of(values) });
}

/** `41.2`, or `speed = 41.2, state = 2`: what the variables hold that a line gives a value, or calls. */
export function besideLine(line: string, values: NonNullable<Values>): string {
  const code = line.split('(*')[0]!.split('//')[0]!;
  const targets = [...code.matchAll(/(?<![\w.])[A-Za-z_][\w.]*(?=\s*(?::=|\())/g)].map(([name]) => name);
  const held = [...new Set(targets)].flatMap((name) => {
    const value = valueOf(name, values);
    return value === undefined ? [] : [[name, text(value)] as const];
  });
  if (held.length === 1) return held[0]![1];
  return held
    .slice(0, 4)
    .map(([name, value]) => `${name} = ${value}`)
    .join(', ');
}

/** Of a structure, a block or a bit its own value; names have no case. */
function valueOf(path: string, values: NonNullable<Values>): unknown {
  return path.split('.').reduce<unknown>((value, step) => {
    if (typeof value === 'number' && /^\d+$/.test(step)) return Math.floor(value / 2 ** Number(step)) % 2 === 1;
    if (typeof value !== 'object' || value === null) return undefined;
    const key = Object.keys(value).find((one) => one.toLowerCase() === step.toLowerCase());
    return key === undefined ? undefined : (value as Record<string, unknown>)[key];
  }, values);
}

/** A value as it is read beside a line. */
export function text(value: unknown): string {
  if (typeof value === 'number') return Number.isInteger(value) ? String(value) : String(Number(value.toPrecision(6)));
  if (typeof value === 'string') return /^-?\d+$/.test(value) ? value : `'${value}'`;
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  if (Array.isArray(value)) return `[${value.slice(0, 6).map(text).join(', ')}${value.length > 6 ? ', …' : ''}]`;
  if (typeof value === 'object' && value !== null) {
    const parts = Object.entries(value).slice(0, 5);
    return `(${parts.map(([name, part]) => `${name} ${text(part)}`).join(', ')})`;
  }
  return '?';
}
