import type { PointBody } from '../model/index.js';
import { nameAll } from '../names/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { type PointVariable, variableRules, variablesOf } from '../playing/index.js';
import { elementary, outlineOf, type Type } from '../program/index.js';
import { type Scale, toRaw, toUnits } from '../value/index.js';
import { type Ask, type Behaviour, type Given, literal, typeWord, type Lines, type Wants, type Written } from './definition.js';

/** What of a point a behaviour needs to know. */
export type PlayedPoint = Pick<
  PointBody,
  'name' | 'table' | 'offset' | 'bit' | 'type' | 'order' | 'length' | 'encoding' | 'scale' | 'unit' | 'bits'
>;

/** A point, or a named bit of one, that can be chosen for a behaviour; `text` is how a program writes it. */
export interface Choice extends Written {
  name: string;
  unit: string;
  scale: Scale | null;
}

const whole = new Set(['SINT', 'INT', 'DINT', 'LINT', 'USINT', 'UINT', 'UDINT', 'ULINT']);
const bits = new Set(['WORD', 'DWORD', 'UINT', 'UDINT']);

/** What of a device can be chosen where a behaviour wants something. */
export function choicesFor(points: readonly PlayedPoint[], wants: Wants): Choice[] {
  return variablesOf(points).flatMap((variable) => {
    const own: Choice = {
      name: variable.point.name,
      text: variable.name,
      type: variable.type,
      unit: variable.point.unit,
      scale: variable.point.scale,
    };
    if (wants !== 'bit') return isWanted(variable.type, wants) ? [own] : [];
    if (typeWord(variable.type) === 'BOOL') return [own];
    return bits.has(typeWord(variable.type)) ? namedBits(variable) : [];
  });
}

function namedBits({ name, point }: PointVariable<PlayedPoint>): Choice[] {
  return point.bits.map((bit) => ({
    name: `${point.name}: ${bit.name}`,
    text: `${name}.${bit.bit}`,
    type: elementary('BOOL'),
    unit: '',
    scale: null,
  }));
}

function isWanted(type: Type, wants: Wants): boolean {
  if (wants === 'text') return type.kind === 'string';
  return wants === 'whole'
    ? whole.has(typeWord(type))
    : whole.has(typeWord(type)) || ['REAL', 'LREAL', 'WORD', 'DWORD'].includes(typeWord(type));
}

/** The text with the lines of a behaviour in it, under its name or a title; what was said by the keys of its asks. A new program is begun where there is none. */
export function writeBehaviour(
  text: string,
  behaviour: Behaviour,
  points: readonly PlayedPoint[],
  said: Readonly<Record<string, string | number>>,
  title = behaviour.name,
): Outcome<string> {
  for (const ask of behaviour.asks) {
    const value = said[ask.key];
    if (ask.kind === 'point') {
      if (!choicesFor(points, ask.wants).some((choice) => choice.text === value))
        return bad(`Choose a point: ${ask.label.toLowerCase()}.`, ask.key);
    } else if (typeof value !== 'number' || !Number.isFinite(value)) return bad('A number.', ask.key);
    else if (ask.kind === 'seconds' && !(value > 0 && value <= 86_400)) return bad('More than 0 and at most a day of seconds.', ask.key);
  }
  return into(text, title, (begun) => behaviour.write(given(begun, behaviour, points, said)));
}

/** The text with lines of one's own in it, under a title; `own` gives names of variables that the text does not have yet. */
export function writeLines(
  text: string,
  points: readonly PlayedPoint[],
  title: string,
  write: (own: (name: string) => string) => Lines,
): Outcome<string> {
  return into(text, title, (begun) => write(ownNames(begun, points)));
}

function into(text: string, title: string, write: (begun: string) => Lines): Outcome<string> {
  const begun = text.trim() === '' ? 'PROGRAM Device\nEND_PROGRAM\n' : text;
  const outline = outlineOf(begun);
  if (!outline) return bad('This text has no PROGRAM that ends with END_PROGRAM, so there is no place for the lines.');
  return good(insert(begun, outline, title, write(begun)));
}

