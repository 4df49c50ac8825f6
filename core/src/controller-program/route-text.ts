import { literal } from '../handover/index.js';
import { type Point, pointLayout } from '../model/index.js';
import type { PlannedRoute } from '../plan/index.js';
import { carryOf } from '../playing/index.js';
import { masksOf, wordsFor } from '../route/index.js';
import { bitsOfDestination, describeChain, stepOf } from '../steps/index.js';
import { typeOf } from '../types/index.js';
import type { CarrierModel, Station, Wanted } from './carrier.js';
import { Chain, NotInProgram } from './chain.js';
import type { Dialect } from './dialect.js';
import { insertText, isFullText, isOnText, readPointText, writePointText } from './ends-text.js';
import { commented } from './marks.js';
import { stepText } from './steps-text.js';
import { areAlike, fromWords, iecOf, turned as exchanged, wordsOf } from './words-text.js';

/** A route in the program: its statements, and the variables that are its own. */
export interface RouteText {
  route: PlannedRoute;
  lines: string[];
  variables: { name: string; type: string }[];
}

/** Where a point is in the program: the variable, and what has to hold so that it is known. */
interface At {
  text: string;
  known: string | null;
}

/** One route, number `number` of the program, from 1. Refused with a sentence where this dialect cannot carry it. */
export function routeText(route: PlannedRoute, number: number, model: CarrierModel, dialect: Dialect): RouteText {
  const variables = new Map<string, string>();
  const own = (what: string, type: string) => {
    const name = `§${what}${number}`;
    variables.set(name, type);
    return name;
  };
  const { source, destination, loss, trigger, transforms, onlyDifferent, whileId, valid } = route;
  const from = whereIs(source.id, model);
  const to = targetOf(route, model);
  const iec = iecOf(destination, dialect);
  const looksBack = transforms.some(({ kind }) => stepOf(kind).looksBack);
  const others = [...new Set(route.others.map(({ id }) => id))].map((id) => ({ id, at: whereIs(id, model) }));
  const edgeId = trigger.on === 'edge' ? trigger.pointId : null;
  // What only triggers or allows is not needed for the value.
  const needed = new Set(
    transforms.flatMap((step) => stepOf(step.kind).points.map(({ field }) => (step as Record<string, unknown>)[field])),
  );
  const known = [from.known, ...others.filter(({ id }) => needed.has(id)).map(({ at }) => at.known)].filter((text) => text !== null);
  const span = bitsOfDestination(transforms);
  const remembers = trigger.on !== 'round' || onlyDifferent || looksBack || valid !== null;
  const waits = whileId !== null || trigger.on !== 'round' || onlyDifferent || looksBack || loss.stillMs !== null;
  const chain = new Chain(dialect);
  const target = waits ? own('value', iec) : to.text;
  const steps = stepMemories(route, own, dialect);

  const deadband = trigger.on === 'change' ? trigger.deadband : 0;
  const isNumber = valueText({ chain, route, target, current: to.text, from, model, own, steps, deadband, span });
  const value = chain.done();

  const watches = loss.rule === 'value' || valid !== null || loss.stillMs !== null;
  const watch = watches ? own('watch', '§Watch') : null;
  const written = remembers ? own('written', 'BOOL') : null;
  const comparesWords = onlyDifferent || (trigger.on === 'change' && !(deadband > 0 && isNumber));
  const last = comparesWords ? own('last', iec) : null;
  const substitute = loss.rule === 'value' ? substituteOf(route, iec) : null;
  const edge = edgeId ? own('edge', 'BOOL') : null;
  const whole = valid ? own('whole', 'BOOL') : null;
  const lines: string[] = [`(* ${number}: ${aboutRoute(route)} *)`];

  const remember = (at: 'now' | 'sent'): string[] => [
    ...(written ? [`${written} := TRUE;`] : []),
    ...(last ? [`${last} := ${at === 'sent' ? own('sent', iec) : target};`] : []),
    ...(deadband > 0 && isNumber
      ? [`${own('lastNumber', dialect.real)} := ${at === 'sent' ? own('sentNumber', dialect.real) : own('number', dialect.real)};`]
      : []),
    ...steps.flatMap(({ kept, now, sent }) => [`${kept} := ${at === 'sent' ? sent() : now};`]),
    ...(looksBack ? [`${own('since', 'DINT')} := 0;`] : []),
    ...(edge ? [`${edge} := FALSE;`] : []),
    ...(whole ? [`${whole} := NOT ${at === 'sent' ? own('cut', 'BOOL') : '§limited'};`] : []),
  ];
  if (looksBack) lines.push(`${own('since', 'DINT')} := ${own('since', 'DINT')} + §elapsedMs;`);
  if (to.wanted && (written || whole)) {
    const out = own('out', 'BOOL');
    const request = `§requests[${to.wanted.request.number}]`;
    lines.push(
      `IF ${request}.begun THEN (* What leaves now is what counts as written, once that is confirmed. *)`,
      `  ${out} := ${to.ready};`,
      ...[
        ...(last ? [`${own('sent', iec)} := ${target};`] : []),
        ...(deadband > 0 && isNumber ? [`${own('sentNumber', dialect.real)} := ${own('number', dialect.real)};`] : []),
        ...steps.map(({ now, sent }) => `${sent()} := ${now};`),
        ...(whole ? [`${own('cut', 'BOOL')} := ${own('limits', 'BOOL')};`] : []),
      ].map((line) => `  ${line}`),
      'END_IF;',
      `IF ${request}.ended AND ${request}.good AND ${out} THEN`,
      ...remember('sent').map((line) => `  ${line}`),
      `  ${out} := FALSE;`,
      'END_IF;',
    );
  }
  if (edge && edgeId) {
    const at = whereIs(edgeId, model);
    const [was, wasKnown] = [own('was', 'BOOL'), own('wasKnown', 'BOOL')];
    const on = isOnOf(edgeId, model, dialect);
    const body = [`IF ${on} AND ${wasKnown} AND NOT ${was} THEN ${edge} := TRUE; END_IF;`, `${was} := ${on};`, `${wasKnown} := TRUE;`];
    lines.push(...(at.known ? [`IF ${at.known} THEN`, ...body.map((line) => `  ${line}`), 'END_IF;'] : body));
  }
  lines.push(`§ok := ${known.length > 0 ? known.join(' AND ') : 'TRUE'};`);
  if (looksBack) lines.push('§held := FALSE;');
  if (whole || transforms.some(({ kind }) => kind === 'clamp')) lines.push('§limited := FALSE;');
  lines.push(...value);
  if (whole) {
    const full = isFullText(target, destination);
    if (full) lines.push(`IF §ok AND (${full}) THEN §limited := TRUE; END_IF;`);
    lines.push(`${own('limits', 'BOOL')} := §limited;`);
  }
  if (watch) {
    let moved = 'TRUE';
    if (loss.stillMs !== null && !transforms.some(({ kind }) => stepOf(kind).movesByItself)) {
      const before = own('before', iecOf(source, dialect));
      lines.push(`§moved := ${from.text} <> ${before};`, `IF §ok THEN ${before} := ${from.text}; END_IF;`);
      moved = '§moved';
    }
    lines.push(
      `${watch}(carried := §ok, moved := ${moved}, elapsedMs := §elapsedMs, lostAfterMs := ${loss.afterMs}, stillAfterMs := ${loss.stillMs ?? 0});`,
    );
  }
  const differs = last ? `(${target} <> ${last})` : null;
  const conditions = [
    '§ok',
    ...(loss.stillMs !== null ? [`NOT ${watch}.lost`] : []),
    ...(looksBack ? ['NOT §held'] : []),
    ...(whileId ? [andKnown(whileId, model, dialect)] : []),
    ...(edge ? [edge] : []),
    ...(trigger.on === 'start' ? [`NOT ${written}`] : []),
    ...(trigger.on === 'change' && deadband > 0 && isNumber
      ? [
          `(NOT ${written} OR (ABS(${own('number', dialect.real)} - ${own('lastNumber', dialect.real)}) > ${deadband}${Number.isInteger(deadband) ? '.0' : ''}))`,
        ]
      : []),
    ...(differs ? [`(NOT ${written} OR ${differs})`] : []),
  ];
  const go = conditions.join(' AND ');
  if (to.wanted) {
    lines.push(`${to.ready} := ${go};`);
    if (waits) lines.push(`IF ${to.ready} THEN ${to.text} := ${target}; END_IF;`);
    if (substitute) lines.push(`IF ${watch}.lost THEN ${to.text} := ${substitute}; ${to.ready} := TRUE; END_IF;`);
  } else {
    const body = [...(waits ? [`${to.text} := ${target};`] : []), ...remember('now')];
    if (body.length > 0) lines.push(`IF ${go} THEN`, ...body.map((line) => `  ${line}`), 'END_IF;');
    if (substitute) lines.push(`IF ${watch}.lost THEN ${substituted(route, to.text, substitute, iec)} END_IF;`);
  }
  if (whole) lines.push(`IF ${watch}.lost THEN ${whole} := FALSE; END_IF;`);
  return { route, lines, variables: [...variables].map(([name, type]) => ({ name, type })) };
}

