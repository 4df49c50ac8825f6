import jsep, { type Expression } from 'jsep';
import { bad, good, type Outcome } from '../outcome/index.js';
import type { Arithmetic } from '../steps/index.js';

const operators: Record<string, (a: number, b: number) => number> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '%': (a, b) => a % b,
  '^': (a, b) => a ** b,
};

const callable: Record<string, (...of: number[]) => number> = {
  abs: (x) => Math.abs(x!),
  sqrt: (x) => Math.sqrt(x!),
  floor: (x) => Math.floor(x!),
  ceil: (x) => Math.ceil(x!),
  round: (x) => Math.round(x!),
  log: (x) => Math.log(x!),
  exp: (x) => Math.exp(x!),
  min: (...of) => Math.min(...of),
  max: (...of) => Math.max(...of),
};

const POWER_BINDS = 11;
/** Deeper than any formula that a person writes, and far from what would overrun the stack. */
const DEEPEST = 40;

const known = new Map<string, Outcome<Arithmetic>>();
const MAX_KEPT = 500;

/** Anything that it does not know is a problem that names it. */
export function readFormula(text: string): Outcome<Arithmetic> {
  const before = known.get(text);
  if (before) return before;
  if (known.size >= MAX_KEPT) known.clear();
  const read = understand(text);
  known.set(text, read);
  return read;
}

/** The tree of a formula; null where it is none. */
export function treeOf(text: string): Expression | null {
  const tree = parsed(text);
  return tree.ok && whatIsUnknown(tree.value, 0) === null ? tree.value : null;
}

function parsed(text: string): Outcome<Expression> {
  jsep.addBinaryOp('^', POWER_BINDS, true);
  try {
    return good(jsep(text));
  } catch (error) {
    return bad(`“${text}” cannot be read: ${(error as Error).message}.`, 'expression');
  }
}

function understand(text: string): Outcome<Arithmetic> {
  const read = parsed(text);
  if (!read.ok) return read;
  const tree = read.value;
  const wrong = whatIsUnknown(tree, 0);
  if (wrong) return bad(`“${text}” cannot be used: ${wrong}.`, 'expression');
  return good({
    at(x) {
      const value = workOut(tree, x);
      return Number.isFinite(value)
        ? good(value)
        : bad(`${text} has no value at x = ${x}${divides(tree, x) ? ', where it divides by zero' : ''}.`);
    },
  });
}

function whatIsUnknown(node: Expression, depth: number): string | null {
  if (depth > DEEPEST) return 'it is nested too deeply';
  const inside = (...parts: unknown[]) => parts.map((part) => whatIsUnknown(part as Expression, depth + 1)).find(Boolean) ?? null;
  switch (node.type) {
    case 'Literal':
      return typeof node['value'] === 'number' ? null : 'it holds something that is no number';
    case 'Identifier':
      return node['name'] === 'x' ? null : `the only variable is x, not ${String(node['name'])}`;
    case 'UnaryExpression':
      return ['+', '-'].includes(String(node['operator'])) ? inside(node['argument']) : `there is no operator ${String(node['operator'])}`;
    case 'BinaryExpression':
      return Object.hasOwn(operators, String(node['operator']))
        ? inside(node['left'], node['right'])
        : `there is no operator ${String(node['operator'])}`;
    case 'CallExpression': {
      const name = String((node['callee'] as Expression)['name']);
      const given = node['arguments'] as Expression[];
      if (!Object.hasOwn(callable, name)) return `there is no function ${name}; there are ${Object.keys(callable).join(', ')}`;
      return given.length === 0 ? `${name} needs a value in its brackets` : inside(...given);
    }
    default:
      return 'it is no formula of numbers and x';
  }
}

function workOut(node: Expression, x: number): number {
  switch (node.type) {
    case 'Literal':
      return node['value'] as number;
    case 'Identifier':
      return x;
    case 'UnaryExpression':
      return (node['operator'] === '-' ? -1 : 1) * workOut(node['argument'] as Expression, x);
    case 'BinaryExpression':
      return operators[String(node['operator'])]!(workOut(node['left'] as Expression, x), workOut(node['right'] as Expression, x));
    default: {
      const name = String((node['callee'] as Expression)['name']);
      return callable[name]!(...(node['arguments'] as Expression[]).map((part) => workOut(part, x)));
    }
  }
}

/** Whether some division in it is by zero at this x. */
function divides(node: Expression, x: number): boolean {
  const parts = [node['left'], node['right'], node['argument'], ...((node['arguments'] as unknown[] | undefined) ?? [])];
  const byZero =
    node.type === 'BinaryExpression' && ['/', '%'].includes(String(node['operator'])) && workOut(node['right'] as Expression, x) === 0;
  return byZero || parts.some((part) => part && divides(part as Expression, x));
}
