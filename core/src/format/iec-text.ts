import type { Variable } from './declare.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** A list of variables as the text of IEC 61131-3: `VAR … END_VAR` with located variables, those that are retained in a block of their own. */
export function iecText(title: string, variables: readonly Variable[]): string {
  const retained = variables.filter(({ retain }) => retain);
  const others = variables.filter(({ retain }) => !retain);
  const blocks = [
    ...(others.length || !retained.length ? ['VAR_GLOBAL', ...others.map(declarationOf), 'END_VAR'] : []),
    ...(retained.length ? ['VAR_GLOBAL RETAIN', ...retained.map(declarationOf), 'END_VAR'] : []),
  ];
  return [`(* ${withoutEnd(title)} *)`, ...blocks, ''].join('\n');
}

function declarationOf({ name, address, type, comment, initial }: Variable): string {
  return `  ${name} AT ${address} : ${type}${initial ? ` := ${initial}` : ''};${comment ? ` (* ${withoutEnd(comment)} *)` : ''}`;
}

/** What stands in a comment cannot end it, nor begin another in it. */
export function withoutEnd(comment: string): string {
  return comment.replaceAll('*)', '* )').replaceAll('(*', '( *');
}

/** A declaration found in the text, with the line at which it stands. */
export interface Declared extends Variable {
  line: number;
}

const BEGIN = /\bVAR(?:_GLOBAL|_EXTERNAL|_INPUT|_OUTPUT|_IN_OUT|_TEMP)?\b(?:\s+(?:RETAIN|NON_RETAIN|CONSTANT)\b)*/gi;
const END = /\bEND_VAR\b/gi;
const NAME = /^[A-Za-z_]\w*$/;
const ADDRESS = /^%[A-Za-z]+\d+(?:\.\d+)*$/;

/** Finds the declared variables, in time that grows with the text alone. A text without a VAR block is refused. */
export function readIecText(text: string): Outcome<Declared[]> {
  const found: Declared[] = [];
  const lineAt = lineCounter(text);
  let blocks = 0;
  BEGIN.lastIndex = 0;
  for (let begin = BEGIN.exec(text); begin; begin = BEGIN.exec(text)) {
    END.lastIndex = BEGIN.lastIndex;
    const end = END.exec(text);
    if (!end) break;
    blocks += 1;
    for (const { statement, comment, at } of statementsIn(text, BEGIN.lastIndex, end.index)) {
      for (const variable of declared(statement)) found.push({ ...variable, comment, line: lineAt(at) });
    }
    BEGIN.lastIndex = END.lastIndex;
  }
  return blocks ? good(found) : bad('There is no VAR … END_VAR block in it.');
}

interface Statement {
  statement: string;
  comment: string;
  at: number;
}

/** What ends in a semicolon, each with the comment that stands behind it on its line. Comments elsewhere say nothing of it. */
function statementsIn(text: string, from: number, to: number): Statement[] {
  const statements: Statement[] = [];
  let [parts, first]: [string[], number] = [[], -1];
  /** The statement that a comment would belong to: the last, as long as its line goes on. */
  let open: Statement | null = null;
  for (let at = from; at < to;) {
    const comment = commentAt(text, at, to);
    const end = comment?.end ?? (text[at] === ';' ? at + 1 : nextOf(text, at + 1, to));
    const part = text.slice(at, end);
    if (comment) {
      if (open) open.comment = comment.text;
      open = null;
    } else if (part === ';') {
      open = first < 0 ? null : { statement: parts.join(''), comment: '', at: first };
      if (open) statements.push(open);
      [parts, first] = [[], -1];
    } else {
      if (/[\r\n\S]/.test(part)) open = null;
      if (first < 0 && part.trim()) first = at + part.search(/\S/);
      if (first >= 0) parts.push(part);
    }
    at = end;
  }
  return statements;
}

/** Where the next semicolon or comment may begin. */
function nextOf(text: string, from: number, to: number): number {
  for (let at = from; at < to; at++) if (text[at] === ';' || text[at] === '(' || text[at] === '/') return at;
  return to;
}

function commentAt(text: string, at: number, to: number): { text: string; end: number } | null {
  if (text.startsWith('(*', at)) {
    const close = text.indexOf('*)', at + 2);
    return close < 0 || close >= to
      ? { text: text.slice(at + 2, to).trim(), end: to }
      : { text: text.slice(at + 2, close).trim(), end: close + 2 };
  }
  if (!text.startsWith('//', at)) return null;
  let end = at;
  while (end < to && text[end] !== '\r' && text[end] !== '\n') end += 1;
  return { text: text.slice(at + 2, end).trim(), end };
}

/** `a, b AT %MW4 : INT := 5`: each name with its type, and the address where there is one. */
function declared(statement: string): Omit<Declared, 'comment' | 'line'>[] {
  const colon = statement.indexOf(':');
  if (colon < 0 || statement[colon + 1] === '=') return [];
  const [left, right] = [statement.slice(0, colon).trim(), statement.slice(colon + 1)];
  const assigned = right.indexOf(':=');
  const type = (assigned < 0 ? right : right.slice(0, assigned)).trim().replace(/\s+/g, ' ');
  const [named, address = null] = left.split(/\sAT\s/i).map((part) => part.trim());
  const names = named!.split(',').map((name) => name.trim());
  if (!type || !names.every((name) => NAME.test(name)) || (address !== null && !ADDRESS.test(address))) return [];
  return names.map((name) => ({ name, address, type }));
}

/** The line of a place in a text, from 1, for places that only grow. */
function lineCounter(text: string): (at: number) => number {
  let [line, seen] = [1, 0];
  return (at) => {
    for (; seen < at; seen++) if (text[seen] === '\n' || (text[seen] === '\r' && text[seen + 1] !== '\n')) line += 1;
    return line;
  };
}
