import { readStream } from '../explain/index.js';
import { type Framing, functionOf } from '../frame/index.js';
import type { TraceRecord } from './record.js';
import { headOf } from './record.js';
import { BROADCAST_UNIT } from '../plan/index.js';

/** A Modbus TCP frame of a recording: from where to where, addresses with ports. */
export interface TimedFrame {
  from: string;
  to: string;
  atMs: number | null;
  frame: Uint8Array;
}

/** Ties the answers of a recording to their questions by connection and transaction id (Messaging on TCP/IP V1.0b, 4.2). */
export function pairFrames(frames: readonly TimedFrame[]): TraceRecord[] {
  const servers = serversOf(frames);
  const records: TraceRecord[] = [];
  const open = new Map<string, TraceRecord>();
  for (const { from, to, atMs, frame } of frames) {
    const transaction = (frame[0]! << 8) | frame[1]!;
    const isQuestion = servers.has(to) && !(servers.has(from) && open.has(`${to} ${from} ${transaction}`));
    const [client, server] = isQuestion ? [from, to] : [to, from];
    const key = `${client} ${server} ${transaction}`;
    const asked = open.get(key);
    if (!isQuestion && asked) {
      open.delete(key);
      Object.assign(asked, endOf(asked, frame), { got: frame, ms: between(asked.atMs, atMs) });
      continue;
    }
    const record = { ...newRecord(records.length + 1, 'tcp', frame, isQuestion, server, atMs), askedBy: hostOf(client) };
    records.push(record);
    if (isQuestion) open.set(key, record);
  }
  return records;
}

/** An address without its port. */
function hostOf(end: string): string {
  return end.replace(/:\d+$/, '');
}

/** The exchanges in a raw recording of a serial line; `timeAt` says when a byte came, where the recording has times. */
export function readSerial(bytes: Uint8Array, timeAt: (index: number) => number | null = () => null): TraceRecord[] {
  const records: TraceRecord[] = [];
  const byFrame = new Map<number, TraceRecord>();
  for (const [index, { from, to, direction, answers }] of readStream(bytes).frames.entries()) {
    const frame = bytes.slice(from, to + 1);
    const asked = answers === null ? undefined : byFrame.get(answers);
    if (asked) {
      Object.assign(asked, endOf(asked, frame), { got: frame, ms: between(asked.atMs, timeAt(from)) });
      continue;
    }
    const record = newRecord(records.length + 1, 'rtu', frame, direction === 'request', 'line', timeAt(from));
    records.push(record);
    byFrame.set(index, record);
  }
  return records;
}

function newRecord(
  number: number,
  framing: Framing,
  frame: Uint8Array,
  isQuestion: boolean,
  endpointId: string,
  atMs: number | null,
): TraceRecord {
  const { unit, functionCode } = headOf(frame, framing);
  const common = { number, atMs, endpointId, requestId: null, framing, unit, functionCode, ms: null };
  if (isQuestion && unit === BROADCAST_UNIT && onlyWrites(functionCode))
    return { ...common, sent: frame, got: null, end: 'sent', failure: null };
  return isQuestion
    ? { ...common, sent: frame, got: null, end: 'silent', failure: { code: 'answer-not-recorded' } }
    : { ...common, sent: null, got: frame, end: 'late', failure: { code: 'question-not-recorded' } };
}

/** What a broadcast can be (V1.02, 2.1). */
function onlyWrites(functionCode: number): boolean {
  const kind = functionOf(functionCode)?.kind;
  return kind !== undefined && kind !== 'read' && kind !== 'exchange';
}

/** Recordings count microseconds; what is finer comes from the arithmetic. */
function between(fromMs: number | null, toMs: number | null): number | null {
  return fromMs === null || toMs === null ? null : Math.round((toMs - fromMs) * 1000) / 1000;
}

function endOf({ framing, unit, functionCode }: TraceRecord, frame: Uint8Array): Pick<TraceRecord, 'end' | 'failure'> {
  const got = headOf(frame, framing);
  if (got.unit !== unit) return { end: 'damaged', failure: { code: 'wrong-unit', asked: unit, got: got.unit } };
  if (got.functionCode !== functionCode)
    return { end: 'damaged', failure: { code: 'wrong-function', asked: functionCode, got: got.functionCode } };
  return { end: got.isException ? 'refused' : 'answered', failure: null };
}

/** Who answers: whoever is spoken to on the port of the standard, else whoever was spoken to first. */
function serversOf(frames: readonly TimedFrame[]): Set<string> {
  const standard = new Set(frames.flatMap(({ from, to }) => [from, to].filter((end) => end.endsWith(':502'))));
  const asked = new Set(standard);
  const known = new Set<string>();
  for (const { from, to } of frames) {
    if (standard.has(from) || standard.has(to) || known.has(from) || known.has(to)) continue;
    known.add(from);
    known.add(to);
    asked.add(to);
  }
  return asked;
}
