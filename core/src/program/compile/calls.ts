import { type StandardFunction, standardFunction, standardFunctions } from '../functions/index.js';
import {
  type Argument,
  type At,
  BOOL,
  type Code,
  convert,
  copied,
  did,
  type FunctionType,
  isBits,
  isNumber,
  isSameType,
  mistake,
  type Name,
  nameOfType,
  type Place,
  type Scope,
  type Type,
  typeName,
  type Variable,
} from '../language/index.js';
import { compile, compileAs, type Reference, variable, writer } from './expressions.js';

/** A call within an expression: of a function of the text, or of the language. */
export function callFunction(name: Name, args: readonly Argument[], scope: Scope, at: At, wanted: Type | null): Code {
  const own = scope.world.functions.get(name.text.toLowerCase());
  if (own) {
    if (!own.result) mistake(at, `${own.name} gives nothing back, so it stands by itself.`);
    return callOwn(own, args, scope, at);
  }
  const standard = standardFunction(name.text);
  if (standard)
    return standard.compile({
      name: standard.name,
      args: inOrder(standard, args, scope, at, standard.takes ?? wanted),
      at,
      scope,
      wanted: wanted && takesNumbers(wanted) ? wanted : null,
    });
  const found = scope.find(name.text);
  if (found?.variable.type.kind === 'block')
    mistake(at, `${name.text} is a block: it is called by itself, and its outputs are read after that.`);
  const names = [...standardFunctions.map((one) => one.name), ...[...scope.world.functions.values()].map((one) => one.name)];
  return mistake(at, `There is no function ${name.text}.${did(name.text, names)}`);
}

/** Whether a number as it was written becomes this type. */
function takesNumbers(type: Type): boolean {
  return isNumber(type) || (isBits(type) && type !== BOOL);
}

/** The arguments of a function of the language in the order of its parameters, which may be named. */
function inOrder(
  { name, parameters, more, optional = 0 }: StandardFunction,
  args: readonly Argument[],
  scope: Scope,
  at: At,
  wanted: Type | null,
): Code[] {
  const isNamed = args.some((argument) => argument.name);
  if (isNamed && args.some((argument) => !argument.name)) mistake(at, `The arguments of ${name} are either all named, or none is.`);
  const fewest = parameters.length - optional;
  if (args.length < fewest || (args.length > parameters.length && !more))
    mistake(at, `${name} takes ${countText(fewest, more ? null : parameters.length)}, not ${args.length}.`);
  const given = (argument: Argument): Code =>
    argument.value && !argument.out
      ? compile(argument.value, scope, wanted)
      : mistake(argument.name?.at ?? at, `${name} gives its result back; it has no outputs.`);
  if (!isNamed) return args.map(given);
  const last = parameters.at(-1) ?? '';
  const stem = last.replace(/\d$/, '');
  const first = Number(last.slice(stem.length));
  const names = args.map((_, index) => parameters[index] ?? `${stem}${first + index - parameters.length + 1}`);
  return names.map((parameter) => {
    const argument = args.find((one) => one.name!.text.toUpperCase() === parameter);
    if (argument) return given(argument);
    const strange = args.find((one) => !names.includes(one.name!.text.toUpperCase()));
    return mistake(
      strange?.name!.at ?? at,
      strange ? `${name} has no input ${strange.name!.text}.${did(strange.name!.text, names)}` : `${parameter} of ${name} is missing.`,
    );
  });
}

function countText(fewest: number, most: number | null): string {
  const noun = (most ?? fewest) === 1 ? 'argument' : 'arguments';
  return most === null
    ? `${fewest} ${noun} or more`
    : fewest === most
      ? `${most === 0 ? 'no' : most} ${noun}`
      : `${fewest} to ${most} ${noun}`;
}

/** What a call does before and after the callee runs: values go in, places are lent, and what it gives is put away. */
interface Handing {
  before: (slots: unknown[], own: unknown[]) => void;
  after: (slots: unknown[], own: unknown[]) => void;
}

/** A call of a function of the text. */
export function callOwn(callee: FunctionType, args: readonly Argument[], scope: Scope, at: At): Code {
  noteCall(callee.name, scope, at);
  const { before, after } = handing(callee.name, callee.variables, args, scope, at, true);
  const { machine } = scope.world;
  const run = (slots: unknown[]) => {
    machine.spend(callee.size, at);
    const own = callee.make();
    before(slots, own);
    callee.run(own, machine);
    after(slots, own);
    return own[0];
  };
  return { type: callee.result ?? BOOL, run, at };
}

/** A call of an instance of a block, by itself. */
export function callInstance(instance: Code, args: readonly Argument[], scope: Scope, at: At): (slots: unknown[]) => void {
  if (instance.type.kind !== 'block') mistake(at, `${nameOfType(instance.type)} is not called.`);
  const { block } = instance.type;
  noteCall(block.name, scope, at);
  const { before, after } = handing(block.name, block.variables, args, scope, at, false);
  const { machine } = scope.world;
  const { run } = instance;
  return (slots) => {
    const own = run(slots) as unknown[];
    before(slots, own);
    block.run(own, machine);
    after(slots, own);
  };
}

