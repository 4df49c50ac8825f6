import {
  type At,
  binary,
  BOOL,
  type BinaryOperator,
  type Code,
  constantCode,
  convert,
  DECIMAL,
  did,
  elementary,
  type EnumType,
  type Expression,
  type Field,
  isBig,
  isUntyped,
  isWhole,
  mistake,
  type Name,
  nameOfType,
  type PathStep,
  type Place,
  type Run,
  type Scope,
  settled,
  Stopped,
  TIME,
  type Type,
  typeName,
  unary,
  type Variable,
  type VariableText,
  WHOLE,
  wholeAs,
  widthOf,
} from '../language/index.js';
import { callFunction } from './calls.js';

/** A variable of a VAR_IN_OUT stands for a place elsewhere. */
export interface Reference {
  holder: unknown[];
  index: number;
}

/**
 * Checks an expression and makes what works it out. `wanted` is the type of what it is for, which numbers as they were written
 * take where nothing beside them says theirs.
 */
export function compile(expression: Expression, scope: Scope, wanted: Type | null = null): Code {
  const { at } = expression;
  switch (expression.kind) {
    case 'whole':
      return constantCode(WHOLE, expression.value, at);
    case 'real':
      return constantCode(DECIMAL, expression.value, at);
    case 'bool':
      return constantCode(BOOL, expression.value, at);
    case 'text':
      return constantCode({ kind: 'string', length: Math.max(1, expression.value.length) }, expression.value, at);
    case 'time':
      return constantCode(TIME, expression.ms, at);
    case 'typed':
      return typedLiteral(expression.type, expression.value, scope);
    case 'variable':
      return variable(expression.variable, scope);
    case 'call':
      return callFunction(expression.name, expression.arguments, scope, at, wanted);
    case 'unary':
      return unary(expression.operator, compile(expression.operand, scope, wanted), at, wanted);
    case 'binary':
      return operation(expression, scope, wanted);
  }
}

const comparing = new Set<BinaryOperator>(['=', '<>', '<', '>', '<=', '>=']);

/** Both sides are for what the whole is for; what is compared is not, and what is on the right is then for what is on the left. */
function operation({ operator, left, right, at }: Extract<Expression, { kind: 'binary' }>, scope: Scope, wanted: Type | null): Code {
  const whole = comparing.has(operator) ? null : wanted;
  const one = compile(left, scope, whole);
  return binary(operator, one, compile(right, scope, whole ?? (isUntyped(one.type) ? null : one.type)), at);
}

/** The same as a value of a type. */
export function compileAs(expression: Expression, type: Type, scope: Scope): Code {
  return convert(compile(expression, scope, type), type);
}

/** A value that is known before the program runs. */
export function constantOf(expression: Expression, type: Type | null, scope: Scope): { type: Type; value: unknown } {
  const code = type ? compileAs(expression, type, scope) : settled(compile(expression, scope));
  if (code.constant === undefined) mistake(expression.at, 'Here stands a value that is known before the program runs.');
  return { type: code.type as Type, value: code.constant };
}

/** A whole number that is known before the program runs. */
export function wholeConstant(expression: Expression, scope: Scope): number {
  const code = compile(expression, scope);
  const value = code.constant;
  if ((isUntyped(code.type) ? code.type.of !== 'whole' : !isWhole(code.type)) || value === undefined)
    mistake(expression.at, 'Here stands a whole number.');
  return Number(value);
}

/** `INT#5`, `Color#Red` */
function typedLiteral(name: Name, value: Expression, scope: Scope): Code {
  const type = scope.world.typeNamed(name);
  if (type.kind === 'enum') {
    if (value.kind !== 'variable') mistake(value.at, `After ${name.text}# stands one of ${type.values.map((one) => one.name).join(', ')}.`);
    return enumerated(type, value.variable.name);
  }
  if (type === BOOL && value.kind === 'whole' && (value.value === 0n || value.value === 1n))
    return constantCode(BOOL, value.value === 1n, value.at);
  return convert(compile(value, scope), type);
}

