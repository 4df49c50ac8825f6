import { type Point, pointLayout } from '../model/index.js';
import type { PlannedRoute } from '../plan/index.js';
import { bitsOfDestination, stepOf } from '../steps/index.js';
import { typeOf } from '../types/index.js';
import type { CarrierModel } from './carrier.js';
import { type Chain, NotInProgram } from './chain.js';
import type { Dialect } from './dialect.js';
import { insertText, readPointText, writePointText } from './ends-text.js';
import { isOnOf, pointOf, whereIs } from './places-text.js';
import { stepText } from './steps-text.js';
import { areAlike, fromWords, iecOf, turned as exchanged, wordsOf } from './words-text.js';

/** A variable of one route, by what it is for. */
export type Own = (what: string, type: string) => string;

/** What the value of a route is made of, and where it goes. */
export interface ValueOf {
  chain: Chain;
  route: PlannedRoute;
  target: string;
  current: string;
  from: string;
  model: CarrierModel;
  own: Own;
  steps: readonly StepMemory[];
  deadband: number;
}

/** Statements that bring the value of a route into its target. Returns whether it is a number on the way. */
export function valueText({ chain, route, target, current, from, model, own, steps, deadband }: ValueOf): boolean {
  const { source, destination, carry, transforms } = route;
  const { dialect } = chain;
  const untouched = carry === 'registers' && transforms.length === 0 && pointLayout(source) && pointLayout(destination);
  if (untouched) {
    if (areAlike(source, destination)) {
      refuseOtherText(source);
      chain.say(`${target} := ${from};`);
    } else chain.say(`${target} := ${fromWords(wordsOf(from, source, dialect), destination, dialect)};`);
    return false;
  }
  const swapped = swappedSource(transforms, source, from, dialect);
  const isSame = transforms.length === 0 && isSameNumber(source, destination) && iecOf(source, dialect) === iecOf(destination, dialect);
  if (isSame) {
    chain.say(`${target} := ${swapped};`);
    if (deadband === 0) return true;
  }
  readPointText(swapped, source, chain);
  for (const [index, step] of transforms.entries()) {
    const memory = steps.find((row) => row.index === index);
    const stepOwn = (what: string, type: string) => own(`${what}${index + 1}_`, type);
    stepText(step, chain, {
      kept: memory?.kept ?? '',
      isKept: memory ? own('written', 'BOOL') : '',
      sinceMs: memory ? own('since', 'DINT') : '',
      isOn: (pointId) => isOnOf(pointId, model, dialect),
      read: (pointId, into) => readPointText(whereIs(pointId, model).text, pointOf(pointId, route), into),
      own: stepOwn,
    });
    if (memory) chain.say(`${memory.now} := §x;`);
  }
  const { held } = chain;
  const isNumber = held.form !== 'text' && !(held.form === 'raw' && /^(U?LINT|[DL]?WORD|BYTE)$/.test(held.iec));
  if (deadband > 0 && isNumber) {
    chain.number();
    chain.say(`${own('number', dialect.real)} := §x;`);
    chain.held = held;
  }
  if (isSame) return isNumber;
  const span = bitsOfDestination(transforms);
  if (!span) {
    writePointText(target, destination, chain);
    return isNumber;
  }
  if (target !== current) chain.say(`${target} := ${current};`);
  insertText(target, destination, span, chain);
  return isNumber;
}

/** Whether raw values mean the same at both ends, so that nothing has to be worked out. */
function isSameNumber(source: Point, destination: Point): boolean {
  const { kind } = typeOf(source.type);
  if (source.type !== destination.type || JSON.stringify(source.scale) !== JSON.stringify(destination.scale)) return false;
  if (source.scale && ('clamp' in source.scale || kind === 'float')) return false;
  return kind === 'whole' ? /^u?int(16|32)$/.test(source.type) : kind === 'wide' || kind === 'float' || kind === 'bit';
}

function swappedSource(transforms: PlannedRoute['transforms'], source: Point, text: string, dialect: Dialect): string {
  return transforms.reduce((from, step) => {
    if (step.kind !== 'swap') return from;
    if (dialect.real === 'REAL' && source.type === 'float32')
      throw new NotInProgram(`The registers of ${source.name} are swapped, but a number that is made by arithmetic has none.`);
    const words = wordsOf(from, source, dialect);
    const turned = step.what === 'bytes' ? words : [...words].reverse();
    return fromWords(step.what === 'words' ? turned : turned.map(exchanged), source, dialect);
  }, text);
}

function refuseOtherText({ name, type, encoding }: Point): void {
  if (typeOf(type).kind === 'text' && (encoding ?? 'ascii') !== 'ascii')
    throw new NotInProgram(`${name} is a text in ${encoding}; the program has ASCII only.`);
}

/** What a step that looks back remembers: of what was carried last, of now, and of what is under way. */
export interface StepMemory {
  index: number;
  kept: string;
  now: string;
  sent: () => string;
}

export function stepMemories({ transforms }: PlannedRoute, own: Own, { real }: Dialect): StepMemory[] {
  return transforms.flatMap(({ kind }, index) =>
    stepOf(kind).looksBack
      ? [{ index, kept: own(`kept${index + 1}_`, real), now: own(`now${index + 1}_`, real), sent: () => own(`sent${index + 1}_`, real) }]
      : [],
  );
}
