import type { Expression } from 'jsep';
import { treeOf } from './read.js';

/** A formula in Structured Text. */
export interface FormulaText {
  /** An expression of the variable that stands for x. */
  text: string;
  /** What has to hold before it is worked out: no division by zero, no root of what is negative. In the order of the working. */
  needs: string[];
}

/** What Structured Text calls the functions of formulas; `§` stands before those that are ours. */
const called: Record<string, string> = {
  ...{ abs: 'ABS', sqrt: 'SQRT', floor: '§Floor', ceil: '§Ceiling', round: '§RoundUp', log: 'LN', exp: 'EXP', min: 'MIN', max: 'MAX' },
};

/** A formula of a step as an expression of `x`; numbers by `real`. A problem of the formula is null. */
export function formulaText(formula: string, x: string, real: (value: number) => string): FormulaText | null {
  const tree = treeOf(formula);
  if (!tree) return null;
  const needs: string[] = [];
  const say = (node: Expression): string => {
    switch (node.type) {
      case 'Literal':
        return real(node['value'] as number);
      case 'Identifier':
        return x;
      case 'UnaryExpression': {
        const inner = say(node['argument'] as Expression);
        return node['operator'] === '-' ? `(-${inner})` : inner;
      }
      case 'BinaryExpression': {
        const [left, right] = [say(node['left'] as Expression), say(node['right'] as Expression)];
        const operator = String(node['operator']);
        if (operator === '^') return `EXPT(${left}, ${right})`;
        if (operator === '/' || operator === '%') {
          if ((node['right'] as Expression).type !== 'Literal' || (node['right'] as Expression)['value'] === 0)
            needs.push(`${right} <> 0.0`);
          if (operator === '%') return `§Remainder(${left}, ${right})`;
        }
        return `(${left} ${operator} ${right})`;
      }
      default: {
        const name = String((node['callee'] as Expression)['name']);
        const given = (node['arguments'] as Expression[]).map(say);
        if (name === 'sqrt') needs.push(`${given[0]} >= 0.0`);
        if (name === 'log') needs.push(`${given[0]} > 0.0`);
        const takes = name === 'min' || name === 'max' ? given : given.slice(0, 1);
        return takes.length === 1 && (name === 'min' || name === 'max') ? takes[0]! : `${called[name]}(${takes.join(', ')})`;
      }
    }
  };
  return { text: say(tree), needs };
}
