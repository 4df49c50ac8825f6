import type { CarriedLink } from '../converter/index.js';
import { type Point, pointWidth } from '../model/index.js';
import { nameAll } from '../names/index.js';
import { type FarPlace, placeWords } from '../place/index.js';
import { variableRules } from '../playing/index.js';
import { typeOf } from '../types/index.js';

type Block = 'input' | 'output';
type BlockPlace = Extract<FarPlace, { kind: 'cyclic' }>;

/** A value of a block with its name and type in Structured Text. */
export interface Member {
  point: Point;
  name: string;
  type: string;
  /** Bits of its type. */
  width: number;
  isSigned: boolean;
  place: BlockPlace;
  about: string;
}

/** Bit strings of IEC 61131-3 by how many bytes they hold, the narrowest first. */
const STRINGS = [
  ['BYTE', 1],
  ['WORD', 2],
  ['DWORD', 4],
  ['LWORD', 8],
] as const;

/**
 * Types and function blocks in Structured Text (IEC 61131-3) for the end of a cyclic link that opens it: one takes the raw bytes of the
 * input apart into named values, the other makes the raw bytes of the output of them and sets the byte that says that they are valid.
 * Values are raw, as registers hold them. What reaches over more than eight bytes is left out, and said so.
 */
export function linkProgram(link: CarriedLink): string {
  const { line, stationName } = link;
  const { station, inputs, outputs } = partsOf(link);
  const [inputType, outputType] = [`${station}Input`, `${station}Output`];
  return [
    `(* ${line.name}: what the raw bytes of the blocks of ${stationName} mean, and back. *)`,
    ...structure(inputType, inputs),
    ...structure(outputType, outputs),
    '',
    `(* The ${line.inputBytes} bytes that ${stationName} sends, as named values; they stay as they were while the input is not valid. *)`,
    `FUNCTION_BLOCK ${station}Read`,
    ...['VAR_INPUT', `  raw : ARRAY[0..${Math.max(0, line.inputBytes - 1)}] OF BYTE;`, 'END_VAR'],
    ...['VAR_OUTPUT', `  values : ${inputType};`, '  valid : BOOL;', 'END_VAR'],
    `  valid := ${line.inputValidByte === null ? 'TRUE' : `raw[${line.inputValidByte}] = 16#${hex(line.inputValidValue)}`};`,
    '  IF valid THEN',
    ...(inputs.length > 0 ? inputs.map((member) => `    values.${member.name} := ${readOf(member)};`) : ['    ;']),
    ...['  END_IF;', 'END_FUNCTION_BLOCK', ''],
    `(* Named values as the ${line.outputBytes} bytes that ${stationName} takes. *)`,
    `FUNCTION_BLOCK ${station}Write`,
    ...['VAR_INPUT', `  values : ${outputType};`, '  valid : BOOL;', 'END_VAR'],
    ...['VAR_OUTPUT', `  raw : ARRAY[0..${Math.max(0, line.outputBytes - 1)}] OF BYTE;`, 'END_VAR', 'VAR', '  index : INT;', 'END_VAR'],
    `  FOR index := 0 TO ${Math.max(0, line.outputBytes - 1)} DO raw[index] := 0; END_FOR;`,
    ...outputs.flatMap((member) => writesOf(member).map((text) => `  ${text}`)),
    ...(line.outputValidByte === null
      ? []
      : [
          '  (* The station uses its outputs only while this byte says so. *)',
          `  raw[${line.outputValidByte}] := SEL(valid, BYTE#16#${line.outputValidValue === 0 ? 'FF' : '00'}, BYTE#16#${hex(line.outputValidValue)});`,
        ]),
    'END_FUNCTION_BLOCK',
    '',
  ].join('\n');
}

/** What the blocks are called, after their station, and the values that each has. */
export function partsOf({ line, stationName, points }: CarriedLink): { station: string; inputs: Member[]; outputs: Member[] } {
  const [named] = nameAll([stationName], variableRules);
  return {
    station: named!.to.replace(/_(.)/g, (_, next: string) => next.toUpperCase()),
    inputs: membersOf(points, 'input', null),
    outputs: membersOf(points, 'output', line.outputValidByte),
  };
}

