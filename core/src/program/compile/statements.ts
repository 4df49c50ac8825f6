import { standardFunction } from '../functions/index.js';
import {
  type At,
  type CaseLabel,
  convert,
  isBig,
  isBits,
  isWhole,
  Mistake,
  mistake,
  nameOfType,
  type Scope,
  sizeOf,
  type Statement,
  type Type,
  typeName,
  wrapper,
} from '../language/index.js';
import { callFunction, callInstance, callOwn, storing, writablePlace } from './calls.js';
import { compile, compileAs, condition, constantOf, variable, writer } from './expressions.js';

/** How statements ended: by themselves, or by EXIT, CONTINUE or RETURN. */
type Ended = 0 | 1 | 2 | 3;
export type Execute = (slots: unknown[]) => Ended;

const ends = { EXIT: 1, CONTINUE: 2, RETURN: 3 } as const;

/** Checks statements and makes what runs them. A statement with a mistake is told, and the others are looked at all the same. */
export function sequence(statements: readonly Statement[], scope: Scope): Execute {
  const runs: Execute[] = [];
  const places: At[] = [];
  for (const statement of statements) {
    try {
      runs.push(execute(statement, scope));
      places.push(statement.at);
    } catch (error) {
      if (!(error instanceof Mistake)) throw error;
      scope.world.problems.push({ ...error.at, message: error.message });
    }
  }
  const { machine } = scope.world;
  const count = runs.length;
  return (slots) => {
    for (let index = 0; index < count; index++) {
      if (--machine.left < 0) machine.spend(1, places[index]!);
      const ended = runs[index]!(slots);
      if (ended !== 0) return ended;
    }
    return 0;
  };
}

function execute(statement: Statement, scope: Scope): Execute {
  switch (statement.kind) {
    case 'assign':
      return assignment(statement, scope);
    case 'call':
      return call(statement, scope);
    case 'if':
      return choice(statement, scope);
    case 'case':
      return selection(statement, scope);
    case 'for':
      return counted(statement, scope);
    case 'while':
      return whileLoop(statement, scope);
    case 'repeat':
      return repeatLoop(statement, scope);
    case 'leave': {
      if (statement.by !== 'RETURN' && scope.loops === 0) mistake(statement.at, `${statement.by} stands in a loop.`);
      const ended = ends[statement.by];
      return () => ended;
    }
  }
}

type Of<K extends Statement['kind']> = Extract<Statement, { kind: K }>;

function assignment({ to, value, at }: Of<'assign'>, scope: Scope): Execute {
  const place = writablePlace(variable(to, scope), at);
  if (place.type.kind === 'block') mistake(at, `${typeName(place.type)} is a block: it is called, and given nothing.`);
  const put = storing(compileAs(value, place.type, scope), place.type);
  const write = writer(place);
  const size = sizeOf(place.type);
  const { machine } = scope.world;
  return (slots) => {
    if (size > 1) machine.spend(size, at);
    write(slots, put(slots));
    return 0;
  };
}

function call({ callee, arguments: args, at }: Of<'call'>, scope: Scope): Execute {
  const { name, path } = callee;
  const own = path.length === 0 ? scope.world.functions.get(name.text.toLowerCase()) : undefined;
  if (own && !scope.find(name.text)) {
    const { run } = callOwn(own, args, scope, at);
    return (slots) => (run(slots), 0);
  }
  const standard = path.length === 0 && !scope.find(name.text) ? standardFunction(name.text) : undefined;
  if (standard?.acts) {
    const { run } = callFunction(name, args, scope, at, null);
    return (slots) => (run(slots), 0);
  }
  if (standard) mistake(at, `${name.text} gives a value, which is put nowhere. Write … := ${name.text}(…).`);
  const run = callInstance(variable(callee, scope), args, scope, at);
  return (slots) => (run(slots), 0);
}

function choice({ branches, otherwise }: Of<'if'>, scope: Scope): Execute {
  const ways = branches.map((branch) => ({
    condition: guarded(() => condition(branch.condition, scope).run, scope),
    then: sequence(branch.then, scope),
  }));
  const last = sequence(otherwise, scope);
  const [first, second] = ways;
  if (ways.length === 1) return (slots) => (first!.condition(slots) ? first!.then(slots) : last(slots));
  if (ways.length === 2)
    return (slots) => (first!.condition(slots) ? first!.then(slots) : second!.condition(slots) ? second!.then(slots) : last(slots));
  return (slots) => {
    for (const way of ways) if (way.condition(slots)) return way.then(slots);
    return last(slots);
  };
}

/** A mistake in a condition is told, and what stands under it is looked at all the same. */
function guarded(make: () => (slots: unknown[]) => boolean, scope: Scope): (slots: unknown[]) => boolean {
  try {
    return make();
  } catch (error) {
    if (!(error instanceof Mistake)) throw error;
    scope.world.problems.push({ ...error.at, message: error.message });
    return () => false;
  }
}

