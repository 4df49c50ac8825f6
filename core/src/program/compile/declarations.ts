import { standardBlocks } from '../blocks/index.js';
import { standardFunction } from '../functions/index.js';
import {
  type At,
  blockOf,
  type BlockType,
  copied,
  countOf,
  did,
  type EnumType,
  type Field,
  firstOf,
  type FunctionType,
  type Initial,
  INT,
  isSameType,
  Mistake,
  mistake,
  type Name,
  type OuterVariable,
  rangeOf,
  Scope,
  sizeOf,
  type Source,
  STRING,
  type StructType,
  type Type,
  type TypeDeclaration,
  typeName,
  type TypeText,
  type Unit,
  type Variable,
  type VariableBlock,
  type VariableDeclaration,
  widthOf,
  type World,
} from '../language/index.js';
import { constantOf, wholeConstant } from './expressions.js';
import { sequence } from './statements.js';

const LONGEST_TEXT = 1024;

/** The program of a text, once all that it declares is known. */
export interface Compiled {
  name: string;
  variables: Variable[];
  make: () => unknown[];
  run: (slots: unknown[]) => void;
}

/** Looks through all that a text declares and says, and makes what runs it; null where it has no program. Mistakes are told to the world. */
export function compileSource(source: Source, outer: readonly OuterVariable[], world: World): Compiled | null {
  const told = <T>(make: () => T): T | null => tell(world, make);
  for (const block of standardBlocks) world.blocks.set(block.name.toLowerCase(), block);
  const blocks = source.units.filter(({ kind }) => kind === 'block').flatMap((unit) => told(() => declareBlock(unit, world)) ?? []);
  declareTypes(source.types, world);
  outer.forEach((variable, index) => {
    const made = { ...plainVariable(variable.name, variable.type, 'VAR_GLOBAL') };
    world.globals.set(variable.name.toLowerCase(), { variable: made, index, outer: true });
    world.machine.globals.push(made.first());
  });
  for (const block of [
    ...source.globals,
    ...source.units.flatMap((unit) => unit.variables.filter(({ section }) => section === 'VAR_GLOBAL')),
  ])
    declareGlobals(block, world);
  const functions = source.units
    .filter(({ kind }) => kind === 'function')
    .flatMap((unit) => told(() => declareFunction(unit, world)) ?? []);
  for (const { unit, block, scope } of blocks) declareVariables(unit.variables, scope, block.variables);
  for (const { block, unit } of blocks) told(() => refuseCircle(block, unit.name));
  if (world.problems.length > 0) return null;
  for (const { unit, scope, block } of blocks) {
    const run = bodyOf(unit, scope);
    block.run = (slots) => run(slots);
    block.make = maker(scope);
  }
  for (const { unit, scope, made } of functions) {
    const run = bodyOf(unit, scope);
    made.run = (slots) => run(slots);
  }
  const program = told(() => compileProgram(source, world));
  told(() => refuseRecursion(world));
  return program;
}

function tell<T>(world: World, make: () => T): T | null {
  try {
    return make();
  } catch (error) {
    if (!(error instanceof Mistake)) throw error;
    world.problems.push({ ...error.at, message: error.message });
    return null;
  }
}

function compileProgram(source: Source, world: World): Compiled | null {
  const [unit, another] = source.units.filter(({ kind }) => kind === 'program');
  if (!unit) return mistake({ line: 1, column: 1 }, 'There is no PROGRAM in this text.');
  if (another) mistake(another.name.at, `There is a program already: ${unit.name.text}.`);
  const scope = new Scope(world, { kind: 'program', name: unit.name.text }, []);
  declareVariables(unit.variables, scope, scope.variables);
  for (const variable of scope.variables) {
    const outside = world.globals.get(variable.name.toLowerCase());
    const declared = unit.variables
      .flatMap(({ variables }) => variables.flatMap(({ names }) => names))
      .find(({ text }) => text === variable.name);
    if (outside?.outer && variable.section !== 'VAR_EXTERNAL')
      mistake(declared?.at ?? unit.name.at, `${variable.name} is a point of the device already.`);
  }
  if (world.problems.length > 0) return null;
  const size = [...scope.variables, ...[...world.globals.values()].map(({ variable }) => variable)].reduce(
    (sum, { type }) => sum + sizeOf(type),
    0,
  );
  if (size > world.bounds.elements) mistake(unit.name.at, tooMany(size, world.bounds.elements));
  const run = bodyOf(unit, scope);
  return { name: unit.name.text, variables: scope.variables, make: maker(scope), run };
}