function noteCall(callee: string, { world, unit }: Scope, at: At): void {
  const caller = unit?.name.toLowerCase() ?? '';
  world.calls.set(caller, [...(world.calls.get(caller) ?? []), { callee: callee.toLowerCase(), at: { ...at, message: '' } }]);
}

/** `isFunction`: all that goes in has to be given; an instance of a block keeps what it was given before. */
function handing(
  name: string,
  variables: readonly Variable[],
  args: readonly Argument[],
  scope: Scope,
  at: At,
  isFunction: boolean,
): Handing {
  const inward = variables.flatMap((declared, index) =>
    declared.section === 'VAR_INPUT' || declared.section === 'VAR_IN_OUT' ? [{ declared, index }] : [],
  );
  const outward = variables.flatMap((declared, index) => (declared.section === 'VAR_OUTPUT' ? [{ declared, index }] : []));
  const byPlace = args.filter((argument) => !argument.name);
  if (byPlace.length > 0 && byPlace.length < args.length) mistake(at, `The arguments of ${name} are either all named, or none is.`);
  if (byPlace.length > inward.length) mistake(at, `${name} takes ${countText(inward.length, inward.length)}, not ${args.length}.`);
  const before: Handing['before'][] = [];
  const after: Handing['after'][] = [];
  const given = new Set<number>();
  args.forEach((argument, place) => {
    const wanted = argument.name?.text.toLowerCase();
    const among = argument.out ? outward : inward;
    const found = wanted === undefined ? inward[place] : among.find(({ declared }) => declared.name.toLowerCase() === wanted);
    const where = argument.name?.at ?? at;
    if (!found) mistake(where, notThere(name, argument, inward, outward));
    if (given.has(found.index)) mistake(where, `${found.declared.name} is given twice.`);
    given.add(found.index);
    if (argument.out) after.push(...takeOut(argument, found, scope));
    else if (found.declared.section === 'VAR_IN_OUT') before.push(lend(argument, found, scope, name, where));
    else before.push(giveIn(argument, found, scope, where));
  });
  for (const { declared, index } of inward) {
    if (given.has(index)) continue;
    if (declared.section === 'VAR_IN_OUT') mistake(at, `${declared.name} of ${name} is missing: a variable that it may change.`);
    if (isFunction && byPlace.length > 0) mistake(at, `${name} takes ${countText(inward.length, inward.length)}, not ${args.length}.`);
  }
  return {
    before: (slots, own) => before.forEach((one) => one(slots, own)),
    after: (slots, own) => after.forEach((one) => one(slots, own)),
  };
}

interface Found {
  declared: Variable;
  index: number;
}

function notThere(name: string, { name: wanted, out }: Argument, inward: readonly Found[], outward: readonly Found[]): string {
  const text = wanted!.text;
  const isOther = (out ? inward : outward).some(({ declared }) => declared.name.toLowerCase() === text.toLowerCase());
  if (isOther) return out ? `${text} is an input of ${name}: give it with :=.` : `${text} is an output of ${name}: take it with =>.`;
  return `${name} has no ${out ? 'output' : 'input'} ${text}.${did(
    text,
    (out ? outward : inward).map(({ declared }) => declared.name),
  )}`;
}

function giveIn({ value }: Argument, { declared, index }: Found, scope: Scope, at: At): Handing['before'] {
  if (!value) mistake(at, `${declared.name} is given nothing.`);
  const put = storing(compileAs(value, declared.type, scope), declared.type);
  return (slots, own) => void (own[index] = put(slots));
}

function lend({ value }: Argument, { declared, index }: Found, scope: Scope, name: string, at: At): Handing['before'] {
  const code = value?.kind === 'variable' ? variable(value.variable, scope) : null;
  const place = code?.place;
  if (!place || place.part) mistake(at, `${declared.name} of ${name} takes a variable that it may change.`);
  if (place.locked) mistake(at, place.locked);
  if (!isSameType(place.type, declared.type))
    mistake(at, `${declared.name} of ${name} is ${typeName(declared.type)}, not ${typeName(place.type)}.`);
  return (slots, own) => void (own[index] = { holder: place.holder(slots), index: place.index(slots) } satisfies Reference);
}

function takeOut({ value }: Argument, { declared, index }: Found, scope: Scope): Handing['after'][] {
  if (!value) return [];
  if (value.kind !== 'variable') mistake(value.at, `What ${declared.name} gives is put into a variable.`);
  const place = writablePlace(variable(value.variable, scope), value.at);
  const code = convert({ type: declared.type, at: value.at, run: (own) => own[index] }, place.type);
  const write = writer(place);
  return [(slots, own) => write(slots, copied(code.run(own)))];
}

/** The place of a variable, where it may be written. */
export function writablePlace(code: Code, at: At): Place {
  if (!code.place) mistake(at, 'A value is given to a variable, not to this.');
  if (code.place.locked) mistake(at, code.place.locked);
  return code.place;
}

/** A value on its way into a variable: arrays and structures are copied, texts cut to their length. */
export function storing(code: Code, type: Type): (slots: unknown[]) => unknown {
  const { run } = code;
  if (type.kind === 'array' || type.kind === 'struct') return (slots) => copied(run(slots));
  if (type.kind === 'string') return (slots) => (run(slots) as string).slice(0, type.length);
  return run;
}
