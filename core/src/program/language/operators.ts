import type { BinaryOperator } from './ast.js';
import { type Code, constantCode, convert, DECIMAL, isUntyped, nameOfType, type Run, settled, type Untyped, WHOLE } from './code.js';
import { type At, Mistake, mistake, Stopped } from './problem.js';
import {
  BOOL,
  commonType,
  elementary,
  isBig,
  isBits,
  isNumber,
  isReal,
  isSameType,
  isWhole,
  REAL,
  TIME,
  type Type,
  typeName,
  widthOf,
} from './types.js';
import { wrapBig, wrapper } from './values.js';

type Comparing = '=' | '<>' | '<' | '>' | '<=' | '>=';
type Arithmetic = '+' | '-' | '*' | '/' | 'MOD';

const BY_ZERO = 'Division by zero.';

/** An operation with two operands, checked. */
export function binary(operator: BinaryOperator, left: Code, right: Code, at: At): Code {
  switch (operator) {
    case '**':
      return power(left, right, at);
    case 'AND':
    case 'OR':
    case 'XOR':
      return logical(operator, left, right, at);
    case '+':
    case '-':
    case '*':
    case '/':
    case 'MOD':
      return arithmetic(operator, left, right, at);
    default:
      return compared(operator, left, right, at);
  }
}

export function unary(operator: '-' | '+' | 'NOT', operand: Code, at: At, wanted: Type | null = null): Code {
  if (operator === 'NOT') return inverse(isUntyped(operand.type) && wanted && hasBits(wanted) ? convert(operand, wanted) : operand, at);
  if (isUntyped(operand.type)) return operator === '+' ? operand : constantCode(operand.type, -(operand.constant as number), at);
  if (!isNumber(operand.type) && operand.type !== TIME)
    mistake(at, `A sign stands before numbers and times, not before ${typeName(operand.type)}.`);
  if (operator === '+') return operand;
  if (isWhole(operand.type) && !widthOf(operand.type)!.signed) mistake(at, `${typeName(operand.type)} has no negative values.`);
  const { type, run } = operand;
  if (isBig(type)) return pure(type, (slots) => wrapBig(-(run(slots) as bigint), { bits: 64, signed: true }), at, operand);
  const wrap = isWhole(type) ? wrapper(type) : null;
  return pure(type, wrap ? (slots) => wrap(-run(slots)) : (slots) => -run(slots), at, operand);
}

/** An expression whose value depends on its operands alone: known before the program runs where they are. */
export function pure(type: Type, run: Run, at: At, ...operands: Code[]): Code {
  if (operands.some(({ constant }) => constant === undefined)) return { type, run, at };
  try {
    const constant: unknown = run([]);
    return { type, run: () => constant, constant, at };
  } catch (error) {
    if (error instanceof Stopped) throw new Mistake(error.message, at);
    throw error;
  }
}

/** Both sides in the narrowest type that both are taken for; numbers as written take the type of the other side. */
export function alike(left: Code, right: Code, at: At, doing: string): [Code, Code, Type] {
  if (isUntyped(left.type) && isUntyped(right.type)) {
    const [a, b] = [settled(left), settled(right)];
    const type = commonType(a.type, b.type) ?? (isReal(a.type) ? a.type : b.type);
    return [convert(left, type), convert(right, type), type];
  }
  const type = isUntyped(left.type)
    ? wideEnough(right.type as Type, left)
    : isUntyped(right.type)
      ? wideEnough(left.type, right)
      : commonType(left.type, right.type);
  if (!type)
    mistake(at, `${nameOfType(left.type)} and ${nameOfType(right.type)} are not ${doing} with each other; convert one of them first.`);
  return [convert(left, type), convert(right, type), type];
}

/** A number with a fraction beside a whole one makes both real. */
function wideEnough(type: Type, written: Code): Type {
  return isWhole(type) && (written.type as Untyped).of === 'real' ? (commonType(type, REAL) ?? elementary('LREAL')) : type;
}

function compared(operator: Comparing, left: Code, right: Code, at: At): Code {
  const [a, b, type] = alike(left, right, at, 'compared');
  const ordered = type.kind === 'elementary' || type.kind === 'string';
  if (!ordered && !(type.kind === 'enum' && (operator === '=' || operator === '<>')))
    mistake(at, `“${operator}” does not compare ${typeName(type)}.`);
  const [one, other] = [a.run, b.run];
  const run = ((): Run => {
    switch (operator) {
      case '=':
        return (slots) => one(slots) === other(slots);
      case '<>':
        return (slots) => one(slots) !== other(slots);
      case '<':
        return (slots) => one(slots) < other(slots);
      case '>':
        return (slots) => one(slots) > other(slots);
      case '<=':
        return (slots) => one(slots) <= other(slots);
      default:
        return (slots) => one(slots) >= other(slots);
    }
  })();
  return pure(BOOL, run, at, a, b);
}