function tooMany(size: number, most: number): string {
  return `All variables together have ${size.toLocaleString('en')} elements; a program holds at most ${most.toLocaleString('en')}.`;
}

function maker(scope: Scope): () => unknown[] {
  return () => [...scope.variables.map(({ first }) => first()), ...scope.hidden.map((first) => first())];
}

/** What runs the statements of a unit; its VAR_TEMP begin anew each time. */
function bodyOf(unit: Unit, scope: Scope): (slots: unknown[]) => void {
  const body = sequence(unit.body, scope);
  const temporary = scope.variables.flatMap(({ section, first }, index) => (section === 'VAR_TEMP' ? [{ index, first }] : []));
  return (slots) => {
    for (const { index, first } of temporary) slots[index] = first();
    body(slots);
  };
}

// ── types ──

function declareTypes(declarations: readonly TypeDeclaration[], world: World): void {
  const waiting = new Map(declarations.map((declaration) => [declaration.name.text.toLowerCase(), declaration]));
  const open = new Set<string>();
  const resolve = (declaration: TypeDeclaration): Type => {
    const { text, at } = declaration.name;
    const key = text.toLowerCase();
    const known = world.types.get(key);
    if (known) return known;
    if (open.has(key)) mistake(at, `${text} contains itself.`);
    open.add(key);
    const scope = new Scope(world, null, []);
    const type = typeOf(declaration.type, scope, text, (name) => {
      const own = waiting.get(name.text.toLowerCase());
      if (own) resolve(own);
    });
    world.types.set(key, type);
    if (declaration.initial) world.firsts.set(key, beginning(declaration.initial, type, scope));
    return type;
  };
  for (const declaration of declarations) {
    tell(world, () => {
      refuseTaken(declaration.name, world);
      if (waiting.get(declaration.name.text.toLowerCase()) !== declaration)
        mistake(declaration.name.at, `There is a type ${declaration.name.text} already.`);
      resolve(declaration);
    });
  }
}

/** Names of the language, and of blocks and functions, are not given twice. */
function refuseTaken({ text, at }: Name, world: World): void {
  const key = text.toLowerCase();
  if (world.blocks.has(key) || world.functions.has(key) || standardFunction(text)) mistake(at, `There is ${text} already.`);
}

/** The type that a text stands for. `before` is asked first for each name in it. */
function typeOf(text: TypeText, scope: Scope, name: string, before: (name: Name) => void = () => undefined): Type {
  switch (text.kind) {
    case 'named':
      before(text.name);
      return scope.world.typeNamed(text.name);
    case 'string': {
      if (!text.length) return STRING;
      const length = wholeConstant(text.length, scope);
      if (length < 1 || length > LONGEST_TEXT) mistake(text.length.at, `A text has 1 to ${LONGEST_TEXT} characters.`);
      return { kind: 'string', length };
    }
    case 'array': {
      const of = typeOf(text.of, scope, name, before);
      return text.bounds.reduceRight<Type>((inner, bound) => {
        const [low, high] = [wholeConstant(bound.low, scope), wholeConstant(bound.high, scope)];
        if (low > high) mistake(bound.low.at, `${low} to ${high} is empty.`);
        const array: Type = { kind: 'array', low, high, of: inner };
        const size = countOf(array);
        const most = scope.world.bounds.elements;
        if (size > most)
          mistake(text.at, `This array has ${size.toLocaleString('en')} elements; a program holds at most ${most.toLocaleString('en')}.`);
        return array;
      }, of);
    }
    case 'struct':
      return structOf(text.fields, scope, name, before);
    case 'enum':
      return enumOf(text, scope, name);
  }
}

function structOf(declarations: readonly VariableDeclaration[], scope: Scope, name: string, before: (name: Name) => void): StructType {
  const fields: Field[] = [];
  for (const declaration of declarations) {
    const type = typeOf(declaration.type, scope, name, before);
    const first = firstFor(declaration, type, scope);
    for (const own of declaration.names) {
      if (fields.some((field) => field.name.toLowerCase() === own.text.toLowerCase()))
        mistake(own.at, `${name} has a field ${own.text} already.`);
      fields.push({ name: own.text, type, first });
    }
  }
  return { kind: 'struct', name, fields };
}

function enumOf({ values }: Extract<TypeText, { kind: 'enum' }>, scope: Scope, name: string): EnumType {
  let next = 0;
  const made: EnumType['values'] = [];
  for (const { name: own, value } of values) {
    const number = value ? wholeConstant(value, scope) : next;
    const [low, high] = rangeOf(widthOf(INT)!);
    if (number < low || number > high) mistake(own.at, `${number} does not fit into INT.`);
    if (made.some((one) => one.name.toLowerCase() === own.text.toLowerCase())) mistake(own.at, `${name} has a value ${own.text} already.`);
    made.push({ name: own.text, number });
    next = number + 1;
  }
  return { kind: 'enum', name, values: made };
}

