import { answerPdu, RegisterBank } from '../server/index.js';
import { ask } from '../client/index.js';
import type { ClientTransport } from './transport.js';

const REGISTERS = 40;

/** A device whose every register holds a number of its own, and that takes now less, now more time than it is waited for. */
export class LateDevice {
  readonly bank = new RegisterBank({ holding: REGISTERS });
  /** How long its next answer takes, ms. */
  readonly delayMs: () => number;

  /** `random` gives numbers of 0 to 1; delays are spread evenly between `from` and `to`. */
  constructor(random: () => number, { fromMs, toMs }: { fromMs: number; toMs: number }) {
    for (let offset = 0; offset < REGISTERS; offset++) this.bank.set('holding', offset, 1000 + offset);
    this.delayMs = () => fromMs + random() * (toMs - fromMs);
  }

  answer(pdu: Uint8Array): Uint8Array {
    return answerPdu(this.bank, pdu);
  }
}

export interface LateResult {
  asked: number;
  answered: number;
  /** Values of another register, and confirmations of what was not written. */
  wrong: string[];
}

/**
 * Asks for one register after the other, each question like the one before it but for the register, and now and then writes one.
 * A value is wrong if it is not that of the register; a write is wrong if it was confirmed and the device does not hold it.
 */
export async function askLateDevice(
  transport: ClientTransport,
  device: LateDevice,
  { exchanges, random, ...how }: { exchanges: number; random: () => number; unitId: number; timeoutMs: number; tries: number },
): Promise<LateResult> {
  const result: LateResult = { asked: 0, answered: 0, wrong: [] };
  /** What each register may hold: a write that was not confirmed may have been done all the same. */
  const held = Array.from({ length: REGISTERS }, (_, offset) => new Set([1000 + offset]));
  for (let number = 0; number < exchanges; number++) {
    const offset = Math.floor(random() * REGISTERS);
    const value = 10_000 + (number % 50_000);
    const isWrite = random() < 0.2;
    const functionCode = isWrite ? (random() < 0.5 ? 6 : 16) : 3;
    const ended = await ask(transport, { ...how, functionCode, offset, count: 1, values: [value] });
    result.asked += 1;
    if (isWrite) held[offset] = new Set(ended.kind === 'written' ? [value] : [...held[offset]!, value]);
    if (ended.kind === 'failed') continue;
    result.answered += 1;
    const got = ended.kind === 'values' ? ended.values[0]! : device.bank.get('holding', offset);
    if (!held[offset]!.has(got)) result.wrong.push(`${number}: ${got} for ${offset}, not ${[...held[offset]!].join(' or ')}`);
  }
  return result;
}
