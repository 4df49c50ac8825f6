import { characterBits, type SerialSettings } from './character.js';

/** What a receiver makes of characters, and at which of them it noticed that something is wrong. */
export interface Received {
  bytes: Uint8Array;
  /** Characters of which the stop bit was no stop bit. */
  framingErrors: number[];
  parityErrors: number[];
}

/**
 * What a receiver with its own settings makes of characters that were sent one right after the other with others: bit by bit, as a
 * receiver samples a line that rests at 1 (start bit 0, data from the lowest bit, parity, stop bits). Alike settings change nothing.
 * Example: `A` (41) sent 7E1 is heard as 41 with 8N1, and `C` (43) as C3, since its parity bit is taken for the eighth.
 */
export function asReceived(sent: Uint8Array, sender: SerialSettings, receiver: SerialSettings): Received {
  const isSame = (['baud', 'dataBits', 'parity'] as const).every((key) => sender[key] === receiver[key]);
  // More stop bits than are wanted are a longer rest.
  if (isSame && sender.stopBits >= receiver.stopBits) return { bytes: sent, framingErrors: [], parityErrors: [] };
  const line = bitsOf(sent, sender);
  /** What is on the line after so many of the sender's bit times; it rests at 1 when nobody sends. */
  const at = (time: number) => line[Math.floor(time)] ?? 1;
  const width = sender.baud / receiver.baud;
  const found: number[] = [];
  const [framingErrors, parityErrors]: [number[], number[]] = [[], []];
  for (let time = 0; (time = startAfter(line, time)) < line.length;) {
    const sample = (bit: number) => at(time + (bit + 0.5) * width);
    // A start bit that is over before its middle is none.
    if (sample(0) !== 0) {
      time += width / 2;
      continue;
    }
    let [byte, ones] = [0, 0];
    for (let bit = 0; bit < receiver.dataBits; bit++) {
      const one = sample(1 + bit);
      byte |= one << bit;
      ones += one;
    }
    const hasParity = receiver.parity !== 'none';
    if (hasParity && sample(1 + receiver.dataBits) !== parityBit(ones, receiver.parity)) parityErrors.push(found.length);
    const stop = 1 + receiver.dataBits + Number(hasParity);
    if (sample(stop) !== 1) framingErrors.push(found.length);
    found.push(byte);
    time += (stop + 0.5) * width;
  }
  return { bytes: Uint8Array.from(found), framingErrors, parityErrors };
}

function bitsOf(sent: Uint8Array, settings: SerialSettings): Uint8Array {
  const { dataBits, parity } = settings;
  const length = characterBits(settings);
  const bits = new Uint8Array(sent.length * length).fill(1);
  sent.forEach((byte, index) => {
    const from = index * length;
    bits[from] = 0;
    let ones = 0;
    for (let bit = 0; bit < dataBits; bit++) {
      const one = (byte >> bit) & 1;
      bits[from + 1 + bit] = one;
      ones += one;
    }
    if (parity !== 'none') bits[from + 1 + dataBits] = parityBit(ones, parity);
  });
  return bits;
}

function parityBit(ones: number, parity: SerialSettings['parity']): number {
  return parity === 'even' ? ones & 1 : 1 - (ones & 1);
}

/** When the line next falls to 0, from a time on; its end where it does not. A line that is at 0 already has to rise first. */
function startAfter(line: Uint8Array, from: number): number {
  let at = Math.floor(from);
  while (at < line.length && line[at] === 0 && at > 0 && line[at - 1] === 0) at += 1;
  while (at < line.length && line[at] !== 0) at += 1;
  return Math.max(from, at);
}
