import { bitsOfSignal, bitText, type CanSignal, readSignal, signalProblem, type SignalValue, writeSignal } from './signal.js';
import { MOST_BYTES } from '../can-id/index.js';

/** What a frame says, and what is wrong with how it is described. */
export interface ReadFrame {
  /** By the names of the signals; null for one that is not in the frame. */
  values: Record<string, SignalValue | null>;
  problems: string[];
}

/** What signals of one frame share, or reach past its end; and names that stand twice. */
export function layoutProblems(signals: readonly CanSignal[], bytes = MOST_BYTES, of = 'the frame'): string[] {
  const problems: string[] = [];
  const takenBy = new Map<number, string>();
  const names = new Set<string>();
  for (const signal of signals) {
    if (names.has(signal.name)) problems.push(`Two signals are called ${signal.name}.`);
    names.add(signal.name);
    const past = signalProblem(signal, bytes, of);
    if (past) problems.push(past);
    const shared = bitsOfSignal(signal).find((bit) => takenBy.has(bit));
    if (shared !== undefined) problems.push(`${takenBy.get(shared)!} and ${signal.name} share ${bitText(shared)}.`);
    for (const bit of bitsOfSignal(signal)) if (!takenBy.has(bit)) takenBy.set(bit, signal.name);
  }
  return problems;
}

/** How many bytes a frame needs for its signals: 0 to 8. */
export function bytesFor(signals: readonly CanSignal[]): number {
  const last = Math.max(-1, ...signals.flatMap((signal) => bitsOfSignal(signal)));
  return Math.min(MOST_BYTES, (last >> 3) + 1);
}

export function readFrame(data: Uint8Array, signals: readonly CanSignal[]): ReadFrame {
  const values = signals.map((signal) => [signal.name, signalProblem(signal, data.length) ? null : readSignal(data, signal)] as const);
  return { values: Object.fromEntries(values), problems: layoutProblems(signals, data.length) };
}

/** A frame that says these values; a signal without one is 0, and what does not fit is left at 0 and told. */
export function buildFrame(
  values: Readonly<Record<string, unknown>>,
  signals: readonly CanSignal[],
  bytes = bytesFor(signals),
): { data: Uint8Array; problems: string[] } {
  const data = new Uint8Array(bytes);
  const problems = layoutProblems(signals, bytes);
  for (const signal of signals) {
    if (!(signal.name in values) || signalProblem(signal, bytes)) continue;
    const put = writeSignal(data, signal, values[signal.name]);
    if (!put.ok) problems.push(put.problem.message);
  }
  const known = new Set(signals.map(({ name }) => name));
  for (const name of Object.keys(values)) if (!known.has(name)) problems.push(`No signal is called ${name}.`);
  return { data, problems };
}
