import {
  alike,
  binary,
  type BinaryOperator,
  type Code,
  convert,
  elementary,
  hasBits,
  isBig,
  isNumber,
  isReal,
  isUntyped,
  isWhole,
  mistake,
  pure,
  REAL,
  type Run,
  settled,
  Stopped,
  type Type,
  typeName,
  unary,
  widthOf,
  wrapBig,
  wrapper,
} from '../language/index.js';
import type { Call, StandardFunction } from './definition.js';

/** An argument as REAL or LREAL: numbers as written, and whole ones that go into a REAL, become one. */
function real(code: Code, call: Call): Code & { type: Type } {
  if (isUntyped(code.type))
    return convert(code, call.wanted && isReal(call.wanted) ? call.wanted : elementary('LREAL')) as Code & { type: Type };
  if (!isReal(code.type)) mistake(code.at, `${call.name} takes REAL or LREAL, not ${typeName(code.type)}.`);
  return code as Code & { type: Type };
}

function ofReal(name: string, calculate: (value: number) => number, says: string): StandardFunction {
  return {
    name,
    parameters: ['IN'],
    says,
    compile: (call) => {
      const { run, type, ...code } = real(call.args[0]!, call);
      const single = type === REAL;
      const checked: Run = (slots) => {
        const given = run(slots) as number;
        const value = calculate(given);
        if (!Number.isFinite(value)) throw new Stopped(`${name} of ${given} is no number.`, call.at);
        return single ? Math.fround(value) : value;
      };
      return pure(type, checked, call.at, { run, type, ...code });
    },
  };
}

/** The function form of an operator: `ADD(a, b, c)`. */
function asOperator(name: string, operator: BinaryOperator, more: boolean, says: string): StandardFunction {
  return {
    name,
    parameters: ['IN1', 'IN2'],
    more,
    says,
    compile: ({ args, at }) => args.slice(1).reduce((sum, next) => binary(operator, sum, next, at), args[0]!),
  };
}

/** `GT(a, b, c)`: each compared with the next. */
function inOrder(name: string, operator: BinaryOperator, says: string): StandardFunction {
  return {
    name,
    parameters: ['IN1', 'IN2'],
    more: true,
    says,
    compile: ({ args, at }) =>
      args
        .slice(1)
        .map((next, index) => binary(operator, args[index]!, next, at))
        .reduce((all, next) => binary('AND', all, next, at)),
  };
}

const absolute: StandardFunction = {
  name: 'ABS',
  parameters: ['IN'],
  says: 'How far a number is from zero.',
  compile: ({ args, at, wanted }) => {
    const code = settled(wanted && isUntyped(args[0]!.type) ? convert(args[0]!, wanted) : args[0]!);
    const { type, run } = code;
    if (!isNumber(type)) mistake(code.at, `ABS takes a number, not ${typeName(type)}.`);
    if (isReal(type)) return pure(type, (slots) => Math.abs(run(slots)), at, code);
    if (isBig(type))
      return pure(
        type,
        (slots) => {
          const value = run(slots) as bigint;
          return wrapBig(value < 0n ? -value : value, widthOf(type)!);
        },
        at,
        code,
      );
    const wrap = wrapper(type);
    return pure(type, (slots) => wrap(Math.abs(run(slots))), at, code);
  },
};

/** Bits moved by so many places; `move` gets the value without a sign. */
function shift(name: string, move: (value: bigint, by: bigint, bits: bigint) => bigint, says: string): StandardFunction {
  return {
    name,
    parameters: ['IN', 'N'],
    says,
    compile: ({ args, at }) => {
      const [code, by] = [settled(args[0]!), settled(args[1]!)];
      const { type, run } = code;
      if (!hasBits(type)) mistake(code.at, `${name} moves bits of BYTE, WORD, DWORD or LWORD, not of ${typeName(type)}.`);
      if (!isWhole(by.type)) mistake(by.at, `${name} moves by a whole number of places.`);
      const bits = BigInt(widthOf(type)!.bits);
      const big = isBig(type);
      const moved: Run = (slots) => {
        const places = BigInt(by.run(slots) as number);
        if (places < 0n) throw new Stopped(`${name} moves by ${places} places; it takes no negative number.`, at);
        const value = BigInt.asUintN(Number(bits), move(BigInt(run(slots) as number), places, bits));
        return big ? value : bits === 1n ? value === 1n : Number(value);
      };
      return pure(type, moved, at, code, by);
    },
  };
}

/** All arguments in one type; numbers as they were written in the one that the result is for. */
function allAlike({ args, at, name, wanted }: Call): { codes: Code[]; type: Type } {
  if (wanted && args.every(({ type }) => isUntyped(type))) return { codes: args.map((code) => convert(code, wanted)), type: wanted };
  const first = args.find(({ type }) => !isUntyped(type)) ?? settled(args[0]!);
  const { type } = args.reduce((sum, next) => alike(sum, next, at, `chosen from by ${name}`)[0], first);
  return { codes: args.map((code) => convert(code, type as Type)), type: type as Type };
}

function extreme(name: 'MAX' | 'MIN', says: string): StandardFunction {
  return {
    name,
    parameters: ['IN1', 'IN2'],
    more: true,
    says,
    compile: (call) => {
      const { codes, type } = allAlike(call);
      if (!isOrdered(type)) mistake(call.at, `${name} does not compare ${typeName(type)}.`);
      const runs = codes.map(({ run }) => run);
      const isBetter = name === 'MAX' ? (a: number, b: number) => a > b : (a: number, b: number) => a < b;
      const run: Run = (slots) => {
        let best = runs[0]!(slots) as number;
        for (let index = 1; index < runs.length; index++) {
          const next = runs[index]!(slots) as number;
          if (isBetter(next, best)) best = next;
        }
        return best;
      };
      return pure(type, run, call.at, ...codes);
    },
  };
}