/** Whether bits of it are combined: bit strings, and whole numbers without a sign, as registers hold them. */
export function hasBits(type: Type): boolean {
  return isBits(type) || (isWhole(type) && !widthOf(type)!.signed);
}

function logical(operator: 'AND' | 'OR' | 'XOR', left: Code, right: Code, at: At): Code {
  if (isUntyped(left.type) && isUntyped(right.type)) {
    const [one, other] = [left.constant, right.constant];
    if (typeof one !== 'bigint' || typeof other !== 'bigint' || one < 0n || other < 0n)
      mistake(at, `${operator} combines bits, which these numbers have not.`);
    return constantCode(WHOLE, { AND: one & other, OR: one | other, XOR: one ^ other }[operator], at);
  }
  const [a, b, type] = alike(left, right, at, 'combined');
  if (!hasBits(type)) mistake(at, `${operator} combines BOOL and bit strings, not ${typeName(type)}.${hint(type)}`);
  const [one, other] = [a.run, b.run];
  if (type === BOOL) {
    // What is on the right is not looked at where the left decides (edition 3, section 7.3.2).
    if (operator === 'AND') return pure(type, (slots) => one(slots) && other(slots), at, a, b);
    if (operator === 'OR') return pure(type, (slots) => one(slots) || other(slots), at, a, b);
    return pure(type, (slots) => one(slots) !== other(slots), at, a, b);
  }
  const wrap = isBig(type) ? null : wrapper(type);
  if (operator === 'AND')
    return pure(type, wrap ? (slots) => wrap(one(slots) & other(slots)) : (slots) => one(slots) & other(slots), at, a, b);
  if (operator === 'OR')
    return pure(type, wrap ? (slots) => wrap(one(slots) | other(slots)) : (slots) => one(slots) | other(slots), at, a, b);
  return pure(type, wrap ? (slots) => wrap(one(slots) ^ other(slots)) : (slots) => one(slots) ^ other(slots), at, a, b);
}

function inverse(operand: Code, at: At): Code {
  const code = settled(operand);
  const { type, run } = code;
  if (!hasBits(type)) mistake(at, `NOT inverts BOOL and bit strings, not ${typeName(type)}.${hint(type)}`);
  if (type === BOOL) return pure(type, (slots) => !run(slots), at, code);
  if (isBig(type)) return pure(type, (slots) => wrapBig(~(run(slots) as bigint), { bits: 64, signed: false }), at, code);
  const wrap = wrapper(type);
  return pure(type, (slots) => wrap(~run(slots)), at, code);
}

function hint(type: Type): string {
  const bits = { SINT: 'BYTE', INT: 'WORD', DINT: 'DWORD', LINT: 'LWORD' }[typeName(type)];
  return bits ? ` Write ${typeName(type)}_TO_${bits}(…).` : '';
}

function power(left: Code, right: Code, at: At): Code {
  if (isUntyped(left.type) && isUntyped(right.type)) {
    const [base, exponent] = [left.constant, right.constant] as (bigint | number)[];
    if (typeof base === 'bigint' && typeof exponent === 'bigint' && exponent >= 0n && exponent <= 64n)
      return constantCode(WHOLE, base ** exponent, at);
    return constantCode(DECIMAL, Number(base) ** Number(exponent), at);
  }
  const base = isUntyped(left.type) ? convert(left, isReal(right.type as Type) ? (right.type as Type) : elementary('LREAL')) : left;
  const type = base.type as Type;
  if (!isReal(type)) mistake(at, `** raises REAL and LREAL, not ${typeName(type)}. Write ${typeName(type)}_TO_REAL(…).`);
  const exponent = settled(right);
  if (!isNumber(exponent.type)) mistake(right.at, `An exponent is a number, not ${typeName(exponent.type)}.`);
  const [one, other] = [base.run, exponent.run];
  const single = type === REAL;
  const run: Run = (slots) => {
    const value = one(slots) ** Number(other(slots));
    if (Number.isNaN(value)) throw new Stopped('This power is no number.', at);
    return single ? Math.fround(value) : value;
  };
  return pure(type, run, at, base, exponent);
}

function arithmetic(operator: Arithmetic, left: Code, right: Code, at: At): Code {
  if (isUntyped(left.type) && isUntyped(right.type)) return written(operator, left, right, at);
  if (left.type === TIME || right.type === TIME) return timed(operator, left, right, at);
  const [a, b, type] = alike(left, right, at, words[operator]);
  if (!isNumber(type) || (operator === 'MOD' && isReal(type)))
    mistake(at, `“${operator}” takes ${operator === 'MOD' ? 'whole numbers' : 'numbers'}, not ${typeName(type)}.`);
  return pure(type, runOf(operator, type, a.run, b.run, at), at, a, b);
}

