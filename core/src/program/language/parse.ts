import { EOF, type IRecognitionException, type IToken } from 'chevrotain';
import type { Source } from './ast.js';
import { structuredText } from './parser.js';
import { Mistake, placeOf, type ProgramProblem } from './problem.js';
import * as T from './tokens.js';

/** A text longer than this is not read: nobody writes it, and it would hold up what waits. */
export const LONGEST_PROGRAM = 60_000;
/** Brackets and statements within each other. */
const DEEPEST = 60;

const opening = new Set([T.Open, T.OpenBracket, T.W.IF, T.W.CASE, T.W.FOR, T.W.WHILE, T.W.REPEAT, T.W.STRUCT]);
const closing = new Set([T.Close, T.CloseBracket, T.W.END_IF, T.W.END_CASE, T.W.END_FOR, T.W.END_WHILE, T.W.END_REPEAT, T.W.END_STRUCT]);
/** Signs before an operand, each of which is a level of its own. */
const before = new Set([T.Minus, T.Plus, T.W.NOT]);

/** The tree of a text, or what is wrong with it, in the order of the text. */
export function parse(
  text: string,
  longest = LONGEST_PROGRAM,
): { source: Source; problems: [] } | { source: null; problems: ProgramProblem[] } {
  if (text.length > longest)
    return {
      source: null,
      problems: [
        {
          line: 1,
          column: 1,
          message: `A program has at most ${longest.toLocaleString('en')} characters; this has ${text.length.toLocaleString('en')}.`,
        },
      ],
    };
  const { tokens, errors } = T.lexer.tokenize(text);
  if (errors.length > 0) return { source: null, problems: firstOfLines(errors.map((error) => unread(text, error))) };
  const unclosed = tokens.at(-1)?.tokenType === T.Unclosed ? tokens.at(-1)! : null;
  if (unclosed) return { source: null, problems: [{ ...placeOf(unclosed), message: 'This remark has no end.' }] };
  const tooDeep = deepest(tokens);
  if (tooDeep)
    return {
      source: null,
      problems: [{ ...placeOf(tooDeep), message: `More than ${DEEPEST} brackets or statements lie within each other here.` }],
    };
  const parser = structuredText();
  try {
    parser.input = tokens;
    const source = parser.source();
    const [error] = parser.errors;
    return error ? { source: null, problems: [unexpected(error, tokens)] } : { source, problems: [] };
  } catch (error) {
    if (error instanceof Mistake) return { source: null, problems: [{ ...error.at, message: error.message }] };
    throw error;
  }
}

function deepest(tokens: readonly IToken[]): IToken | null {
  let depth = 0;
  let signs = 0;
  let arrays = 0;
  for (const token of tokens) {
    if (opening.has(token.tokenType)) depth += 1;
    else if (closing.has(token.tokenType)) depth -= 1;
    signs = before.has(token.tokenType) ? signs + 1 : 0;
    if (token.tokenType === T.W.ARRAY) arrays += 1;
    else if (token.tokenType === T.Semicolon) arrays = 0;
    if (Math.max(depth, signs, arrays) > DEEPEST) return token;
  }
  return null;
}

/** What cannot be cut into words. */
function unread(
  text: string,
  { offset, length, line = 1, column = 1 }: { offset: number; length: number; line?: number | undefined; column?: number | undefined },
): ProgramProblem {
  const at = { line, column };
  const what = text.slice(offset, offset + Math.min(length, 20));
  if (what.startsWith("'")) return { ...at, message: "This text has no end: ' is missing on its line." };
  if (what.startsWith('"')) return { ...at, message: 'Texts stand between \' and \', not between " and ".' };
  return { ...at, message: `“${what}” has no meaning here.` };
}

/** What follows on a line is mostly not read because of what comes before. */
function firstOfLines(problems: readonly ProgramProblem[]): ProgramProblem[] {
  return problems.filter(({ line }, index) => problems[index - 1]?.line !== line).slice(0, 20);
}

/** Where something is missing, that is said right after what comes before it. */
function unexpected(error: IRecognitionException & { previousToken?: IToken }, tokens: readonly IToken[]): ProgramProblem {
  const { token, message } = error;
  const previous = error.previousToken ?? tokens.at(-1);
  const isMissing = message.startsWith('Expected “;”') || token.tokenType === EOF;
  const at = isMissing && previous?.endLine ? { line: previous.endLine, column: previous.endColumn! + 1 } : placeOf(token);
  return { ...at, message };
}