function isOrdered(type: Type): boolean {
  return type.kind === 'elementary' || type.kind === 'string';
}

const limit: StandardFunction = {
  name: 'LIMIT',
  parameters: ['MN', 'IN', 'MX'],
  says: 'IN, but not below MN and not above MX.',
  compile: (call) => {
    const { codes, type } = allAlike(call);
    if (!isOrdered(type)) mistake(call.at, `LIMIT does not compare ${typeName(type)}.`);
    const [low, value, high] = codes.map(({ run }) => run) as [Run, Run, Run];
    const run: Run = (slots) => {
      const [mn, given, mx] = [low(slots), value(slots), high(slots)] as number[];
      const atLeast = given! > mn! ? given! : mn!;
      return atLeast < mx! ? atLeast : mx!;
    };
    return pure(type, run, call.at, ...codes);
  },
};

const select: StandardFunction = {
  name: 'SEL',
  parameters: ['G', 'IN0', 'IN1'],
  says: 'IN0 while G is FALSE, IN1 while it is TRUE.',
  compile: (call) => {
    const gate = convert(call.args[0]!, elementary('BOOL'));
    const { codes, type } = allAlike({ ...call, args: call.args.slice(1) });
    const [zero, one] = codes.map(({ run }) => run) as [Run, Run];
    return pure(type, (slots) => (gate.run(slots) ? one(slots) : zero(slots)), call.at, gate, ...codes);
  },
};

const multiplex: StandardFunction = {
  name: 'MUX',
  parameters: ['K', 'IN0', 'IN1'],
  more: true,
  says: 'Of what follows, the one with the number K, counted from 0.',
  compile: (call) => {
    const which = settled(call.args[0]!);
    if (!isWhole(which.type)) mistake(which.at, 'MUX chooses by a whole number.');
    const { codes, type } = allAlike({ ...call, args: call.args.slice(1) });
    const runs = codes.map(({ run }) => run);
    const run: Run = (slots) => {
      const number = Number(which.run(slots));
      const chosen = runs[number];
      if (!chosen) throw new Stopped(`MUX has no input ${number}; they are 0 to ${runs.length - 1}.`, call.at);
      return chosen(slots);
    };
    return pure(type, run, call.at, which, ...codes);
  },
};

const not: StandardFunction = {
  name: 'NOT',
  parameters: ['IN'],
  says: 'Each bit inverted.',
  compile: ({ args, at, wanted }) => unary('NOT', args[0]!, at, wanted),
};

const move: StandardFunction = { name: 'MOVE', parameters: ['IN'], says: 'What it is given.', compile: ({ args }) => settled(args[0]!) };

/** Numbers, bits, choosing and comparing (edition 3, tables 28 to 33). */
export const numberFunctions: readonly StandardFunction[] = [
  absolute,
  ofReal('SQRT', Math.sqrt, 'The square root.'),
  ofReal('LN', Math.log, 'The natural logarithm.'),
  ofReal('LOG', Math.log10, 'The logarithm to base 10.'),
  ofReal('EXP', Math.exp, 'e to the power of IN.'),
  ofReal('SIN', Math.sin, 'The sine of an angle in radians.'),
  ofReal('COS', Math.cos, 'The cosine of an angle in radians.'),
  ofReal('TAN', Math.tan, 'The tangent of an angle in radians.'),
  ofReal('ASIN', Math.asin, 'The angle whose sine is IN.'),
  ofReal('ACOS', Math.acos, 'The angle whose cosine is IN.'),
  ofReal('ATAN', Math.atan, 'The angle whose tangent is IN.'),
  asOperator('EXPT', '**', false, 'IN1 to the power of IN2.'),
  asOperator('ADD', '+', true, 'The sum.'),
  asOperator('MUL', '*', true, 'The product.'),
  asOperator('SUB', '-', false, 'IN1 less IN2.'),
  asOperator('DIV', '/', false, 'IN1 divided by IN2; whole numbers towards zero.'),
  asOperator('MOD', 'MOD', false, 'What is left when IN1 is divided by IN2.'),
  asOperator('AND', 'AND', true, 'Bits that are set in all.'),
  asOperator('OR', 'OR', true, 'Bits that are set in any.'),
  asOperator('XOR', 'XOR', true, 'Bits that are set in an odd number of them.'),
  not,
  move,
  shift('SHL', (value, by) => value << (by > 64n ? 64n : by), 'Bits moved to the left, zeros from the right.'),
  shift('SHR', (value, by) => value >> by, 'Bits moved to the right, zeros from the left.'),
  shift('ROL', (value, by, bits) => (value << (by % bits)) | (value >> (bits - (by % bits))), 'Bits moved to the left, around the end.'),
  shift('ROR', (value, by, bits) => (value >> (by % bits)) | (value << (bits - (by % bits))), 'Bits moved to the right, around the end.'),
  select,
  extreme('MAX', 'The largest.'),
  extreme('MIN', 'The smallest.'),
  limit,
  multiplex,
  inOrder('GT', '>', 'Whether each is larger than the next.'),
  inOrder('GE', '>=', 'Whether none is smaller than the next.'),
  inOrder('EQ', '=', 'Whether all are equal.'),
  inOrder('LE', '<=', 'Whether none is larger than the next.'),
  inOrder('LT', '<', 'Whether each is smaller than the next.'),
  asOperator('NE', '<>', false, 'Whether they differ.'),
];