const words = { '+': 'added', '-': 'subtracted', '*': 'multiplied', '/': 'divided', MOD: 'divided' };

function runOf(operator: Arithmetic, type: Type, one: Run, other: Run, at: At): Run {
  if (isReal(type)) return realRun(operator, type === REAL, one, other, at);
  if (isBig(type)) return bigRun(operator, type, one, other, at);
  const wrap = wrapper(type);
  switch (operator) {
    case '+':
      return (slots) => wrap(one(slots) + other(slots));
    case '-':
      return (slots) => wrap(one(slots) - other(slots));
    case '*':
      return (slots) => wrap(Math.imul(one(slots), other(slots)));
    case '/':
      return (slots) => {
        const by = other(slots) as number;
        if (by === 0) throw new Stopped(BY_ZERO, at);
        return wrap(Math.trunc(one(slots) / by));
      };
    case 'MOD':
      // By zero it gives zero (edition 3, table 29).
      return (slots) => {
        const by = other(slots) as number;
        return by === 0 ? 0 : wrap(one(slots) % by);
      };
  }
}

function bigRun(operator: Arithmetic, type: Type, one: Run, other: Run, at: At): Run {
  const width = widthOf(type)!;
  switch (operator) {
    case '+':
      return (slots) => wrapBig(one(slots) + other(slots), width);
    case '-':
      return (slots) => wrapBig((one(slots) as bigint) - (other(slots) as bigint), width);
    case '*':
      return (slots) => wrapBig((one(slots) as bigint) * (other(slots) as bigint), width);
    case '/':
      return (slots) => {
        const by = other(slots) as bigint;
        if (by === 0n) throw new Stopped(BY_ZERO, at);
        return wrapBig((one(slots) as bigint) / by, width);
      };
    case 'MOD':
      return (slots) => {
        const by = other(slots) as bigint;
        return by === 0n ? 0n : wrapBig((one(slots) as bigint) % by, width);
      };
  }
}

function realRun(operator: Arithmetic, single: boolean, one: Run, other: Run, at: At): Run {
  const round = single ? Math.fround : (value: number) => value;
  switch (operator) {
    case '+':
      return (slots) => round(one(slots) + other(slots));
    case '-':
      return (slots) => round(one(slots) - other(slots));
    case '*':
      return (slots) => round(one(slots) * other(slots));
    default:
      return (slots) => {
        const by = other(slots) as number;
        if (by === 0) throw new Stopped(BY_ZERO, at);
        return round(one(slots) / by);
      };
  }
}

/** Two numbers as written give one that is not yet of a type. */
function written(operator: Arithmetic, left: Code, right: Code, at: At): Code {
  const [a, b] = [left.constant, right.constant] as (bigint | number)[];
  if ((operator === '/' || operator === 'MOD') && Number(b) === 0) mistake(at, BY_ZERO);
  if (typeof a === 'bigint' && typeof b === 'bigint') {
    const value = { '+': () => a + b, '-': () => a - b, '*': () => a * b, '/': () => a / b, MOD: () => a % b }[operator]();
    return constantCode(WHOLE, value, at);
  }
  if (operator === 'MOD') mistake(at, '“MOD” takes whole numbers.');
  const [x, y] = [Number(a), Number(b)];
  return constantCode(DECIMAL, { '+': x + y, '-': x - y, '*': x * y, '/': x / y }[operator], at);
}

/** Times are added to and subtracted from times, and multiplied and divided by numbers (edition 3, table 35). */
function timed(operator: Arithmetic, left: Code, right: Code, at: At): Code {
  const isTime = (code: Code) => !isUntyped(code.type) && isSameType(code.type, TIME);
  const [one, other] = [left.run, right.run];
  if (operator === '+' || operator === '-') {
    if (!isTime(left) || !isTime(right))
      mistake(at, `A time is added to a time, not to ${nameOfType(isTime(left) ? right.type : left.type)}.`);
    return pure(TIME, operator === '+' ? (slots) => one(slots) + other(slots) : (slots) => one(slots) - other(slots), at, left, right);
  }
  const factor = settled(right);
  if (!isTime(left) || operator === 'MOD' || !isNumber(factor.type))
    mistake(at, 'A time is multiplied and divided by a number that stands on its right.');
  const by = factor.run;
  if (operator === '*') return pure(TIME, (slots) => one(slots) * Number(by(slots)), at, left, factor);
  const run: Run = (slots) => {
    const number = Number(by(slots));
    if (number === 0) throw new Stopped(BY_ZERO, at);
    return one(slots) / number;
  };
  return pure(TIME, run, at, left, factor);
}
