import * as z from 'zod';
import { bad, good, type Outcome } from '../outcome/index.js';
import { exactRaw, nearestWhole, ratioOf, toUnits } from '../value/index.js';
import { MOST_BYTES, SignalOrder } from '../can-id/index.js';

/** A value in some bits of a frame. Bit n is bit n mod 8, 0 the lowest, of byte n div 8. */
export const CanSignal = z.strictObject({
  name: z.string().min(1, 'A signal needs a name.').max(80, 'At most 80 characters.'),
  firstBit: z
    .int('A whole number.')
    .min(0, 'Bits count from 0.')
    .max(8 * MOST_BYTES - 1, 'A frame has bits 0 to 63.')
    .describe('The lowest bit of the value where the order is little, its highest where it is big'),
  bits: z.int('A whole number.').min(1, 'At least one bit.').max(64, 'At most 64 bits.'),
  order: SignalOrder.describe('little: counts up from the first bit; big: goes down within a byte, then on to bit 7 of the next'),
  signed: z.boolean().default(false),
  factor: z
    .number()
    .refine((factor) => factor !== 0, 'A factor of 0 would make every value 0.')
    .default(1),
  offset: z.number().default(0),
  float: z.boolean().default(false).describe('IEEE 754 of 32 or 64 bits'),
});
export type CanSignal = z.infer<typeof CanSignal>;

/** What a signal says; a text of digits where a whole number is past what a number holds exactly. */
export type SignalValue = number | string;

/** The bits of a signal in a frame, the lowest of its value first. They may lie past its end. */
export function bitsOfSignal({ firstBit, bits, order }: Pick<CanSignal, 'firstBit' | 'bits' | 'order'>): number[] {
  if (order === 'little') return Array.from({ length: bits }, (_, index) => firstBit + index);
  const falling: number[] = [];
  for (let bit = firstBit; falling.length < bits; bit = bit % 8 === 0 ? bit + 15 : bit - 1) falling.push(bit);
  return falling.reverse();
}

/** `bit 12 (byte 1, bit 4)` */
export function bitText(bit: number): string {
  return `bit ${bit} (byte ${bit >> 3}, bit ${bit & 7})`;
}

/** What keeps a signal from being in so many bytes of a frame, or of what `of` says; null where nothing does. */
export function signalProblem(signal: CanSignal, bytes: number, of = 'the frame'): string | null {
  const { name, bits, float } = signal;
  if (float && bits !== 32 && bits !== 64) return `${name} has ${bits} bits, and a floating-point number has 32 or 64.`;
  const past = Math.max(...bitsOfSignal(signal));
  if (past < 8 * bytes) return null;
  const has = bytes === 0 ? 'has no byte' : `ends with byte ${bytes - 1}`;
  return `${name} reaches ${bitText(past)}, and ${of} ${has}.`;
}

/** What the bits of a frame say; they have to be there. */
export function readSignal(data: Uint8Array, signal: CanSignal): SignalValue {
  const whole = bitsOfSignal(signal).reduce((sum, bit, index) => sum | (BigInt((data[bit >> 3]! >> (bit & 7)) & 1) << BigInt(index)), 0n);
  if (signal.float) return toUnits(floatOf(whole, signal.bits), signal);
  const raw = signal.signed ? BigInt.asIntN(signal.bits, whole) : whole;
  const isExact = raw <= BigInt(Number.MAX_SAFE_INTEGER) && raw >= BigInt(Number.MIN_SAFE_INTEGER);
  if (isExact) return toUnits(Number(raw), signal);
  return signal.factor === 1 && signal.offset === 0 ? String(raw) : toUnits(Number(raw), signal);
}

/** Puts a value into a frame; a problem where it does not fit, and nothing is put then. What lies between two steps goes to the nearest. */
export function writeSignal(data: Uint8Array, signal: CanSignal, value: unknown): Outcome<undefined> {
  const whole = wholeOf(signal, value);
  if (!whole.ok) return whole;
  bitsOfSignal(signal).forEach((bit, index) => {
    const at = bit >> 3;
    const mask = 1 << (bit & 7);
    data[at] = (whole.value >> BigInt(index)) & 1n ? data[at]! | mask : data[at]! & ~mask;
  });
  return good(undefined);
}

/** Between which values a signal can say anything. */
export function rangeOfSignal({ bits, signed, factor, offset }: CanSignal): { least: number; most: number } {
  const [low, high] = signed ? [-(2 ** (bits - 1)), 2 ** (bits - 1) - 1] : [0, 2 ** bits - 1];
  const [a, b] = [toUnits(low, { factor, offset }), toUnits(high, { factor, offset })];
  return { least: Math.min(a, b), most: Math.max(a, b) };
}

/** The bits of a value as a whole number without a sign. */
function wholeOf(signal: CanSignal, value: unknown): Outcome<bigint> {
  const { name, bits, signed, factor, offset, float } = signal;
  const ratio =
    typeof value === 'number' || typeof value === 'string' ? ratioOf(value) : typeof value === 'boolean' ? ratioOf(Number(value)) : null;
  if (float && typeof value === 'number' && !Number.isFinite(value)) return good(wholeOfFloat(value, bits));
  if (!ratio) return bad(`${name}: ${JSON.stringify(value)} is no number.`);
  const raw = exactRaw(ratio, { factor, offset });
  if (float) return good(wholeOfFloat(Number(raw.over) / Number(raw.under), bits));
  const whole = nearestWhole(raw);
  const [low, high] = signed ? [-(1n << BigInt(bits - 1)), (1n << BigInt(bits - 1)) - 1n] : [0n, (1n << BigInt(bits)) - 1n];
  if (whole >= low && whole <= high) return good(BigInt.asUintN(bits, whole));
  const { least, most } = rangeOfSignal(signal);
  return bad(`${name}: ${String(value)} does not fit; ${bits} ${bits === 1 ? 'bit holds' : 'bits hold'} ${least} to ${most}.`);
}

function floatOf(whole: bigint, bits: number): number {
  const view = new DataView(new ArrayBuffer(8));
  if (bits === 32) view.setUint32(0, Number(whole));
  else view.setBigUint64(0, whole);
  return bits === 32 ? view.getFloat32(0) : view.getFloat64(0);
}

function wholeOfFloat(value: number, bits: number): bigint {
  const view = new DataView(new ArrayBuffer(8));
  if (bits === 32) view.setFloat32(0, value);
  else view.setFloat64(0, value);
  return bits === 32 ? BigInt(view.getUint32(0)) : view.getBigUint64(0);
}
