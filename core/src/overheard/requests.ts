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
/** Where so many of the distances differ by less than this share, they are a period. */
const EVEN = 0.08;
const MOSTLY = 0.75;

/** The distance from each question to the next but so many that is evenest; the middle of all counts, and of the differences from it. */
function rhythmOf(times: readonly number[]): Pick<HeardRequest, 'periodMs' | 'jitterMs'> {
  const tried = Array.from({ length: Math.min(MOST_A_PERIOD, times.length - 1) }, (_, more) => {
    const gaps = times.slice(more + 1).map((at, index) => at - times[index]!);
    const periodMs = middleOf(gaps);
    const apart = gaps.map((gap) => Math.abs(gap - periodMs)).sort((a, b) => a - b);
    return { periodMs, jitterMs: middleOf(apart), isEven: apart[Math.floor(apart.length * MOSTLY)]! <= EVEN * periodMs };
  });
  const { periodMs, jitterMs } = tried.find(({ isEven }) => isEven) ?? tried[0] ?? { periodMs: null, jitterMs: null };
  return { periodMs, jitterMs };
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

/** The value in the middle of all, of which none far away moves it. */
export function middleOf(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const at = sorted.length >> 1;
  return sorted.length % 2 ? sorted[at]! : (sorted[at - 1]! + sorted[at]!) / 2;
}