/** Which routes say whether a point’s values are good, as one condition. */
export function isWholeText(numbers: readonly number[]): string {
  return numbers.map((number) => `§whole${number}`).join(' AND ');
}

function aboutRoute({ name, source, destination, transforms, periodMs }: PlannedRoute): string {
  const steps = describeChain(transforms);
  return commented(`${name}: ${source.name} to ${destination.name}${steps ? `, ${steps}` : ''}; every ${periodMs} ms.`);
}

interface ValueOf {
  chain: Chain;
  route: PlannedRoute;
  target: string;
  current: string;
  from: At;
  model: CarrierModel;
  own: (what: string, type: string) => string;
  steps: readonly StepMemory[];
  deadband: number;
  span: { at: number; count: number } | null;
}

/** Statements that bring the value of a route into its target. Returns whether it is a number on the way. */
function valueText({ chain, route, target, current, from, model, own, steps, deadband, span }: ValueOf): boolean {
  const { source, destination, carry, transforms } = route;
  const { dialect } = chain;
  const untouched = carry === 'registers' && transforms.length === 0 && pointLayout(source) && pointLayout(destination);
  if (untouched) {
    if (areAlike(source, destination)) {
      refuseOtherText(source);
      chain.say(`${target} := ${from.text};`);
    } else chain.say(`${target} := ${fromWords(wordsOf(from.text, source, dialect), destination, dialect)};`);
    return false;
  }
  const swapped = swappedSource(transforms, source, from.text, dialect);
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

interface StepMemory {
  index: number;
  kept: string;
  now: string;
  sent: () => string;
}

function stepMemories({ transforms }: PlannedRoute, own: (what: string, type: string) => string, { real }: Dialect): StepMemory[] {
  return transforms.flatMap(({ kind }, index) =>
    stepOf(kind).looksBack
      ? [{ index, kept: own(`kept${index + 1}_`, real), now: own(`now${index + 1}_`, real), sent: () => own(`sent${index + 1}_`, real) }]
      : [],
  );
}

/** Where a point stands in the program. */
function whereIs(pointId: string, { variables, stations }: CarrierModel): At {
  for (const station of stations) {
    const member = station.members.get(pointId);
    if (member) {
      const readable = member.readable ? ` AND §${station.name}.${member.readable}` : '';
      return { text: `§${station.name}.${member.name}`, known: `§requests[${member.request.number}].good${readable}` };
    }
  }
  const variable = variables.get(pointId);
  if (!variable) throw new NotInProgram('One of its points is wider than any variable.');
  return { text: variable.name, known: null };
}

function pointOf(pointId: string, { others }: PlannedRoute): Point {
  return others.find(({ id }) => id === pointId)!;
}

function findPoint(pointId: string, { routes }: CarrierModel): Point {
  return routes.flatMap(({ others }) => others).find(({ id }) => id === pointId)!;
}

function isOnOf(pointId: string, model: CarrierModel, dialect: Dialect): string {
  const point = findPoint(pointId, model);
  return isOnText(whereIs(pointId, model).text, point, iecOf(point, dialect));
}

/** A bit that allows counts as off while it is not known. */
function andKnown(pointId: string, model: CarrierModel, dialect: Dialect): string {
  const { known } = whereIs(pointId, model);
  const on = isOnOf(pointId, model, dialect);
  return known ? `${known} AND ${on}` : on;
}

/** Where the value of a route goes: a variable of the controller, or what shall be written to a device. */
function targetOf(route: PlannedRoute, model: CarrierModel): { text: string; wanted: Wanted | null; ready: string } {
  for (const station of model.stations) {
    const at = wantedAt(station, route.id);
    if (at) return at;
  }
  const variable = model.variables.get(route.destination.id);
  if (!variable) throw new NotInProgram(`${route.destination.name} is wider than any variable.`);
  return { text: variable.name, wanted: null, ready: '' };
}

export function wantedAt(station: Station, id: string): { text: string; wanted: Wanted; ready: string } | null {
  const index = station.wanted.findIndex((row) => row.id === id);
  const wanted = station.wanted[index];
  return wanted ? { text: `§${station.name}Wanted.${wanted.name}`, wanted, ready: `§${station.name}Wanted.ready[${index + 1}]` } : null;
}

/** What stands in for a lost value, as a literal. */
function substituteOf(route: PlannedRoute, iec: string): string {
  const words = wordsFor(route.loss.value ?? 0, route);
  if (!words.ok) throw new NotInProgram(`What stands in for a lost value does not fit: ${words.problem.message}`);
  return typedLiteral(words.value, route.destination, iec);
}

/** The words of a point as a literal of its variable. */
export function typedLiteral(words: readonly number[], point: Point, iec: string): string {
  const value = carryOf(point).toProgram(words);
  if (value === null) throw new NotInProgram(`${point.name} does not take it.`);
  return literal(value, iec);
}

function substituted(route: PlannedRoute, target: string, text: string, iec: string): string {
  const span = bitsOfDestination(route.transforms);
  if (!span || masksOf(route) === null || !/WORD$|INT$/.test(iec)) return `${target} := ${text};`;
  const mask = `16#${(((1n << BigInt(span.count)) - 1n) << BigInt(span.at)).toString(16).toUpperCase()}`;
  const bits = { INT: 'WORD', UINT: 'WORD', DINT: 'DWORD', UDINT: 'DWORD', LINT: 'LWORD', ULINT: 'LWORD' }[iec] ?? iec;
  const as = (from: string, to: string, one: string) => (from === to ? one : `${from}_TO_${to}(${one})`);
  return `${target} := ${as(bits, iec, `(${as(iec, bits, target)} AND NOT ${bits}#${mask}) OR ${as(iec, bits, `${iec}#${text}`)}`)};`;
}
