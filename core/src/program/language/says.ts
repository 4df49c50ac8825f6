import { EOF, type IParserErrorMessageProvider, type IToken, type TokenType } from 'chevrotain';
import { closest, distance } from 'fastest-levenshtein';
import * as T from './tokens.js';

/** What the parser says where a text goes on otherwise than the language: what was expected, what is there, and what is near. */
export const says: IParserErrorMessageProvider = {
  buildMismatchTokenMessage: ({ expected, actual }) => {
    if (expected === T.Assign && actual.tokenType === T.Equal) return '“=” compares. A value is given with “:=”.';
    return `Expected ${named(expected)} here, but there is ${found(actual)}.${near(actual, [expected])}`;
  },
  buildNotAllInputParsedMessage: ({ firstRedundant }) => beyond(firstRedundant),
  buildNoViableAltMessage: ({ expectedPathsPerAlt, actual, previous, ruleName }) => {
    const [first, second] = actual as [IToken, IToken | undefined];
    if (ruleName === 'an assignment or a call' && first.tokenType === T.Equal) return '“=” compares. A value is given with “:=”.';
    const misspelt = previous.tokenType === T.Identifier ? near(previous, Object.values(T.W)) : '';
    if (ruleName === 'an assignment or a call' && misspelt) return `“${previous.image}” is no statement.${misspelt}`;
    const firsts = [...new Set(expectedPathsPerAlt.flat().flatMap(([token]) => (token ? [token] : [])))];
    return `Expected ${few(firsts, ruleName)} here, but there is ${found(first ?? second)}.${near(first, firsts)}`;
  },
  buildEarlyExitMessage: ({ expectedIterationPaths, actual, ruleName }) => {
    const firsts = [...new Set(expectedIterationPaths.flatMap(([token]) => (token ? [token] : [])))];
    return `Expected ${few(firsts, ruleName)} here, but there is ${found(actual[0]!)}.`;
  },
};

function beyond(token: IToken): string {
  return `Expected PROGRAM, FUNCTION, FUNCTION_BLOCK, TYPE or VAR_GLOBAL here, but there is ${found(token)}.${near(token, [T.W.PROGRAM, T.W.FUNCTION, T.W.FUNCTION_BLOCK, T.W.TYPE, T.W.VAR_GLOBAL])}`;
}

function few(tokens: readonly TokenType[], ruleName: string): string {
  if (tokens.length > 6) return ruleName;
  const names = tokens.map(named);
  return names.length > 1 ? `${names.slice(0, -1).join(', ')} or ${names.at(-1)}` : (names[0] ?? ruleName);
}

function named(token: TokenType): string {
  const { name, PATTERN } = token;
  return typeof PATTERN === 'string' ? `“${PATTERN}”` : name;
}

function found(token: IToken): string {
  return token.tokenType === EOF ? 'the end of the text' : `“${token.image.length > 30 ? `${token.image.slice(0, 30)}…` : token.image}”`;
}

/** A word of the language that was probably meant. */
function near(token: IToken, expected: readonly TokenType[]): string {
  if (token.tokenType !== T.Identifier) return '';
  const words = expected.flatMap(({ PATTERN, name }) => (PATTERN instanceof RegExp && /^[A-Z_]+$/.test(name) ? [name] : []));
  const word = meant(token.image, words);
  return word ? ` Did you mean ${word}?` : '';
}

/** The candidate that takes few typing mistakes to become the word; null where none is near. */
export function meant(word: string, candidates: readonly string[]): string | null {
  if (candidates.length === 0) return null;
  const lower = new Map(candidates.map((candidate) => [candidate.toLowerCase(), candidate]));
  const best = closest(word.toLowerCase(), [...lower.keys()]);
  const typos = distance(word.toLowerCase(), best);
  return typos < word.length && typos <= Math.max(1, Math.floor(word.length / 3)) ? lower.get(best)! : null;
}
