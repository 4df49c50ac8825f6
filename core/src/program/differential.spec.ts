import * as fc from 'fast-check';
import { compileProgram } from './index.js';

/**
 * Random programs over three DINT and two BOOL, printed, parsed, compiled and run, against an evaluator that walks the tree with
 * rules of its own: whole numbers as bigint, brought to 32 bits after each step.
 */
type Num =
  | { is: 'number'; value: number }
  | { is: 'variable'; name: string }
  | { is: 'two'; by: '+' | '-' | '*' | '/' | 'MOD'; left: Num; right: Num }
  | { is: 'minus'; of: Num }
  | { is: 'choose'; which: Truth; no: Num; yes: Num };
type Truth =
  | { is: 'truth'; value: boolean }
  | { is: 'flag'; name: string }
  | { is: 'compare'; by: '<' | '>' | '<=' | '>=' | '=' | '<>'; left: Num; right: Num }
  | { is: 'join'; by: 'AND' | 'OR' | 'XOR'; left: Truth; right: Truth }
  | { is: 'not'; of: Truth };
type Step =
  | { is: 'put'; name: string; value: Num }
  | { is: 'raise'; name: string; value: Truth }
  | { is: 'if'; when: Truth; yes: Step[]; no: Step[] }
  | { is: 'for'; to: number; body: Step[] }
  | { is: 'case'; of: Num; one: Step[]; few: Step[]; other: Step[] };

const numbers = ['a', 'b', 'c'];
const flags = ['p', 'q'];

const { num, truth } = fc.letrec<{ num: Num; truth: Truth }>((tie) => ({
  num: fc.oneof(
    { maxDepth: 4 },
    fc.record({
      is: fc.constant('number' as const),
      value: fc.oneof(fc.integer({ min: 0, max: 9 }), fc.constantFrom(32_767, 65_536, 2_147_483_647)),
    }),
    fc.record({ is: fc.constant('variable' as const), name: fc.constantFrom(...numbers) }),
    fc.record({
      is: fc.constant('two' as const),
      by: fc.constantFrom('+' as const, '-' as const, '*' as const, '/' as const, 'MOD' as const),
      left: tie('num'),
      right: tie('num'),
    }),
    fc.record({ is: fc.constant('minus' as const), of: tie('num') }),
    fc.record({ is: fc.constant('choose' as const), which: tie('truth'), no: tie('num'), yes: tie('num') }),
  ),
  truth: fc.oneof(
    { maxDepth: 4 },
    fc.record({ is: fc.constant('truth' as const), value: fc.boolean() }),
    fc.record({ is: fc.constant('flag' as const), name: fc.constantFrom(...flags) }),
    fc.record({
      is: fc.constant('compare' as const),
      by: fc.constantFrom('<' as const, '>' as const, '<=' as const, '>=' as const, '=' as const, '<>' as const),
      left: tie('num'),
      right: tie('num'),
    }),
    fc.record({
      is: fc.constant('join' as const),
      by: fc.constantFrom('AND' as const, 'OR' as const, 'XOR' as const),
      left: tie('truth'),
      right: tie('truth'),
    }),
    fc.record({ is: fc.constant('not' as const), of: tie('truth') }),
  ),
}));
const { steps } = fc.letrec<{ step: Step; steps: Step[] }>((tie) => ({
  steps: fc.array(tie('step'), { minLength: 1, maxLength: 4 }),
  step: fc.oneof(
    { maxDepth: 3 },
    fc.record({ is: fc.constant('put' as const), name: fc.constantFrom(...numbers), value: num }),
    fc.record({ is: fc.constant('raise' as const), name: fc.constantFrom(...flags), value: truth }),
    fc.record({ is: fc.constant('if' as const), when: truth, yes: tie('steps'), no: tie('steps') }),
    fc.record({ is: fc.constant('for' as const), to: fc.integer({ min: 0, max: 3 }), body: tie('steps') }),
    fc.record({ is: fc.constant('case' as const), of: num, one: tie('steps'), few: tie('steps'), other: tie('steps') }),
  ),
}));

/** As the least of brackets, so that precedence is tested too: `level` is how strongly what stands around it binds. */
const strength = {
  OR: 1,
  XOR: 2,
  AND: 3,
  '=': 4,
  '<>': 4,
  '<': 5,
  '>': 5,
  '<=': 5,
  '>=': 5,
  '+': 6,
  '-': 6,
  '*': 7,
  '/': 7,
  MOD: 7,
} as const;
function bracket(text: string, own: number, level: number): string {
  return own < level ? `(${text})` : text;
}
function printNum(one: Num, level = 0): string {
  switch (one.is) {
    case 'number':
      // A number as written would take its type from beside it; here all are DINT.
      return `DINT#${one.value}`;
    case 'variable':
      return one.name;
    case 'two':
      return bracket(
        `${printNum(one.left, strength[one.by])} ${one.by} ${printNum(one.right, strength[one.by] + 1)}`,
        strength[one.by],
        level,
      );
    case 'minus':
      return bracket(`-${printNum(one.of, 9)}`, 9, level);
    case 'choose':
      return `SEL(${printTruth(one.which)}, ${printNum(one.no)}, ${printNum(one.yes)})`;
  }
}
function printTruth(one: Truth, level = 0): string {
  switch (one.is) {
    case 'truth':
      return one.value ? 'TRUE' : 'FALSE';
    case 'flag':
      return one.name;
    case 'compare':
      return bracket(
        `${printNum(one.left, strength[one.by])} ${one.by} ${printNum(one.right, strength[one.by] + 1)}`,
        strength[one.by],
        level,
      );
    case 'join':
      return bracket(
        `${printTruth(one.left, strength[one.by])} ${one.by} ${printTruth(one.right, strength[one.by] + 1)}`,
        strength[one.by],
        level,
      );
    case 'not':
      return bracket(`NOT ${printTruth(one.of, 9)}`, 9, level);
  }
}
function printSteps(all: readonly Step[], depth = 0): string {
  return all
    .map((step) => {
      switch (step.is) {
        case 'put':
          return `${step.name} := ${printNum(step.value)};`;
        case 'raise':
          return `${step.name} := ${printTruth(step.value)};`;
        case 'if':
          return `IF ${printTruth(step.when)} THEN ${printSteps(step.yes, depth)} ELSE ${printSteps(step.no, depth)} END_IF;`;
        case 'for':
          return `FOR i${depth} := 1 TO ${step.to} DO ${printSteps(step.body, depth + 1)} END_FOR;`;
        case 'case':
          return `CASE ${printNum(step.of)} OF 1: ${printSteps(step.one, depth)} 2..5, -3: ${printSteps(step.few, depth)} ELSE ${printSteps(step.other, depth)} END_CASE;`;
      }
    })
    .join('\n');
}