/** Values of a block; what lies in the byte that says that it is valid is set by that. */
function membersOf(points: readonly Point[], block: Block, validByte: number | null): Member[] {
  const own = points.flatMap((point) => {
    const { place } = point;
    if (place.kind !== 'cyclic' || place.block !== block) return [];
    const isValidity = validByte !== null && bytesOf(place).includes(validByte);
    return isValidity || bytesOf(place).length > 8 ? [] : [{ point, place }];
  });
  const names = nameAll(
    own.map(({ point }) => point.name),
    variableRules,
  );
  return own.map(({ point, place }, index): Member => {
    const isBit = point.type === 'bit';
    return {
      point,
      name: names[index]!.to,
      type: isBit ? 'BOOL' : typeOf(point.type).iec.declare(pointWidth(point)),
      width: isBit ? 1 : 16 * pointWidth(point),
      isSigned: /^int/.test(point.type),
      place,
      about: [placeWords(place, ''), point.unit].filter(Boolean).join(', '),
    };
  });
}

function structure(name: string, members: readonly Member[]): string[] {
  const rows = members.map((member) => `  ${member.name} : ${member.type}; (* ${member.about} *)`);
  return ['', `TYPE ${name} : STRUCT`, ...(rows.length > 0 ? rows : ['  nothing : BOOL;']), 'END_STRUCT;', 'END_TYPE'];
}

/** The bytes of a value, the one with its lowest bits first. */
export function bytesOf({ byte, bit, bits, order }: BlockPlace): number[] {
  const count = Math.ceil((bit + bits) / 8);
  const rising = Array.from({ length: count }, (_, index) => byte + index);
  return order === 'big' && bits > 8 ? rising.reverse() : rising;
}

function stringOf(bytes: number): (typeof STRINGS)[number] {
  return STRINGS.find(([, holds]) => holds >= bytes)!;
}

/** What the raw bytes say of a value, as its own type. */
function readOf({ type, width, isSigned, place }: Member): string {
  const bytes = bytesOf(place);
  const { bit, bits } = place;
  const [held] = stringOf(bytes.length);
  const parts = bytes.map((at, index) => {
    const part = as('BYTE', held, `raw[${at}]`);
    return index === 0 ? part : `SHL(${part}, ${8 * index})`;
  });
  let text = parts.join(' OR ');
  if (bit > 0) text = `SHR(${text}, ${bit})`;
  if (bits < 8 * stringOf(bytes.length)[1]) text = `(${text}) AND 16#${mask(bits)}`;
  if (type === 'BOOL') return `(${text}) <> 0`;
  const [own] = stringOf(width / 8);
  text = as(held, own, text);
  // What is negative has ones above its own bits.
  if (isSigned && bits < width) text = `SEL((${text} AND 16#${one(bits - 1)}) <> 0, ${text}, ${text} OR 16#${above(bits, width)})`;
  return as(own, type, text);
}

/** What puts a value into the raw bytes, where nothing stands yet. */
function writesOf({ name, type, width, place }: Member): string[] {
  const bytes = bytesOf(place);
  const { bit, bits } = place;
  const [held, holds] = stringOf(Math.max(bytes.length, width / 8));
  const own = type === 'BOOL' ? 'BYTE' : stringOf(width / 8)[0];
  let text = as(own, held, as(type, own, `values.${name}`));
  if (bits < 8 * holds) text = `${text} AND 16#${mask(bits)}`;
  if (bit > 0) text = `SHL(${text}, ${bit})`;
  return bytes.map((at, index) => {
    const part = index === 0 ? text : `SHR(${text}, ${8 * index})`;
    return `raw[${at}] := raw[${at}] OR ${held === 'BYTE' ? part : `${held}_TO_BYTE(${part})`};`;
  });
}

function as(from: string, to: string, text: string): string {
  return from === to ? text : `${from}_TO_${to}(${text})`;
}

function hex(value: number | bigint): string {
  return value.toString(16).toUpperCase().padStart(2, '0');
}

function mask(bits: number): string {
  return hex((1n << BigInt(bits)) - 1n);
}

function one(bit: number): string {
  return hex(1n << BigInt(bit));
}

/** Ones from a bit up to the width of a type. */
function above(bits: number, width: number): string {
  return hex(((1n << BigInt(width)) - 1n) ^ ((1n << BigInt(bits)) - 1n));
}
