import type { Variable } from './declare.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** A list of variables as the text of IEC 61131-3: `VAR … END_VAR` with located variables. */
export function iecText(title: string, variables: readonly Variable[]): string {
  const lines = variables.map(({ name, address, type, comment }) => {
    const remark = comment ? ` (* ${comment.replaceAll('*)', '* )')} *)` : '';
    return `  ${name} AT ${address} : ${type};${remark}`;
  });
  return [`(* ${title} *)`, 'VAR_GLOBAL', ...lines, 'END_VAR', ''].join('\n');
}

/** A declaration found in the text, with the line at which it stands. */
export interface Declared extends Variable {
  line: number;
}

const BLOCK = /\bVAR(?:_GLOBAL|_EXTERNAL|_INPUT|_OUTPUT|_IN_OUT|_TEMP)?\b([\s\S]*?)\bEND_VAR\b/gi;
const DECLARATION =
  /([A-Za-z_][A-Za-z0-9_]*)((?:\s*,\s*[A-Za-z_][A-Za-z0-9_]*)*)\s*(?:AT\s*(%[A-Za-z]+\d+(?:\.\d+)*))?\s*:\s*([^;:=]+?)\s*(?::=\s*([^;]*?))?\s*;[ \t]*(?:\(\*([\s\S]*?)\*\)|\/\/([^\r\n]*))?/gi;

/** Finds the declared variables. A text without a VAR block is refused. */
export function readIecText(text: string): Outcome<Declared[]> {
  const found: Declared[] = [];
  let blocks = 0;
  for (const block of text.matchAll(BLOCK)) {
    blocks += 1;
    const from = block.index + block[0].indexOf(block[1]!);
    for (const part of withoutLoneComments(block[1]!).matchAll(DECLARATION)) {
      const line = text.slice(0, from + part.index).split(/\r\n|\r|\n/).length;
      found.push({
        name: part[1]!,
        address: part[3] ?? null,
        type: part[4]!.replace(/\s+/g, ' '),
        comment: (part[6] ?? part[7] ?? '').trim(),
        line,
      });
    }
  }
  return blocks ? good(found) : bad('There is no VAR … END_VAR block in it.');
}

/** Comments that stand on lines of their own must not be taken for declarations; their length is kept, so that lines still count. */
function withoutLoneComments(text: string): string {
  return text.replace(
    /(^|\n)([ \t]*)(\(\*[\s\S]*?\*\)|\/\/[^\r\n]*)/g,
    (_, start: string, blank: string, comment: string) => start + blank + comment.replace(/[^\r\n]/g, ' '),
  );
}
