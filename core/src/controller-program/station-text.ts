import { isBitTable } from '../address/index.js';
import { type Point, pointWidth } from '../model/index.js';
import { nameAll } from '../names/index.js';
import { variableRules } from '../playing/index.js';
import { masksOf } from '../route/index.js';
import { typeOf } from '../types/index.js';
import { shortOrder } from '../value/index.js';
import type { CarrierModel, Station, Wanted } from './carrier.js';
import { NotInProgram } from './chain.js';
import type { Dialect } from './dialect.js';
import { commented, plainName } from './marks.js';
import { fromWords, hex, iecOf, wordsOf } from './words-text.js';

/** What of a device the program can have: members and wanted values that its dialect has types for. */
export interface StationText {
  types: string[];
  decode: string[];
  encode: string[];
}

/** The structures of a device, and the blocks that take answers apart and put together what is written. */
export function stationText(station: Station, model: CarrierModel, dialect: Dialect): StationText {
  const read = [...station.members.values()].filter(({ point }) => isThere(point, dialect));
  const wanted = station.wanted.filter(({ point }) => isThere(point, dialect));
  const taken = read.flatMap(({ name, readable }) => [name, ...(readable ? [readable] : [])]);
  const named = read.map((row) => ({ ...row, bits: bitsType(station, taken, row.name, row.point) }));
  const types = [
    ...named.flatMap(({ bits }) => bits?.type ?? []),
    ...(read.length > 0
      ? [
          `(* What is read of ${commented(station.device.name)}: raw values, as its registers hold them. *)`,
          `TYPE §${station.name}Values : STRUCT`,
          ...named.flatMap(({ name, point, bits, readable }) => [
            `  ${name} : ${iecOf(point, dialect)};${about(point)}`,
            ...(bits ? [`  ${bits.member} : §${bits.name};`] : []),
            ...(readable ? [`  ${readable} : BOOL;`] : []),
          ]),
          'END_STRUCT; END_TYPE',
        ]
      : []),
    ...(wanted.length > 0
      ? [
          `(* What is written to ${commented(station.device.name)}, and whether each is ready to go. *)`,
          `TYPE §${station.name}Orders : STRUCT`,
          `  ready : ARRAY[1..${station.wanted.length}] OF BOOL;`,
          ...wanted.map(({ name, point }) => `  ${name} : ${iecOf(point, dialect)};${about(point)}`),
          'END_STRUCT; END_TYPE',
        ]
      : []),
  ];
  const byRequest = <T extends { request: { number: number } }>(rows: readonly T[], lines: (row: T) => string[]): string[] => {
    const numbers = [...new Set(rows.map(({ request }) => request.number))];
    return [
      '  CASE request OF',
      ...numbers.flatMap((number) => [
        `    ${number}:`,
        ...rows.filter(({ request }) => request.number === number).flatMap((row) => lines(row).map((line) => `      ${line}`)),
      ]),
      '  END_CASE;',
    ];
  };
  const hasText = (rows: readonly { point: Point }[]) => rows.some(({ point }) => typeOf(point.type).kind === 'text');
  return {
    types,
    decode:
      read.length === 0
        ? []
        : [
            `(* Answers of ${commented(station.device.name)} taken apart. *)`,
            `FUNCTION_BLOCK §${station.name}Decode`,
            'VAR_INPUT request : INT; END_VAR',
            `VAR_IN_OUT area : §Area; values : §${station.name}Values; END_VAR`,
            ...(hasText(read) ? ['VAR §text : §TextOf; END_VAR'] : []),
            ...byRequest(named, ({ point, name, readable, at, bits }) =>
              decodeLines(point, { target: `values.${name}`, readable: readable && `values.${readable}` }, at, dialect, bits),
            ),
            'END_FUNCTION_BLOCK',
          ],
    encode:
      wanted.length === 0
        ? []
        : [
            `(* What is written to ${commented(station.device.name)}, as far as it is ready; masks say which bits of each register that is. *)`,
            `FUNCTION_BLOCK §${station.name}Encode`,
            'VAR_INPUT request : INT; END_VAR',
            `VAR_IN_OUT area : §Area; masks : §Area; orders : §${station.name}Orders; END_VAR`,
            ...(hasText(wanted) ? ['VAR §put : §PutText; END_VAR'] : []),
            ...byRequest(wanted, (row) => [
              `IF orders.ready[${station.wanted.indexOf(row) + 1}] THEN`,
              ...encodeLines(row, model, dialect).map((line) => `  ${line}`),
              'END_IF;',
            ]),
            'END_FUNCTION_BLOCK',
          ],
  };
}