// ── variables ──

function plainVariable(name: string, type: Type, section: Variable['section']): Variable {
  return { name, type, section, isConstant: false, isRetained: false, place: null, first: firstOf(type), isShown: true };
}

/** What a variable begins with: as is said with it, or with its type, or zero. */
function firstFor({ type: text, initial }: VariableDeclaration, type: Type, scope: Scope): () => unknown {
  if (initial) return beginning(initial, type, scope);
  const byType = text.kind === 'named' ? scope.world.firsts.get(text.name.text.toLowerCase()) : undefined;
  return byType ?? firstOf(type);
}

function beginning(initial: Initial, type: Type, scope: Scope): () => unknown {
  switch (initial.kind) {
    case 'value': {
      const { value } = constantOf(initial.value, type, scope);
      if (type.kind === 'string') {
        if ((value as string).length > type.length)
          mistake(initial.at, `This text has ${(value as string).length} characters; ${typeName(type)} holds ${type.length}.`);
      }
      return () => value;
    }
    case 'list': {
      if (type.kind !== 'array') return mistake(initial.at, `${typeName(type)} is no array.`);
      const firsts = initial.items.flatMap(({ times, value }) => {
        const first = beginning(value, type.of, scope);
        const count = times ? wholeConstant(times, scope) : 1;
        if (count < 0 || count > scope.world.bounds.elements) mistake(initial.at, `An element stands here ${count} times.`);
        return Array.from({ length: count }, () => first);
      });
      const size = type.high - type.low + 1;
      if (firsts.length > size) mistake(initial.at, `There are ${firsts.length} values for ${size} elements.`);
      const rest = firstOf(type.of);
      return () => Array.from({ length: size }, (_, index) => (firsts[index] ?? rest)());
    }
    case 'fields': {
      const fields =
        type.kind === 'struct'
          ? type.fields
          : type.kind === 'block'
            ? type.block.variables.filter(({ section }) => section === 'VAR_INPUT')
            : null;
      if (!fields) return mistake(initial.at, `${typeName(type)} has no fields.`);
      const all = type.kind === 'struct' ? type.fields : (type as Extract<Type, { kind: 'block' }>).block.variables;
      const set = initial.fields.map(({ name, value }) => {
        const field = fields.find((one) => one.name.toLowerCase() === name.text.toLowerCase());
        if (!field)
          mistake(
            name.at,
            `${typeName(type)} has no ${name.text}.${did(
              name.text,
              fields.map((one) => one.name),
            )}`,
          );
        return { index: all.indexOf(field as never), first: beginning(value, field.type, scope) };
      });
      const plain = firstOf(type);
      return () => {
        const made = plain() as unknown[];
        for (const { index, first } of set) made[index] = first();
        return made;
      };
    }
  }
}

/** Adds the variables of a unit to its scope, one after the other, so that later ones may use constants before them. */
function declareVariables(blocks: readonly VariableBlock[], scope: Scope, into: readonly Variable[]): void {
  const { world, unit } = scope;
  for (const block of blocks) {
    if (block.section === 'VAR_GLOBAL') continue;
    for (const declaration of block.variables) {
      tell(world, () => {
        const type = typeOf(declaration.type, scope, 'this');
        // What lies elsewhere has nothing here.
        const isElsewhere = block.section === 'VAR_EXTERNAL' || block.section === 'VAR_IN_OUT';
        const first = isElsewhere ? () => null : firstFor(declaration, type, scope);
        for (const { text, at } of declaration.names) {
          if (scope.has(text)) mistake(at, `There is a variable ${text} already.`);
          if (block.section === 'VAR_EXTERNAL') checkExternal({ text, at }, type, world);
          const isShown = unit?.kind === 'program' || block.section === 'VAR_INPUT' || block.section === 'VAR_OUTPUT';
          const { section, isConstant, isRetained } = block;
          scope.add({ name: text, type, section, isConstant, isRetained, place: declaration.place, first, isShown });
          if (isConstant && type.kind !== 'array' && type.kind !== 'struct' && type.kind !== 'block') scope.setConstant(text, first());
          if (into.length > world.bounds.variables)
            mistake(at, `There are more than ${world.bounds.variables.toLocaleString('en')} variables.`);
        }
      });
    }
  }
}

