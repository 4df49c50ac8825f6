import { literal } from '../handover/index.js';
import type { Point } from '../model/index.js';
import type { PlannedRoute } from '../plan/index.js';
import { carryOf } from '../playing/index.js';
import { masksOf, wordsFor } from '../route/index.js';
import { bitsOfDestination, describeChain, stepOf } from '../steps/index.js';
import type { CarrierModel } from './carrier.js';
import { Chain, NotInProgram, realText } from './chain.js';
import type { Dialect } from './dialect.js';
import { isFullText } from './ends-text.js';
import { commented } from './marks.js';
import { andKnown, isOnOf, type Target, targetOf, whereIs } from './places-text.js';
import { type StepMemory, stepMemories, valueText } from './value-text.js';
import { iecOf } from './words-text.js';

/** A route in the program: its statements, and the variables that are its own. */
export interface RouteText {
  route: PlannedRoute;
  lines: string[];
  variables: { name: string; type: string }[];
}

/** One route, number `number` of the program, from 1. Refused with a sentence where this dialect cannot carry it. */
export function routeText(route: PlannedRoute, number: number, model: CarrierModel, dialect: Dialect): RouteText {
  return new RouteWriter(route, number, model, dialect).text();
}

/** Which routes say whether a point’s values are good, as one condition. */
export function isWholeText(numbers: readonly number[]): string {
  return numbers.map((number) => `§whole${number}`).join(' AND ');
}

/** Writes one route: what leaves and comes back, its value, whether it is lost, whether it may go, and what is remembered of it. */
class RouteWriter {
  private readonly variables = new Map<string, string>();
  private readonly iec: string;
  private readonly to: Target;
  private readonly steps: StepMemory[];
  private readonly looksBack: boolean;
  /** The value waits in a variable of its own until it may go; else it goes where it belongs at once. */
  private readonly target: string;
  /** It has to move by more than this; 0: it only has to differ, or that does not matter. */
  private readonly deadband: number;
  private readonly value: string[];
  private readonly isNumber: boolean;
  /** Names of what is remembered; null where nothing asks for it. */
  private readonly watch: string | null;
  private readonly written: string | null;
  private readonly last: string | null;
  private readonly edge: string | null;
  private readonly whole: string | null;

  constructor(
    private readonly route: PlannedRoute,
    private readonly number: number,
    private readonly model: CarrierModel,
    private readonly dialect: Dialect,
  ) {
    const { destination, loss, trigger, transforms, onlyDifferent, whileId, valid } = route;
    this.iec = iecOf(destination, dialect);
    this.to = targetOf(route, model);
    this.looksBack = transforms.some(({ kind }) => stepOf(kind).looksBack);
    const waits = whileId !== null || trigger.on !== 'round' || onlyDifferent || this.looksBack || loss.stillMs !== null;
    this.target = waits ? this.own('value', this.iec) : this.to.text;
    this.steps = stepMemories(route, this.own, dialect);
    this.deadband = trigger.on === 'change' ? trigger.deadband : 0;
    const chain = new Chain(dialect);
    const { steps, target, deadband, own } = this;
    this.isNumber = valueText({
      chain,
      route,
      target,
      current: this.to.text,
      from: whereIs(route.source.id, model).text,
      model,
      own,
      steps,
      deadband,
    });
    this.value = chain.done();
    const name = (what: string, isUsed: boolean, type = 'BOOL') => (isUsed ? this.own(what, type) : null);
    this.watch = name('watch', loss.rule === 'value' || valid !== null || loss.stillMs !== null, '§Watch');
    this.written = name('written', trigger.on !== 'round' || onlyDifferent || this.looksBack || valid !== null);
    this.last = name('last', onlyDifferent || (trigger.on === 'change' && !this.movesBy), this.iec);
    this.edge = name('edge', trigger.on === 'edge');
    this.whole = name('whole', valid !== null);
  }

  text(): RouteText {
    const lines = [this.about(), ...this.underWay(), ...this.edgeSeen(), ...this.valueNow(), ...this.watched(), ...this.goes()];
    return { route: this.route, lines, variables: [...this.variables].map(([name, type]) => ({ name, type })) };
  }

