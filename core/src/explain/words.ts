import { tableNames } from '../address/index.js';
import { bytesText, type ModbusFunction, toHex, unpackBits, unpackWords, wordAt } from '../frame/index.js';

export function oneValue(pdu: Uint8Array, known: ModbusFunction): { meaning: string; problem: string[] } {
  const value = wordAt(pdu, 3);
  if (!known.bits) return { meaning: String(value), problem: [] };
  if (value === 0xff00) return { meaning: 'on', problem: [] };
  if (value === 0) return { meaning: 'off', problem: [] };
  return { meaning: `${toHex(pdu.subarray(3, 5))}`, problem: ['A coil is written with FF 00 for on or 00 00 for off, and nothing else.'] };
}

export function countProblems(known: ModbusFunction, count: number, pdu: Uint8Array): string[] {
  if (count === 0) return [`A count of 0 asks for nothing; function ${known.code} carries 1 to ${known.most}.`];
  if (count > known.most) return [`${count} is too many: function ${known.code} carries at most ${known.most}.`];
  const last = wordAt(pdu, 1) + count - 1;
  return last > 65535 ? [`The last would be offset ${last}; a table ends at 65535.`] : [];
}

export function dataBytesFollow(bytes: number): string {
  return bytes === 1 ? '1 data byte follows' : `${bytes} data bytes follow`;
}

export function dataBytes({ bits }: ModbusFunction, count: number): number {
  return bits ? Math.ceil(count / 8) : count * 2;
}

export function unlikeCount(known: ModbusFunction, count: number, stated: number): string {
  return `The data of ${count} ${thing(known, count)} is ${bytesText(dataBytes(known, count))} long; ${stated} stated.`;
}

/** What is written, after a colon; empty where it is not there. */
export function withData(pdu: Uint8Array, from: number, known: ModbusFunction, count: number): string {
  const meaning = dataMeaning(pdu, from, known, count);
  return meaning && `: ${meaning}`;
}

export function longer(pdu: Uint8Array, needed: number): string[] {
  const more = pdu.length - needed;
  return more > 0 ? [more === 1 ? '1 byte too many follows.' : `${more} bytes too many follow.`] : [];
}

export function dataMeaning(pdu: Uint8Array, from: number, known: ModbusFunction, count: number): string {
  const bytes = pdu.length - from;
  if (bytes <= 0) return '';
  const values = known.bits ? unpackBits(pdu, from, Math.min(count, bytes * 8)) : unpackWords(pdu, from, Math.min(count, bytes >> 1));
  const shown = values.slice(0, 16).join(known.bits ? '' : ', ');
  return values.length > 16 ? `${shown} … (${values.length} in all)` : shown;
}

export function thing({ table }: ModbusFunction, count: number): string {
  const { one, many } = tableNames[table];
  return count === 1 ? one : many;
}

export function ordinal(number: number): string {
  const last = number % 10;
  const teen = number % 100 >= 11 && number % 100 <= 13;
  return `${number}${teen ? 'th' : last === 1 ? 'st' : last === 2 ? 'nd' : last === 3 ? 'rd' : 'th'}`;
}