class Divided extends Error {}
interface State {
  numbers: Record<string, bigint>;
  flags: Record<string, boolean>;
}
const to32 = (value: bigint) => BigInt.asIntN(32, value);
function evaluate(one: Num, state: State): bigint {
  switch (one.is) {
    case 'number':
      return BigInt(one.value);
    case 'variable':
      return state.numbers[one.name]!;
    case 'minus':
      return to32(-evaluate(one.of, state));
    case 'choose':
      return decide(one.which, state) ? evaluate(one.yes, state) : evaluate(one.no, state);
    case 'two': {
      const [left, right] = [evaluate(one.left, state), evaluate(one.right, state)];
      if (one.by === '+') return to32(left + right);
      if (one.by === '-') return to32(left - right);
      if (one.by === '*') return to32(left * right);
      if (right === 0n) {
        if (one.by === 'MOD') return 0n;
        throw new Divided();
      }
      return to32(one.by === '/' ? left / right : left % right);
    }
  }
}
function decide(one: Truth, state: State): boolean {
  switch (one.is) {
    case 'truth':
      return one.value;
    case 'flag':
      return state.flags[one.name]!;
    case 'not':
      return !decide(one.of, state);
    case 'compare': {
      const difference = evaluate(one.left, state) - evaluate(one.right, state);
      return {
        '<': difference < 0n,
        '>': difference > 0n,
        '<=': difference <= 0n,
        '>=': difference >= 0n,
        '=': difference === 0n,
        '<>': difference !== 0n,
      }[one.by];
    }
    case 'join':
      if (one.by === 'AND') return decide(one.left, state) ? decide(one.right, state) : false;
      if (one.by === 'OR') return decide(one.left, state) ? true : decide(one.right, state);
      return decide(one.left, state) !== decide(one.right, state);
  }
}
function walk(all: readonly Step[], state: State): void {
  for (const step of all) {
    if (step.is === 'put') state.numbers[step.name] = evaluate(step.value, state);
    else if (step.is === 'raise') state.flags[step.name] = decide(step.value, state);
    else if (step.is === 'if') walk(decide(step.when, state) ? step.yes : step.no, state);
    else if (step.is === 'for') for (let round = 0; round < step.to; round++) walk(step.body, state);
    else {
      const chosen = evaluate(step.of, state);
      walk(chosen === 1n ? step.one : (chosen >= 2n && chosen <= 5n) || chosen === -3n ? step.few : step.other, state);
    }
  }
}

describe('A program of any kind', () => {
  it('gives what an evaluator that walks its tree gives', () => {
    let [stopped, refused] = [0, 0];
    fc.assert(
      fc.property(steps, (all) => {
        const counters = Array.from({ length: 12 }, (_, depth) => `i${depth}`).join(', ');
        const text = `PROGRAM Random VAR a : DINT := 1; b : DINT := -7; c : DINT := 100000; p : BOOL := TRUE; q : BOOL; ${counters} : INT; END_VAR\n${printSteps(all)}\nEND_PROGRAM`;
        const { program, problems } = compileProgram(text);
        if (!program) {
          // Only what divides by a zero that is written there is known to be wrong before it runs.
          refused += 1;
          expect(problems.map(({ message }) => message)).toEqual(problems.map(() => 'Division by zero.'));
          return;
        }
        const state: State = { numbers: { a: 1n, b: -7n, c: 100_000n }, flags: { p: true, q: false } };
        let divided = false;
        try {
          for (let scan = 0; scan < 3; scan++) walk(all, state);
        } catch (error) {
          if (!(error instanceof Divided)) throw error;
          divided = true;
        }
        for (let scan = 0; scan < 3; scan++) program.scan(50);
        expect(program.stopped !== null)
          .withContext(text)
          .toBe(divided);
        if (divided) {
          stopped += 1;
          return;
        }
        const held = Object.fromEntries([...numbers, ...flags].map((name) => [name, (program.read(name) as { value: unknown }).value]));
        const wanted = { ...Object.fromEntries(numbers.map((name) => [name, Number(state.numbers[name])])), ...state.flags };
        expect(held).withContext(text).toEqual(wanted);
      }),
      { numRuns: 1500, seed: 20 },
    );
    expect(stopped).toBeGreaterThan(20);
    expect(refused).toBeLessThan(500);
  });
});
