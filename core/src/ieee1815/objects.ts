import {
  analogFlags,
  binaryFlags,
  counterFlags,
  crob,
  doubleFlags,
  type Element,
  float32,
  int16,
  int32,
  outputFlags,
  relative,
  status,
  time48,
  uint16,
  uint32,
} from './elements.js';

/** A variation of an object: what each one of it is made of, or how many bits it takes where several share an octet. */
export interface ObjectType {
  group: number;
  variation: number;
  name: string;
  elements: readonly Element[];
  packedBits: 0 | 1 | 2;
}

const of = (group: number, variation: number, name: string, ...elements: Element[]): ObjectType => ({
  group,
  variation,
  name,
  elements,
  packedBits: 0,
});
const packed = (group: number, variation: number, name: string, packedBits: 1 | 2): ObjectType => ({
  group,
  variation,
  name,
  elements: [],
  packedBits,
});

/** The objects that are known (IEEE 1815, annex A). */
export const objectTypes: readonly ObjectType[] = [
  packed(1, 1, 'binary inputs, packed', 1),
  of(1, 2, 'binary input', binaryFlags),
  of(2, 1, 'binary input event', binaryFlags),
  of(2, 2, 'binary input event with time', binaryFlags, time48),
  of(2, 3, 'binary input event with relative time', binaryFlags, relative),
  packed(3, 1, 'double-bit inputs, packed', 2),
  of(3, 2, 'double-bit input', doubleFlags),
  of(4, 1, 'double-bit input event', doubleFlags),
  of(4, 2, 'double-bit input event with time', doubleFlags, time48),
  of(4, 3, 'double-bit input event with relative time', doubleFlags, relative),
  of(10, 2, 'binary output', outputFlags),
  of(12, 1, 'command', crob, status),
  of(20, 1, 'counter', counterFlags, uint32),
  of(20, 2, 'counter', counterFlags, uint16),
  of(20, 5, 'counter', uint32),
  of(20, 6, 'counter', uint16),
  of(22, 1, 'counter event', counterFlags, uint32),
  of(22, 2, 'counter event', counterFlags, uint16),
  of(30, 1, 'analog input', analogFlags, int32),
  of(30, 2, 'analog input', analogFlags, int16),
  of(30, 3, 'analog input', int32),
  of(30, 4, 'analog input', int16),
  of(30, 5, 'analog input', analogFlags, float32),
  of(32, 1, 'analog input event', analogFlags, int32),
  of(32, 2, 'analog input event', analogFlags, int16),
  of(32, 3, 'analog input event with time', analogFlags, int32, time48),
  of(32, 4, 'analog input event with time', analogFlags, int16, time48),
  of(32, 5, 'analog input event', analogFlags, float32),
  of(32, 7, 'analog input event with time', analogFlags, float32, time48),
  of(40, 1, 'analog output', analogFlags, int32),
  of(40, 2, 'analog output', analogFlags, int16),
  of(40, 3, 'analog output', analogFlags, float32),
  of(41, 1, 'set point', int32, status),
  of(41, 2, 'set point', int16, status),
  of(41, 3, 'set point', float32, status),
  of(50, 1, 'time', time48),
  of(50, 3, 'time as it was recorded', time48),
  of(51, 1, 'common time', time48),
  of(51, 2, 'common time of a clock that was not set', time48),
  of(52, 2, 'delay in ms', uint16),
  of(60, 1, 'class 0, all that is'),
  of(60, 2, 'events of class 1'),
  of(60, 3, 'events of class 2'),
  of(60, 4, 'events of class 3'),
  packed(80, 1, 'internal indications', 1),
];

const groups: Readonly<Record<number, string>> = {
  1: 'binary inputs',
  2: 'binary input events',
  3: 'double-bit inputs',
  4: 'double-bit input events',
  10: 'binary outputs',
  20: 'counters',
  22: 'counter events',
  30: 'analog inputs',
  32: 'analog input events',
  40: 'analog outputs',
};

const byId = new Map(objectTypes.map((type) => [`${type.group} ${type.variation}`, type]));

/** Variation 0 asks for whatever the station has of a group. Null for what is not known. */
export function objectType(group: number, variation: number): ObjectType | null {
  const known = byId.get(`${group} ${variation}`);
  if (known || variation !== 0 || !groups[group]) return known ?? null;
  return of(group, 0, groups[group]);
}

export function bytesOfType({ elements }: ObjectType): number {
  return elements.reduce((sum, { bytes }) => sum + bytes, 0);
}
