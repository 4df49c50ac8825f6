import { middleOf } from '../common/index.js';
import { answered, askedIn, pduOf, type RegisterSpan, type TraceRecord } from '../trace/index.js';

/** The values of a span at one moment: words, or 0 and 1 for bits. */
export interface Sample {
  atMs: number | null;
  values: number[];
}

/** A question that was asked over and over, and what came back. */
export interface HeardRequest {
  /** Who was dialled, as in the recording. */
  endpointId: string;
  /** Who asked, where the recording tells. */
  askedBy: string | null;
  framing: TraceRecord['framing'];
  unit: number;
  functionCode: number;
  span: RegisterSpan;
  writes: boolean;
  seen: number;
  /** Between two of them, the middle of all; null where it was seen once only, or the recording has no times. */
  periodMs: number | null;
  /** By how much the distance differs from that, the middle of all. */
  jitterMs: number | null;
  answered: number;
  silent: number;
  /** How often it was refused, by exception code. */
  refused: ReadonlyMap<number, number>;
  /** From the question to the answer: the middle, and the longest. */
  responseMs: { usual: number; longest: number } | null;
  samples: Sample[];
}

/** More answers than these of one question tell nothing new. */
const MOST_SAMPLES = 1500;

interface Gathered extends Omit<HeardRequest, 'periodMs' | 'jitterMs' | 'responseMs'> {
  refused: Map<number, number>;
  times: number[];
  took: number[];
  /** It is asked again because nobody answered. */
  isOpen: boolean;
}

/** The questions in a recording, each with its period: what reaches the same registers of the same unit by the same function is one. */
export class Requests {
  private readonly found = new Map<string, Gathered>();
  /** Exchanges that reach no registers, or of which the question was not recorded. */
  skipped = 0;

  add(record: TraceRecord): void {
    const asked = askedIn(record);
    if (!asked) {
      this.skipped += 1;
      return;
    }
    const { endpointId, unit, functionCode, framing, askedBy = null } = record;
    const key = `${endpointId} ${askedBy} ${unit} ${functionCode} ${asked.span.offset} ${asked.span.count}`;
    const heard = this.found.get(key) ?? {
      ...{ endpointId, askedBy, framing, unit, functionCode, span: asked.span, writes: asked.kind === 'write' },
      ...{ seen: 0, answered: 0, silent: 0, refused: new Map<number, number>(), samples: [], times: [], took: [], isOpen: false },
    };
    this.found.set(key, heard);
    take(heard, record, asked.written ?? (record.end === 'answered' && asked.kind !== 'write' ? answered(record, asked.span) : null));
  }

  list(): HeardRequest[] {
    return [...this.found.values()].map(({ times, took, isOpen, ...heard }): HeardRequest => {
      return { ...heard, ...rhythmOf(times), responseMs: took.length ? { usual: middleOf(took), longest: Math.max(...took) } : null };
    });
  }
}

/** A question may be asked several times in each period, as for several routes: up to so many are told apart. */
const MOST_A_PERIOD = 6;
/** Where three quarters of the distances differ by less than this share, they are a period. */
const EVEN = 0.08;
/** Questions that come in bursts have many distances that are shorter than this share of all on average. */
const SHORT = 0.6;
/** So few questions tell of no bursts. */
const FEWEST = 8;

/** The distance from each question to the next; where they come in bursts, to the next but so many that is even. */
function rhythmOf(times: readonly number[]): Pick<HeardRequest, 'periodMs' | 'jitterMs'> {
  const first = distanceOf(times, 1);
  if (!first) return { periodMs: null, jitterMs: null };
  const mean = (times.at(-1)! - times[0]!) / (times.length - 1);
  const isInBursts = times.length >= FEWEST && first.shortMs < SHORT * mean;
  const tried = isInBursts ? Array.from({ length: MOST_A_PERIOD - 1 }, (_, more) => distanceOf(times, more + 2)) : [];
  const { periodMs, jitterMs } = tried.find((one) => one?.isEven) ?? first;
  return { periodMs, jitterMs };
}

function distanceOf(times: readonly number[], steps: number) {
  const gaps = times.slice(steps).map((at, index) => at - times[index]!);
  if (gaps.length === 0) return null;
  const periodMs = middleOf(gaps);
  const apart = gaps.map((gap) => Math.abs(gap - periodMs));
  return { periodMs, jitterMs: middleOf(apart), shortMs: quantileOf(gaps, 0.25), isEven: quantileOf(apart, 0.75) <= EVEN * periodMs };
}

function quantileOf(numbers: readonly number[], share: number): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  return sorted[Math.floor((sorted.length - 1) * share)]!;
}

function take(heard: Gathered, record: TraceRecord, values: number[] | null): void {
  heard.seen += 1;
  // A question that is asked again because nobody answered is none of its own.
  if (record.atMs !== null && !heard.isOpen) heard.times.push(record.atMs);
  heard.isOpen = record.end === 'silent';
  if (record.end === 'answered' || record.end === 'sent') heard.answered += 1;
  if (record.end === 'silent') heard.silent += 1;
  if (record.end === 'refused' && record.got) {
    const code = pduOf(record.got, record.framing)[1] ?? 0;
    heard.refused.set(code, (heard.refused.get(code) ?? 0) + 1);
  }
  if (record.ms !== null && record.end === 'answered') heard.took.push(record.ms);
  if (values && heard.samples.length < MOST_SAMPLES) heard.samples.push({ atMs: record.atMs, values });
}