  private readonly own = (what: string, type: string): string => {
    const name = `§${what}${this.number}`;
    this.variables.set(name, type);
    return name;
  };

  /** It goes out when its number has moved by more than the deadband. */
  private get movesBy(): boolean {
    return this.deadband > 0 && this.isNumber;
  }

  private about(): string {
    const { name, source, destination, transforms, periodMs } = this.route;
    const steps = describeChain(transforms);
    return `(* ${this.number}: ${commented(`${name}: ${source.name} to ${destination.name}${steps ? `, ${steps}` : ''}; every ${periodMs} ms.`)} *)`;
  }

  /** What leaves to a device counts as written once that is confirmed; what is there now may be another value already. */
  private underWay(): string[] {
    const since = this.looksBack ? [`${this.own('since', 'DINT')} := ${this.own('since', 'DINT')} + §elapsedMs;`] : [];
    const { to, written, last, whole, watch } = this;
    if (!to.wanted || !written) return since;
    const out = this.own('out', 'BOOL');
    const request = `§requests[${to.wanted.request.number}]`;
    const isOwn = this.route.loss.rule === 'value' ? `${to.ready} AND NOT ${watch}.lost` : to.ready;
    return [
      ...since,
      ...when(`${request}.begun`, [
        `${out} := ${isOwn};`,
        ...(last ? [`${this.own('sent', this.iec)} := ${this.target};`] : []),
        ...(this.movesBy ? [`${this.numberAt('sentNumber')} := ${this.numberAt('number')};`] : []),
        ...this.steps.map(({ now, sent }) => `${sent()} := ${now};`),
        ...(whole ? [`${this.own('cut', 'BOOL')} := ${this.own('limits', 'BOOL')};`] : []),
      ]),
      ...when(`${request}.ended AND ${request}.good AND ${out}`, [...this.remembered('sent'), `${out} := FALSE;`]),
    ];
  }

  /** What is remembered of a value that was carried: the one that is there now, or the one that was sent. */
  private remembered(which: 'now' | 'sent'): string[] {
    const { written, last, edge, whole, steps } = this;
    const isSent = which === 'sent';
    return [
      ...(written ? [`${written} := TRUE;`] : []),
      ...(last ? [`${last} := ${isSent ? this.own('sent', this.iec) : this.target};`] : []),
      ...(this.movesBy ? [`${this.numberAt('lastNumber')} := ${this.numberAt(isSent ? 'sentNumber' : 'number')};`] : []),
      ...steps.map(({ kept, now, sent }) => `${kept} := ${isSent ? sent() : now};`),
      ...(this.looksBack ? [`${this.own('since', 'DINT')} := 0;`] : []),
      ...(edge ? [`${edge} := FALSE;`] : []),
      ...(whole ? [`${whole} := NOT ${isSent ? this.own('cut', 'BOOL') : '§limited'};`] : []),
    ];
  }

  private edgeSeen(): string[] {
    const { trigger } = this.route;
    if (trigger.on !== 'edge') return [];
    const { known } = whereIs(trigger.pointId, this.model);
    const [was, wasKnown] = [this.own('was', 'BOOL'), this.own('wasKnown', 'BOOL')];
    const on = isOnOf(trigger.pointId, this.model, this.dialect);
    const seen = [`IF ${on} AND ${wasKnown} AND NOT ${was} THEN ${this.edge} := TRUE; END_IF;`, `${was} := ${on};`, `${wasKnown} := TRUE;`];
    return known ? when(known, seen) : seen;
  }