/** Gives names that neither the text nor the points have, each only once. */
function ownNames(text: string, points: readonly PlayedPoint[]): (name: string) => string {
  const taken = [...new Set(text.match(/[A-Za-z_]\w*/g) ?? []), ...variablesOf(points).map(({ name }) => name)];
  return (name) => {
    const made = nameAll([...taken, name], { ...variableRules, reserved: variableRules.reserved ?? [] }).at(-1)!.to;
    taken.push(made);
    return made;
  };
}

function insert(
  text: string,
  { declareAt, hasBlock, linesAt }: NonNullable<ReturnType<typeof outlineOf>>,
  title: string,
  { declare, lines }: Lines,
): string {
  const indented = (all: readonly string[]) => all.map((line) => `  ${line}\n`).join('');
  const body = `\n  (* ${title.replace(/[(*)]/g, '')} *)\n${indented(lines)}`;
  const variables = declare.length === 0 ? '' : hasBlock ? indented(declare) : `\nVAR\n${indented(declare)}END_VAR`;
  const before = withoutBlanks(text.slice(0, linesAt));
  const withLines = `${before.endsWith('\n') ? before : `${before}\n`}${body.replace(/^\n/, before.trimEnd().endsWith(';') ? '\n' : '')}${text.slice(linesAt)}`;
  const head = withLines.slice(0, declareAt);
  return (hasBlock ? withoutBlanks(head) : head) + variables + withLines.slice(declareAt);
}

/** Without the blanks that stand before a word at the beginning of a line. */
function withoutBlanks(text: string): string {
  let end = text.length;
  while (end > 0 && (text[end - 1] === ' ' || text[end - 1] === '\t')) end -= 1;
  return text.slice(0, end);
}

function given(text: string, { asks }: Behaviour, points: readonly PlayedPoint[], said: Readonly<Record<string, string | number>>): Given {
  const askOf = (key: string): Ask => asks.find((ask) => ask.key === key)!;
  const choiceOf = (key: string): Choice => {
    const ask = askOf(key);
    return choicesFor(points, ask.kind === 'point' ? ask.wants : 'number').find((choice) => choice.text === said[key])!;
  };
  const scaleOfValue = (key: string): Scale | null => {
    const ask = askOf(key);
    return ask.kind === 'value' ? choiceOf(ask.of).scale : null;
  };
  const real = (key: string) => asReal(choiceOf(key));
  return {
    point: choiceOf,
    real,
    put: (key, expression) => putInto(choiceOf(key), expression),
    raw: (key) => rawOf(Number(said[key]), scaleOfValue(key)),
    span: (key) => Math.abs(rawOf(Number(said[key]), scaleOfValue(key)) - rawOf(0, scaleOfValue(key))),
    as: (from, to) => {
      const [one, other] = [choiceOf(from).scale, choiceOf(to).scale];
      const at = (raw: number) => rawOf(one ? toUnits(raw, one) : raw, other);
      const [offset, factor] = [at(0), at(1) - at(0)];
      const scaled = Math.abs(factor - 1) < 1e-9 ? real(from) : `${real(from)} * ${literal(factor)}`;
      return Math.abs(offset) < 1e-9 ? scaled : `${scaled} + ${literal(offset)}`;
    },
    time: (key) => `T#${Math.max(1, Math.round(Number(said[key]) * 1000))}ms`,
    own: ownNames(text, points),
  };
}

function rawOf(units: number, scale: Scale | null): number {
  return scale ? toRaw(units, scale) : units;
}

/** The raw value of a point as REAL; coded decimals and bits as the number that they are. */
function asReal({ text, type }: Written): string {
  const name = typeWord(type);
  if (name === 'REAL') return text;
  if (name === 'WORD' || name === 'DWORD')
    return `${name === 'WORD' ? 'UINT' : 'UDINT'}_TO_REAL(${name}_TO_${name === 'WORD' ? 'UINT' : 'UDINT'}(${text}))`;
  return `${name}_TO_REAL(${text})`;
}

function putInto({ text, type }: Written, expression: string): string {
  const name = typeWord(type);
  if (name === 'REAL' || name === 'LREAL') return `${text} := ${expression};`;
  if (name === 'WORD') return `${text} := UINT_TO_WORD(REAL_TO_UINT(${expression}));`;
  if (name === 'DWORD') return `${text} := UDINT_TO_DWORD(REAL_TO_UDINT(${expression}));`;
  return `${text} := REAL_TO_${name}(${expression});`;
}
