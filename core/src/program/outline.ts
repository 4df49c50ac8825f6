import { lexer, tokens as T } from './language/index.js';

/** Where lines may be written into a program: offsets in its text. */
export interface Outline {
  /** Where a variable is declared, and whether a block of variables is there already. */
  declareAt: number;
  hasBlock: boolean;
  /** Where statements end. */
  linesAt: number;
}

/** The places in the PROGRAM of a text; null where it has none that is closed. */
export function outlineOf(text: string): Outline | null {
  const { tokens } = lexer.tokenize(text);
  const from = tokens.findIndex(({ tokenType }) => tokenType === T.PROGRAM);
  const to = tokens.findIndex(({ tokenType }, index) => index > from && tokenType === T.END_PROGRAM);
  const name = tokens[from + 1];
  if (from < 0 || to < 0 || !name) return null;
  const linesAt = tokens[to]!.startOffset;
  // Only a plain block: constants and inputs are something else.
  const block = tokens.findIndex(({ tokenType }, index) => index > from && index < to && tokenType === T.VAR);
  const isPlain = block >= 0 && tokens[block + 1]?.tokenType !== T.CONSTANT && tokens[block + 1]?.tokenType !== T.RETAIN;
  const end = isPlain ? tokens.findIndex(({ tokenType }, index) => index > block && tokenType === T.END_VAR) : -1;
  if (end > 0) return { declareAt: tokens[end]!.startOffset, hasBlock: true, linesAt };
  return { declareAt: name.endOffset! + 1, hasBlock: false, linesAt };
}
