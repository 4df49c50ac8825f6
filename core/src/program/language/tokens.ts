import { createToken, Lexer, type TokenType } from 'chevrotain';

/** Words that Structured Text keeps for itself, in the order in which a text is cut into words (IEC 61131-3, table 4). */
export const words = [
  ...['PROGRAM', 'END_PROGRAM', 'FUNCTION_BLOCK', 'END_FUNCTION_BLOCK', 'FUNCTION', 'END_FUNCTION', 'TYPE', 'END_TYPE', 'STRUCT'],
  ...['END_STRUCT', 'VAR_INPUT', 'VAR_OUTPUT', 'VAR_IN_OUT', 'VAR_GLOBAL', 'VAR_EXTERNAL', 'VAR_TEMP', 'VAR', 'END_VAR', 'CONSTANT'],
  ...['NON_RETAIN', 'RETAIN', 'AT', 'ARRAY', 'OF', 'STRING', 'IF', 'THEN', 'ELSIF', 'ELSE', 'END_IF', 'CASE', 'END_CASE', 'FOR', 'TO'],
  ...['BY', 'DO', 'END_FOR', 'WHILE', 'END_WHILE', 'REPEAT', 'UNTIL', 'END_REPEAT', 'EXIT', 'CONTINUE', 'RETURN', 'TRUE', 'FALSE'],
  ...['AND', 'OR', 'XOR', 'NOT', 'MOD'],
] as const;
export type Word = (typeof words)[number];

export const Identifier = createToken({ name: 'a name', pattern: /[A-Za-z_]\w*/ });

const pairs = words.map(
  (word) => [word, createToken({ name: word, pattern: new RegExp(`${word}\\b`, 'i'), longer_alt: Identifier })] as const,
);
/** The token of each word of the language. */
export const W = Object.fromEntries(pairs) as Record<Word, TokenType>;

const sign = (name: string, pattern: RegExp | string) => createToken({ name, pattern });
export const Assign = sign(':=', ':=');
export const Gives = sign('=>', '=>');
export const Colon = sign(':', ':');
export const Semicolon = sign(';', ';');
export const Comma = sign(',', ',');
export const Range = sign('..', '..');
export const Dot = sign('.', '.');
export const Open = sign('(', '(');
export const Close = sign(')', ')');
export const OpenBracket = sign('[', '[');
export const CloseBracket = sign(']', ']');
export const Power = sign('**', '**');
export const Star = sign('*', '*');
export const Slash = sign('/', '/');
export const Plus = sign('+', '+');
export const Minus = sign('-', '-');
export const Unequal = sign('<>', '<>');
export const AtMost = sign('<=', '<=');
export const AtLeast = sign('>=', '>=');
export const Below = sign('<', '<');
export const Above = sign('>', '>');
export const Equal = sign('=', '=');
export const Ampersand = sign('&', '&');

/** `T#1s500ms`, `TIME#-2h` */
export const Duration = sign('a time like T#1s500ms', /(?:LTIME|LT|TIME|T)#[+-]?[\w.]+/i);
/** `INT#`, before a literal or the name of an enumerated value. */
export const Prefix = sign('a type and #', /[A-Za-z_]\w*#/y);
export const Based = sign('a number like 16#FF', /(?:2|8|16)#[\dA-F_]+/i);
export const Real = sign('a number like 1.5', /\d[\d_]*\.\d[\d_]*(?:E[+-]?\d+)?|\d[\d_]*E[+-]?\d+/iy);
export const Whole = sign('a whole number', /\d[\d_]*/);
export const Text = sign("a text like 'abc'", /'(?:[^'$\r\n]|\$[^\r\n])*'/);
/** `%MW10`, where a variable lies in a controller. */
export const Direct = sign('a place like %MW10', /%[IQM][XBWDL]?\d+(?:\.\d+)*/i);
/** `%B2.1`, where a controller has areas by names of its own. */
export const InArea = sign('a place like %B2', /%[A-Z]\w*?\d+(?:\.\d+)*/iy);
/** `.%X3` and its like: a part of a bit string; so may be called an area of a controller, as in `%B2.1`. */
export const Part = createToken({ name: 'a part like %X3', label: 'a part like %X3', pattern: /%[XBWD]\d+/i, longer_alt: InArea });

const blank = createToken({ name: 'blank', pattern: /\s+/, group: Lexer.SKIPPED, line_breaks: true });
const lineComment = createToken({ name: 'a remark', pattern: /\/\/[^\r\n]*/, group: Lexer.SKIPPED });
/** Remarks lie within each other (edition 3, section 6.1.5); pragmas do not. */
const remark = createToken({
  name: 'a remark',
  pattern: (text, offset) => nested(text, offset, '(*', '*)') ?? nested(text, offset, '/*', '*/') ?? pragma(text, offset),
  group: Lexer.SKIPPED,
  line_breaks: true,
  start_chars_hint: ['(', '/', '{'],
});
/** What begins like a remark and goes on to the end of the text. */
export const Unclosed = createToken({
  name: 'a remark without an end',
  pattern: (text, offset) => (['(*', '/*', '{'].some((open) => text.startsWith(open, offset)) ? [text.slice(offset)] : null),
  line_breaks: true,
  start_chars_hint: ['(', '/', '{'],
});

export const allTokens: TokenType[] = [
  ...[
    blank,
    remark,
    Unclosed,
    lineComment,
    Duration,
    Based,
    Prefix,
    ...pairs.map(([, token]) => token),
    Identifier,
    Real,
    Whole,
    Text,
    Direct,
    Part,
    InArea,
  ],
  ...[Assign, Gives, Power, Range, Unequal, AtMost, AtLeast, Colon, Semicolon, Comma, Dot, Open, Close, OpenBracket, CloseBracket],
  ...[Star, Slash, Plus, Minus, Below, Above, Equal, Ampersand],
];

export const lexer = new Lexer(allTokens, { ensureOptimizations: true, positionTracking: 'full' });

/** A remark with others in it, as far as it is closed. */
function nested(text: string, offset: number, open: string, close: string): [string] | null {
  if (!text.startsWith(open, offset)) return null;
  let depth = 0;
  for (let at = offset; at < text.length; at++) {
    if (text.startsWith(open, at)) {
      depth += 1;
      at += 1;
    } else if (text.startsWith(close, at)) {
      depth -= 1;
      at += 1;
      if (depth === 0) return [text.slice(offset, at + 1)];
    }
  }
  return null;
}

function pragma(text: string, offset: number): [string] | null {
  if (text[offset] !== '{') return null;
  const end = text.indexOf('}', offset);
  return end < 0 ? null : [text.slice(offset, end + 1)];
}