function enumerated(type: EnumType, { text, at }: Name): Code {
  const value = type.values.find((one) => one.name.toLowerCase() === text.toLowerCase());
  if (!value)
    mistake(
      at,
      `${type.name} has no value ${text}.${did(
        text,
        type.values.map((one) => one.name),
      )}`,
    );
  return constantCode(type, value.number, at);
}

/** A variable with its fields, elements and bits; or an enumerated value by its bare name. */
export function variable({ name, path }: VariableText, scope: Scope): Code {
  const found = scope.find(name.text);
  if (!found) return enumeratedByName(name, path, scope) ?? unknown(name, scope);
  const { variable: declared, index, from } = found;
  const { machine } = scope.world;
  const isReference = declared.section === 'VAR_IN_OUT';
  const base: Place = {
    type: declared.type,
    holder: from !== 'own' ? () => machine.globals : isReference ? (slots) => (slots[index] as Reference).holder : (slots) => slots,
    index: isReference ? (slots) => (slots[index] as Reference).index : () => index,
    part: null,
    locked: lockOf(declared, from, scope),
    outer: from === 'outer' ? index : null,
  };
  const constant = path.length === 0 && declared.isConstant ? scope.constantOf(name.text) : undefined;
  if (constant !== undefined) return { ...constantCode(declared.type, constant, name.at), place: base };
  const place = path.reduce((at, step) => stepInto(at, step, scope), base);
  const globals = machine.globals;
  const direct: Run | null = path.length > 0 || isReference ? null : from === 'own' ? (slots) => slots[index] : () => globals[index];
  return { type: place.type, run: direct ?? reader(place), place, at: name.at };
}

function lockOf({ name, isConstant, section }: Variable, from: string, scope: Scope): string | null {
  if (isConstant) return `${name} is a constant.`;
  return from === 'own' && section === 'VAR_INPUT' && scope.unit ? `${name} is an input, which is not written in here.` : null;
}

function enumeratedByName(name: Name, path: readonly PathStep[], scope: Scope): Code | null {
  const enums = [...scope.world.types.values()].filter((type): type is EnumType => type.kind === 'enum');
  const [first] = path;
  if (path.length === 1 && first!.kind === 'field') {
    const type = enums.find((one) => one.name.toLowerCase() === name.text.toLowerCase());
    return type ? enumerated(type, first!.name) : null;
  }
  const having =
    path.length === 0 ? enums.filter((type) => type.values.some((value) => value.name.toLowerCase() === name.text.toLowerCase())) : [];
  if (having.length > 1)
    mistake(name.at, `${name.text} is a value of ${having.map((type) => type.name).join(' and ')}. Write ${having[0]!.name}#${name.text}.`);
  return having[0] ? enumerated(having[0], name) : null;
}

function unknown({ text, at }: Name, scope: Scope): never {
  return mistake(at, `There is no variable ${text}.${did(text, scope.names())}`);
}

function stepInto(place: Place, step: PathStep, scope: Scope): Place {
  if (step.kind === 'part') return partOf(place, step);
  if (step.kind === 'index') return elementOf(place, step.index, step.at, scope);
  const { type } = place;
  const { text, at } = step.name;
  const fields = type.kind === 'struct' ? type.fields : type.kind === 'block' ? type.block.variables : null;
  if (!fields) mistake(at, `${typeName(type)} has no fields.`);
  const index = fields.findIndex((field) => field.name.toLowerCase() === text.toLowerCase());
  const found = fields[index];
  if (!found || isInside(found)) {
    const seen = fields.filter((field) => !isInside(field)).map((field) => field.name);
    mistake(
      at,
      found ? `${text} is inside ${typeName(type)} and not seen from outside.` : `${typeName(type)} has no ${text}.${did(text, seen)}`,
    );
  }
  const locked = 'section' in found && found.section === 'VAR_OUTPUT' ? `${text} is an output, which only its block writes.` : place.locked;
  return { ...place, type: found.type, holder: reader(place) as (slots: unknown[]) => unknown[], index: () => index, locked };
}