function selection({ of, branches, otherwise, at }: Of<'case'>, scope: Scope): Execute {
  const selector = compile(of, scope);
  const type = selector.type as Type;
  if (selector.type.kind === 'untyped' || !(isWhole(type) || isBits(type) || type.kind === 'enum'))
    mistake(at, `CASE chooses by a whole number, bits or an enumerated value, not by ${nameOfType(selector.type)}.`);
  const single = new Map<number, Execute>();
  const ranges: { from: number; to: number; then: Execute }[] = [];
  for (const { labels, then } of branches) {
    const run = sequence(then, scope);
    for (const label of labels) {
      const [from, to] = labelled(label, type, scope);
      if (from > to) mistake(label.from.at, `${from} to ${to} is empty.`);
      const taken =
        [...single.keys()].find((value) => value >= from && value <= to) ??
        ranges.find((range) => range.from <= to && range.to >= from)?.from;
      if (taken !== undefined) mistake(label.from.at, `${Math.max(taken, from)} is a label already.`);
      if (from === to) single.set(from, run);
      else ranges.push({ from, to, then: run });
    }
  }
  const last = sequence(otherwise, scope);
  return (slots) => {
    const value = Number(selector.run(slots));
    const chosen = single.get(value);
    if (chosen) return chosen(slots);
    for (const range of ranges) if (value >= range.from && value <= range.to) return range.then(slots);
    return last(slots);
  };
}

function labelled({ from, to }: CaseLabel, type: Type, scope: Scope): [number, number] {
  const first = Number(constantOf(from, type, scope).value);
  return [first, to ? Number(constantOf(to, type, scope).value) : first];
}

/** FOR: ends are worked out once; the count itself does not wrap, so that a loop to the end of a type ends. */
function counted({ variable: counter, from, to, by, body, at }: Of<'for'>, scope: Scope): Execute {
  const place = writablePlace(variable(counter, scope), at);
  const { type } = place;
  if (!isWhole(type) || place.part) mistake(at, `FOR counts with a whole number, not with ${typeName(type)}.`);
  const [first, last] = [compileAs(from, type, scope).run, compileAs(to, type, scope).run];
  const step = by ? steps(by, type, scope) : () => 1;
  const inner = looped(body, scope);
  const write = writer(place);
  const { machine } = scope.world;
  if (isBig(type)) {
    return (slots) => {
      const [end, every] = [last(slots) as bigint, BigInt(step(slots))];
      let count = first(slots) as bigint;
      for (; every > 0n ? count <= end : count >= end; count += every) {
        machine.spend(1, at);
        write(slots, count);
        const ended = inner(slots);
        if (ended === 1) return 0;
        if (ended === 3) return 3;
      }
      write(slots, count);
      return 0;
    };
  }
  const wrap = wrapper(type);
  return (slots) => {
    const [end, every] = [last(slots) as number, Number(step(slots))];
    let count = first(slots) as number;
    for (; every > 0 ? count <= end : count >= end; count += every) {
      machine.spend(1, at);
      write(slots, wrap(count));
      const ended = inner(slots);
      if (ended === 1) return 0;
      if (ended === 3) return 3;
    }
    write(slots, wrap(count));
    return 0;
  };
}

/** A step may be negative also where the counter has no sign. */
function steps(by: Of<'for'>['from'], type: Type, scope: Scope): (slots: unknown[]) => number | bigint {
  const code = compile(by, scope);
  if (code.constant !== undefined && code.type.kind === 'untyped') {
    const value = code.constant as bigint | number;
    if (typeof value === 'number') mistake(by.at, 'A step is a whole number.');
    if (value === 0n) mistake(by.at, 'A step of 0 never ends.');
    return () => value;
  }
  return convert(code, type).run as (slots: unknown[]) => number | bigint;
}

function looped(body: readonly Statement[], scope: Scope): Execute {
  scope.loops += 1;
  const inner = sequence(body, scope);
  scope.loops -= 1;
  return inner;
}

function whileLoop({ condition: text, body, at }: Of<'while'>, scope: Scope): Execute {
  const holds = guarded(() => condition(text, scope).run, scope);
  const inner = looped(body, scope);
  const { machine } = scope.world;
  return (slots) => {
    while (holds(slots)) {
      machine.spend(1, at);
      const ended = inner(slots);
      if (ended === 1) return 0;
      if (ended === 3) return 3;
    }
    return 0;
  };
}

function repeatLoop({ until, body, at }: Of<'repeat'>, scope: Scope): Execute {
  const inner = looped(body, scope);
  const reached = guarded(() => condition(until, scope).run, scope);
  const { machine } = scope.world;
  return (slots) => {
    do {
      machine.spend(1, at);
      const ended = inner(slots);
      if (ended === 1) return 0;
      if (ended === 3) return 3;
    } while (!reached(slots));
    return 0;
  };
}
