import { autocompletion, type Completion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { HighlightStyle, LanguageSupport, StreamLanguage, type StringStream, syntaxHighlighting } from '@codemirror/language';
import { tags } from '@lezer/highlight';
import { elementaryNames, languageWords, standardBlocks, standardFunctions } from '@plain-envoy/core/program';

const words = new Set<string>(languageWords);
const types = new Set<string>([...elementaryNames, 'STRING']);
const blocks = new Set(standardBlocks.map(({ name }) => name));
const functions = new Set(standardFunctions.map(({ name }) => name));

/** How deep remarks lie within each other. */
interface Remarks {
  depth: number;
}

/** Structured Text as it is coloured: words, types, functions and blocks are those that the grammar knows. */
const language = StreamLanguage.define<Remarks>({
  name: 'structured text',
  startState: () => ({ depth: 0 }),
  token: (stream, state) => (state.depth > 0 || stream.match('(*') ? remark(stream, state) : word(stream)),
  languageData: { commentTokens: { line: '//', block: { open: '(*', close: '*)' } }, closeBrackets: { brackets: ['(', '[', "'"] } },
});

function remark(stream: StringStream, state: Remarks): string {
  if (state.depth === 0) state.depth = 1;
  while (!stream.eol() && state.depth > 0) {
    if (stream.match('(*')) state.depth += 1;
    else if (stream.match('*)')) state.depth -= 1;
    else stream.next();
  }
  return 'comment';
}

function word(stream: StringStream): string | null {
  if (stream.eatSpace()) return null;
  if (stream.match('//')) {
    stream.skipToEnd();
    return 'comment';
  }
  if (stream.match(/^'(?:[^'$]|\$.)*'?/)) return 'string';
  if (stream.match(/^(?:t|time)#[\w.+-]+/i) || stream.match(/^(?:2|8|16)#\w+/) || stream.match(/^\d[\d_]*(?:\.\d[\d_]*)?(?:e[+-]?\d+)?/i))
    return 'number';
  if (stream.match(/^[A-Za-z_]\w*/)) {
    const text = stream.current().toUpperCase();
    if (text === 'TRUE' || text === 'FALSE') return 'number';
    if (words.has(text)) return 'keyword';
    if (types.has(text) || blocks.has(text)) return 'typeName';
    return functions.has(text) ? 'variableName.function' : 'variableName';
  }
  stream.next();
  return null;
}

const look = HighlightStyle.define([
  { tag: tags.keyword, fontWeight: '600', color: 'var(--mat-sys-on-surface)' },
  { tag: tags.comment, fontStyle: 'italic', color: 'var(--mat-sys-on-surface-variant)' },
  { tag: [tags.string, tags.number], color: 'var(--pe-carried)' },
  { tag: tags.typeName, textDecoration: 'underline dotted', color: 'var(--mat-sys-on-surface)' },
]);

/** A name that may be written, and what it is. */
export interface Known {
  name: string;
  what: string;
}

/** Structured Text with completion of what the language and this device have. */
export function structuredText(points: () => readonly Known[]): LanguageSupport {
  return new LanguageSupport(language, [
    syntaxHighlighting(look),
    autocompletion({ override: [(context) => complete(context, points())], icons: false }),
  ]);
}

const ofLanguage: readonly Completion[] = [
  ...languageWords.map((label): Completion => ({ label, type: 'keyword' })),
  ...[...types].map((label): Completion => ({ label, detail: 'type' })),
  ...standardBlocks.map(({ name, variables }): Completion => ({
    label: name,
    detail: `block: ${variables.map((one) => one.name).join(', ')}`,
  })),
  // Conversions are hundreds; they come once the name of a type and _TO are typed.
  ...standardFunctions.map(({ name, parameters, says, ours }): Completion => ({
    label: name,
    apply: `${name}(`,
    detail: `(${parameters.join(', ')})`,
    info: ours ? `${says} For stand-ins only.` : says,
    boost: /_TO_|^TO_|BCD|TRUNC_/.test(name) ? -50 : ours ? 10 : 0,
  })),
];

function complete(context: CompletionContext, points: readonly Known[]): CompletionResult | null {
  const typed = context.matchBefore(/[A-Za-z_]\w*/);
  if (!typed && !context.explicit) return null;
  const own = [...new Set(context.state.doc.toString().match(/[A-Za-z_]\w*/g) ?? [])];
  const known = new Set([...ofLanguage.map(({ label }) => label.toUpperCase()), ...points.map(({ name }) => name.toUpperCase())]);
  return {
    from: typed?.from ?? context.pos,
    options: [
      ...points.map(({ name, what }): Completion => ({ label: name, detail: what, boost: 50 })),
      ...own.filter((name) => !known.has(name.toUpperCase()) && name !== typed?.text).map((label): Completion => ({ label, boost: 20 })),
      ...ofLanguage,
    ],
    validFor: /^\w*$/,
  };
}