/** Whether this dialect has a type for a point, and knows its characters. */
export function isThere(point: Point, dialect: Dialect): boolean {
  try {
    iecOf(point, dialect);
  } catch (error) {
    if (error instanceof NotInProgram) return false;
    throw error;
  }
  const width = pointWidth(point);
  return typeOf(point.type).kind === 'text' ? (point.encoding ?? 'ascii') === 'ascii' && width <= 125 : [1, 2, 4].includes(width);
}

function about({ unit, name }: Point): string {
  return ` (* ${commented(name)}${unit ? `, in ${commented(unit)} as its scale says` : ''} *)`;
}

interface NamedBits {
  name: string;
  member: string;
  type: string[];
  bits: { name: string; bit: number }[];
}

/** Bits of a word that have names, as a structure of their own; null where none has. */
function bitsType(station: Station, taken: readonly string[], member: string, { bits, type, name, length }: Point): NamedBits | null {
  const width = pointWidth({ type, length });
  const inside = bits.filter(({ bit }) => bit < 16 * width);
  if (inside.length === 0 || width > 2 || (typeOf(type).kind !== 'bits' && typeOf(type).kind !== 'whole')) return null;
  const names = nameAll(
    inside.map((row) => row.name),
    variableRules,
  );
  const own = `${station.name}${plainName(member)}Bits`;
  const named = inside.map(({ bit }, index) => ({ bit, name: names[index]!.to }));
  return {
    name: own,
    member: nameAll([`${member}_bits`], { ...variableRules, reserved: [...(variableRules.reserved ?? []), ...taken] })[0]!.to,
    bits: named,
    type: [
      `(* The bits of ${commented(name)} by name. *)`,
      `TYPE §${own} : STRUCT`,
      ...named.map((row) => `  ${row.name} : BOOL; (* bit ${row.bit} *)`),
      'END_STRUCT; END_TYPE',
    ],
  };
}

function decodeLines(
  point: Point,
  { target, readable }: { target: string; readable: string | null },
  at: number,
  dialect: Dialect,
  bits: NamedBits | null,
): string[] {
  if (isBitTable(point.table)) return [`${target} := area[${Math.floor(at / 16)}].${at % 16};`];
  if (point.bit !== null) return [`${target} := area[${at}].${point.bit};`];
  const width = pointWidth(point);
  if (typeOf(point.type).kind === 'text')
    return [
      `§text(first := ${at}, count := ${width}, turned := ${isTurned(point) ? 'TRUE' : 'FALSE'}, area := area);`,
      `${target} := §text.text;`,
      `${readable} := §text.good;`,
    ];
  const words = Array.from({ length: width }, (_, index) => `area[${at + index}]`);
  const plain: Point = { ...point, type: 'bits', length: width };
  return [
    // What is infinite or no number has all bits of its power set, which arithmetic cannot make.
    ...(readable ? [`${readable} := (${fromWords(words, plain, dialect)} AND 16#7F800000) <> 16#7F800000;`] : []),
    `${readable ? `IF ${readable} THEN ` : ''}${target} := ${fromWords(words, point, dialect)};${readable ? ' END_IF;' : ''}`,
    ...(bits
      ? bits.bits.map(
          ({ name, bit }) => `values.${bits.member}.${name} := (${fromWords(words, plain, dialect)} AND 16#${hex(2 ** bit)}) <> 0;`,
        )
      : []),
  ];
}

function encodeLines({ point, name, at, id }: Wanted, { routes }: CarrierModel, dialect: Dialect): string[] {
  const value = `orders.${name}`;
  if (isBitTable(point.table))
    return [`area[${Math.floor(at / 16)}].${at % 16} := ${value};`, `masks[${Math.floor(at / 16)}].${at % 16} := TRUE;`];
  if (point.bit !== null) return [`area[${at}].${point.bit} := ${value};`, `masks[${at}].${point.bit} := TRUE;`];
  const width = pointWidth(point);
  if (typeOf(point.type).kind === 'text')
    return [
      `§put(text := ${value}, first := ${at}, count := ${width}, turned := ${isTurned(point) ? 'TRUE' : 'FALSE'}, area := area, masks := masks);`,
    ];
  const route = routes.find((row) => row.id === id);
  const masks = route ? masksOf(route) : null;
  return wordsOf(value, point, dialect).flatMap((word, index) => {
    const mask = masks?.[index] ?? 0xffff;
    const [here, own] = [`area[${at + index}]`, `masks[${at + index}]`];
    if (mask === 0) return [];
    if (mask === 0xffff) return [`${here} := ${word};`, `${own} := 16#FFFF;`];
    return [
      `${here} := (${here} AND NOT WORD#16#${hex(mask)}) OR (${word} AND WORD#16#${hex(mask)});`,
      `${own} := ${own} OR 16#${hex(mask)};`,
    ];
  });
}

function isTurned({ order }: Point): boolean {
  return ['BADC', 'DCBA'].includes(shortOrder(order));
}
