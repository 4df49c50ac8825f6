import {
  functionOf,
  ILLEGAL_DATA_ADDRESS,
  ILLEGAL_DATA_VALUE,
  ILLEGAL_FUNCTION,
  MAX_EXCHANGED,
  packBits,
  packWords,
  unpackBits,
  unpackWords,
  type ModbusFunction,
} from '@plain-envoy/core/frame';
import type { RegisterBank } from './bank.js';

/**
 * What a device with these registers answers to a request PDU (Modbus application protocol V1.1b3, 6.1 to 6.12, 6.16 and 6.17).
 * The checks come in the standard's order: function, then count, then address.
 */
export function answerPdu(bank: RegisterBank, pdu: Uint8Array): Uint8Array {
  const code = pdu[0] ?? 0;
  const known = functionOf(code);
  if (!known) return exception(code, ILLEGAL_FUNCTION);
  if (pdu.length < 5) return exception(code, ILLEGAL_DATA_VALUE);
  const offset = (pdu[1]! << 8) | pdu[2]!;
  const fourth = (pdu[3]! << 8) | pdu[4]!;
  switch (known.kind) {
    case 'read':
      return read(bank, known, offset, fourth, pdu.length);
    case 'write-one':
      return writeOne(bank, known, offset, fourth, pdu);
    case 'write-many':
      return writeMany(bank, known, offset, fourth, pdu);
    case 'mask':
      return writeBits(bank, known, offset, fourth, pdu);
    case 'exchange':
      return exchange(bank, known, offset, fourth, pdu);
  }
}

export function exception(functionCode: number, code: number): Uint8Array {
  return Uint8Array.of(functionCode | 0x80, code);
}

function read(bank: RegisterBank, known: ModbusFunction, offset: number, count: number, length: number): Uint8Array {
  if (length !== 5 || count < 1 || count > known.most) return exception(known.code, ILLEGAL_DATA_VALUE);
  if (!bank.has(known.table, offset, count)) return exception(known.code, ILLEGAL_DATA_ADDRESS);
  const values = bank.slice(known.table, offset, count);
  if (known.bits) {
    const data = packBits(Array.from(values));
    return Uint8Array.of(known.code, data.length, ...data);
  }
  const answer = new Uint8Array(2 + count * 2);
  answer[0] = known.code;
  answer[1] = count * 2;
  for (let index = 0; index < count; index++) {
    const value = values[index]!;
    answer[2 + index * 2] = value >>> 8;
    answer[3 + index * 2] = value & 0xff;
  }
  return answer;
}

function writeOne(bank: RegisterBank, known: ModbusFunction, offset: number, value: number, pdu: Uint8Array): Uint8Array {
  if (pdu.length !== 5 || (known.bits && value !== 0 && value !== 0xff00)) return exception(known.code, ILLEGAL_DATA_VALUE);
  if (!bank.has(known.table, offset, 1)) return exception(known.code, ILLEGAL_DATA_ADDRESS);
  bank.set(known.table, offset, known.bits ? Number(value !== 0) : value);
  return pdu.slice();
}

/** Bits of the first mask stay, the others become those of the second. */
function writeBits(bank: RegisterBank, known: ModbusFunction, offset: number, kept: number, pdu: Uint8Array): Uint8Array {
  if (pdu.length !== 7) return exception(known.code, ILLEGAL_DATA_VALUE);
  if (!bank.has(known.table, offset, 1)) return exception(known.code, ILLEGAL_DATA_ADDRESS);
  const set = (pdu[5]! << 8) | pdu[6]!;
  bank.set(known.table, offset, (bank.get(known.table, offset) & kept) | (set & ~kept & 0xffff));
  return pdu.slice();
}

/** What is written may be what is read: the write comes first. */
function exchange(bank: RegisterBank, known: ModbusFunction, offset: number, count: number, pdu: Uint8Array): Uint8Array {
  const writeFrom = ((pdu[5] ?? 0) << 8) | (pdu[6] ?? 0);
  const written = ((pdu[7] ?? 0) << 8) | (pdu[8] ?? 0);
  const isSound = written >= 1 && written <= MAX_EXCHANGED && pdu[9] === written * 2 && pdu.length === 10 + written * 2;
  if (!isSound || count < 1 || count > known.most) return exception(known.code, ILLEGAL_DATA_VALUE);
  if (!bank.has(known.table, offset, count) || !bank.has(known.table, writeFrom, written))
    return exception(known.code, ILLEGAL_DATA_ADDRESS);
  bank.set(known.table, writeFrom, ...unpackWords(pdu, 10, written));
  return Uint8Array.of(known.code, count * 2, ...packWords([...bank.slice(known.table, offset, count)]));
}

function writeMany(bank: RegisterBank, known: ModbusFunction, offset: number, count: number, pdu: Uint8Array): Uint8Array {
  const bytes = known.bits ? Math.ceil(count / 8) : count * 2;
  if (count < 1 || count > known.most || pdu[5] !== bytes || pdu.length !== 6 + bytes) return exception(known.code, ILLEGAL_DATA_VALUE);
  if (!bank.has(known.table, offset, count)) return exception(known.code, ILLEGAL_DATA_ADDRESS);
  bank.set(known.table, offset, ...(known.bits ? unpackBits(pdu, 6, count) : unpackWords(pdu, 6, count)));
  return pdu.slice(0, 5);
}