  private valueNow(): string[] {
    const { source, destination, transforms, others } = this.route;
    // What only triggers or allows is not needed for the value.
    const needed = new Set(
      transforms.flatMap((step) => stepOf(step.kind).points.map(({ field }) => (step as Record<string, unknown>)[field])),
    );
    const ids = [source.id, ...new Set(others.map(({ id }) => id).filter((id) => needed.has(id)))];
    const known = ids.flatMap((id) => whereIs(id, this.model).known ?? []);
    const full = this.whole ? isFullText(this.target, destination) : null;
    return [
      `§ok := ${known.length > 0 ? known.join(' AND ') : 'TRUE'};`,
      ...(this.looksBack ? ['§held := FALSE;'] : []),
      ...(this.whole || transforms.some(({ kind }) => kind === 'clamp') ? ['§limited := FALSE;'] : []),
      ...this.value,
      ...(full ? [`IF §ok AND (${full}) THEN §limited := TRUE; END_IF;`] : []),
      ...(this.whole ? [`${this.own('limits', 'BOOL')} := §limited;`] : []),
    ];
  }

  private watched(): string[] {
    const { source, loss, transforms } = this.route;
    if (!this.watch) return [];
    const hasToMove = loss.stillMs !== null && !transforms.some(({ kind }) => stepOf(kind).movesByItself);
    const before = hasToMove ? this.own('before', iecOf(source, this.dialect)) : '';
    const now = whereIs(source.id, this.model).text;
    return [
      ...(hasToMove ? [`§moved := ${now} <> ${before};`, `IF §ok THEN ${before} := ${now}; END_IF;`] : []),
      `${this.watch}(carried := §ok, moved := ${hasToMove ? '§moved' : 'TRUE'}, elapsedMs := §elapsedMs, lostAfterMs := ${loss.afterMs}, stillAfterMs := ${loss.stillMs ?? 0});`,
    ];
  }

  /** All that has to hold for the value to go out now. */
  private mayGo(): string {
    const { loss, whileId, trigger } = this.route;
    const { written, last, watch } = this;
    return [
      '§ok',
      ...(loss.stillMs !== null ? [`NOT ${watch}.lost`] : []),
      ...(this.looksBack ? ['NOT §held'] : []),
      ...(whileId ? [andKnown(whileId, this.model, this.dialect)] : []),
      ...(this.edge ? [this.edge] : []),
      ...(trigger.on === 'start' ? [`NOT ${written}`] : []),
      ...(this.movesBy
        ? [`(NOT ${written} OR (ABS(${this.numberAt('number')} - ${this.numberAt('lastNumber')}) > ${realText(this.deadband)}))`]
        : []),
      ...(last ? [`(NOT ${written} OR (${this.target} <> ${last}))`] : []),
    ].join(' AND ');
  }

  private goes(): string[] {
    const { to, target, watch, written, whole, route } = this;
    const waits = target !== to.text;
    const substitute = route.loss.rule === 'value' ? substituteOf(route, this.iec) : null;
    // What stands in for it is not the value: that goes out again as soon as it comes, whether it has changed meanwhile or not.
    const forgotten = substitute && written && route.trigger.on !== 'start' ? [`${written} := FALSE;`] : [];
    const lost = to.wanted
      ? [`${to.text} := ${substitute};`, `${to.ready} := TRUE;`, ...forgotten]
      : [...(substitute ? [substituted(route, to.text, substitute, this.iec)] : []), ...forgotten];
    const put = waits ? [`${to.text} := ${target};`] : [];
    return [
      ...(to.wanted
        ? [`${to.ready} := ${this.mayGo()};`, ...when(to.ready, put)]
        : when(this.mayGo(), [...put, ...this.remembered('now')])),
      ...(substitute ? when(`${watch}.lost`, lost) : []),
      ...(whole ? when(`${watch}.lost`, [`${whole} := FALSE;`]) : []),
    ];
  }

  private numberAt(what: 'number' | 'lastNumber' | 'sentNumber'): string {
    return this.own(what, this.dialect.real);
  }
}

/** Statements that are done only where this holds; nothing for none. */
function when(condition: string, statements: readonly string[]): string[] {
  if (statements.length === 0) return [];
  if (statements.length === 1) return [`IF ${condition} THEN ${statements[0]} END_IF;`];
  return [`IF ${condition} THEN`, ...statements.map((line) => `  ${line}`), 'END_IF;'];
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