function checkExternal({ text, at }: Name, type: Type, world: World): void {
  const global = world.globals.get(text.toLowerCase());
  if (!global)
    mistake(
      at,
      `There is no global variable ${text}.${did(
        text,
        [...world.globals.values()].map(({ variable }) => variable.name),
      )}`,
    );
  if (!isSameType(global.variable.type, type)) mistake(at, `${text} is ${typeName(global.variable.type)}, not ${typeName(type)}.`);
}

function declareGlobals(block: VariableBlock, world: World): void {
  const scope = new Scope(world, null, []);
  for (const declaration of block.variables) {
    tell(world, () => {
      const type = typeOf(declaration.type, scope, 'this');
      const first = firstFor(declaration, type, scope);
      for (const { text, at } of declaration.names) {
        if (world.globals.has(text.toLowerCase())) mistake(at, `There is a variable ${text} already.`);
        const variable = {
          ...plainVariable(text, type, 'VAR_GLOBAL'),
          isConstant: block.isConstant,
          isRetained: block.isRetained,
          place: declaration.place,
          first,
        };
        world.globals.set(text.toLowerCase(), { variable, index: world.machine.globals.length, outer: false });
        if (block.isConstant)
          world.globalConstants.set(text.toLowerCase(), type.kind === 'array' || type.kind === 'struct' ? undefined : first());
        // An instance of a block is made once its variables are known.
        world.machine.globals.push(type.kind === 'block' ? null : copied(first()));
      }
    });
  }
}

// ── functions and blocks ──

interface DeclaredBlock {
  unit: Unit;
  block: BlockType;
  scope: Scope;
}

function declareBlock(unit: Unit, world: World): DeclaredBlock {
  refuseTaken(unit.name, world);
  const variables: Variable[] = [];
  const scope = new Scope(world, { kind: 'block', name: unit.name.text }, variables);
  const block = blockOf({ name: unit.name.text, variables, make: maker(scope), run: () => undefined });
  world.blocks.set(unit.name.text.toLowerCase(), block);
  return { unit, block, scope };
}

function declareFunction(unit: Unit, world: World): { unit: Unit; made: FunctionType; scope: Scope } {
  const { text, at } = unit.name;
  refuseTaken(unit.name, world);
  const scope = new Scope(world, { kind: 'function', name: text }, []);
  const result = unit.result ? typeOf(unit.result, scope, text) : null;
  if (result?.kind === 'block') mistake(at, 'A function gives no block.');
  scope.add({ ...plainVariable(text, result ?? INT, 'VAR'), isShown: false });
  declareVariables(unit.variables, scope, scope.variables);
  if (scope.variables.some(({ type }) => type.kind === 'block'))
    mistake(at, `${text} is a function, which remembers nothing: instances of blocks stand in programs and function blocks.`);
  const size = scope.variables.reduce((sum, { type }) => sum + countOf(type), 0);
  const made: FunctionType = { name: text, variables: scope.variables, result, make: maker(scope), size, run: () => undefined };
  world.functions.set(text.toLowerCase(), made);
  return { unit, made, scope };
}

/** A block with an instance of itself in it would have no end. */
function refuseCircle(block: BlockType, { at }: Name): void {
  const within = (type: Type): BlockType[] => {
    switch (type.kind) {
      case 'block':
        return [type.block];
      case 'array':
        return within(type.of);
      case 'struct':
        return type.fields.flatMap((field) => within(field.type));
      default:
        return [];
    }
  };
  const seen = new Set<BlockType>();
  const look = (one: BlockType) => {
    for (const inner of one.variables.flatMap(({ type, section }) => (section === 'VAR_IN_OUT' ? [] : within(type)))) {
      if (inner === block) mistake(at, `${block.name} contains itself.`);
      if (!seen.has(inner)) {
        seen.add(inner);
        look(inner);
      }
    }
  };
  look(block);
}

/** Nothing calls itself, on no way (edition 3, section 6.6.2.2): so no call is ever deeper than the text. */
function refuseRecursion({ calls, functions, blocks }: World): void {
  const done = new Set<string>();
  const nameOf = (key: string) => functions.get(key)?.name ?? blocks.get(key)?.name ?? key;
  const look = (key: string, above: readonly string[], at: At): void => {
    if (above.includes(key))
      mistake(at, `${nameOf(key)} calls itself${above.at(-1) === key ? '' : ` by way of ${nameOf(above.at(-1)!)}`}.`);
    if (done.has(key)) return;
    for (const call of calls.get(key) ?? []) look(call.callee, [...above, key], call.at);
    done.add(key);
  };
  for (const key of calls.keys()) look(key, [], { line: 1, column: 1 });
}