/** Of a block only its inputs and outputs are seen. */
function isInside(field: Field | Variable): boolean {
  return 'isShown' in field && !field.isShown;
}

function elementOf(place: Place, expression: Expression, at: At, scope: Scope): Place {
  const { type } = place;
  if (type.kind !== 'array') mistake(at, `${typeName(type)} is no array.`);
  const code = settled(compile(expression, scope));
  if (!isWhole(code.type)) mistake(expression.at, `An element is chosen by a whole number, not by ${typeName(code.type)}.`);
  const { low, high, of } = type;
  const outside = (chosen: number | bigint) => `Element ${chosen} is outside of ${low} to ${high}.`;
  if (code.constant !== undefined) {
    const chosen = Number(code.constant);
    if (chosen < low || chosen > high) mistake(expression.at, outside(chosen));
  }
  const choose = isBig(code.type) ? (slots: unknown[]) => Number(code.run(slots)) : (code.run as (slots: unknown[]) => number);
  const index = (slots: unknown[]) => {
    const chosen = choose(slots);
    if (chosen < low || chosen > high) throw new Stopped(outside(chosen), expression.at);
    return chosen - low;
  };
  return { ...place, type: of, holder: reader(place) as (slots: unknown[]) => unknown[], index };
}

const sizes = { X: 1, B: 8, W: 16, D: 32 } as const;
const parts = { X: BOOL, B: elementary('BYTE'), W: elementary('WORD'), D: elementary('DWORD') } as const;

/** `x.3`, `x.%B1` (edition 3, table 17) */
function partOf(place: Place, { size, number, at }: Extract<PathStep, { kind: 'part' }>): Place {
  const { type } = place;
  const width = widthOf(type);
  if (!width || width.bits === 1 || place.part) mistake(at, `${typeName(type)} has no bits of its own.`);
  const bits = sizes[size];
  const last = width.bits / bits - 1;
  if (!Number.isInteger(number) || number > last || last < 1)
    mistake(at, `${typeName(type)} has no part ${number} of this size; ${last < 1 ? 'it is no larger' : `they are 0 to ${last}`}.`);
  return { ...place, type: parts[size], part: { of: type, from: number * bits, bits } };
}

/** What reads a place. */
export function reader({ holder, index, part }: Place): Run {
  if (!part) return (slots) => holder(slots)[index(slots)];
  const { from, bits } = part;
  if (isBig(part.of)) {
    const [shift, mask] = [BigInt(from), (1n << BigInt(bits)) - 1n];
    const whole: Run = (slots) => ((holder(slots)[index(slots)] as bigint) >> shift) & mask;
    return bits === 1 ? (slots) => whole(slots) === 1n : (slots) => Number(whole(slots));
  }
  if (bits === 1) return (slots) => (((holder(slots)[index(slots)] as number) >> from) & 1) === 1;
  const mask = 2 ** bits - 1;
  return (slots) => ((holder(slots)[index(slots)] as number) >>> from) & mask;
}

/** What writes a place. */
export function writer({ holder, index, part, type }: Place): (slots: unknown[], value: unknown) => void {
  if (!part) {
    const length = type.kind === 'string' ? type.length : null;
    if (length !== null)
      return (slots, value) =>
        void (holder(slots)[index(slots)] = (value as string).length > length ? (value as string).slice(0, length) : value);
    return (slots, value) => void (holder(slots)[index(slots)] = value);
  }
  const { from, bits, of } = part;
  const mask = ((1n << BigInt(bits)) - 1n) << BigInt(from);
  return (slots, value) => {
    const [at, where] = [holder(slots), index(slots)];
    const old = BigInt(at[where] as number | bigint);
    at[where] = wholeAs(of, (old & ~mask) | (BigInt(value as number | boolean) << BigInt(from)));
  };
}

/** A condition: BOOL, and nothing else. */
export function condition(expression: Expression, scope: Scope): Code {
  const code = compile(expression, scope);
  if (code.type !== BOOL) mistake(expression.at, `A condition is BOOL, not ${nameOfType(code.type)}.`);
  return code;
}
