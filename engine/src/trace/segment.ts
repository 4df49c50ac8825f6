import { ends, type TraceEntry, traceFramings } from '@plain-envoy/core/trace';

export const SEGMENT_RECORDS = 2048;
const FIRST_BYTES = 64 * 1024;
/** The length of a frame that is not there. */
const NONE = 0xffff_ffff;

/**
 * So many exchanges, kept as columns and bytes: hundreds of thousands of small objects that live long would make the thread that
 * polls wait while they are moved about.
 */
export class TraceSegment {
  readonly at = new Float64Array(SEGMENT_RECORDS);
  readonly took = new Float64Array(SEGMENT_RECORDS);
  /** Indexes into the lists of framings and ends. */
  readonly framings = new Uint8Array(SEGMENT_RECORDS);
  readonly ends = new Uint8Array(SEGMENT_RECORDS);
  readonly units = new Uint8Array(SEGMENT_RECORDS);
  readonly functionCodes = new Uint8Array(SEGMENT_RECORDS);
  readonly endpointIds: string[] = [];
  readonly requestIds: (string | null)[] = [];
  readonly failures = new Map<number, TraceEntry['failure']>();
  private readonly starts = new Uint32Array(SEGMENT_RECORDS);
  private readonly sentLengths = new Uint32Array(SEGMENT_RECORDS);
  private readonly gotLengths = new Uint32Array(SEGMENT_RECORDS);
  private bytes = new Uint8Array(FIRST_BYTES);
  private filled = 0;

  get isFull(): boolean {
    return this.endpointIds.length === SEGMENT_RECORDS;
  }

  add({ atMs, ms, framing, unit, functionCode, end, endpointId, requestId, failure, sent, got }: Omit<TraceEntry, 'number'>): void {
    const index = this.endpointIds.length;
    this.endpointIds.push(endpointId);
    this.requestIds.push(requestId);
    this.at[index] = atMs ?? NaN;
    this.took[index] = ms ?? NaN;
    this.framings[index] = traceFramings.indexOf(framing);
    this.ends[index] = ends.indexOf(end);
    this.units[index] = unit;
    this.functionCodes[index] = functionCode;
    if (failure) this.failures.set(index, failure);
    this.starts[index] = this.filled;
    this.sentLengths[index] = this.put(sent);
    this.gotLengths[index] = this.put(got);
  }

  /** A view of what was sent, for as long as this segment is kept. */
  sent(index: number): Uint8Array | null {
    return this.view(this.starts[index]!, this.sentLengths[index]!);
  }

  got(index: number): Uint8Array | null {
    const sent = this.sentLengths[index]!;
    return this.view(this.starts[index]! + (sent === NONE ? 0 : sent), this.gotLengths[index]!);
  }

  private put(frame: Uint8Array | null): number {
    if (!frame) return NONE;
    const wanted = this.filled + frame.length;
    if (wanted > this.bytes.length) {
      const larger = new Uint8Array(Math.max(2 * this.bytes.length, wanted));
      larger.set(this.bytes);
      this.bytes = larger;
    }
    this.bytes.set(frame, this.filled);
    this.filled = wanted;
    return frame.length;
  }

  private view(start: number, length: number): Uint8Array | null {
    return length === NONE ? null : this.bytes.subarray(start, start + length);
  }
}

/** One exchange of a segment at a time, read where it is kept, so that many can be looked through without making anything. */
export class TraceCursor implements TraceEntry {
  private segment!: TraceSegment;
  private index = 0;
  number = 0;

  moveTo(segment: TraceSegment, index: number, number: number): this {
    this.segment = segment;
    this.index = index;
    this.number = number;
    return this;
  }

  get atMs(): number | null {
    return nullable(this.segment.at[this.index]!);
  }
  get ms(): number | null {
    return nullable(this.segment.took[this.index]!);
  }
  get endpointId(): string {
    return this.segment.endpointIds[this.index]!;
  }
  get requestId(): string | null {
    return this.segment.requestIds[this.index]!;
  }
  get framing(): TraceEntry['framing'] {
    return traceFramings[this.segment.framings[this.index]!]!;
  }
  get unit(): number {
    return this.segment.units[this.index]!;
  }
  get functionCode(): number {
    return this.segment.functionCodes[this.index]!;
  }
  get end(): TraceEntry['end'] {
    return ends[this.segment.ends[this.index]!]!;
  }
  get failure(): TraceEntry['failure'] {
    return this.segment.failures.get(this.index) ?? null;
  }
  get sent(): Uint8Array | null {
    return this.segment.sent(this.index);
  }
  get got(): Uint8Array | null {
    return this.segment.got(this.index);
  }

  /** All of it, to be handed on. */
  copy(): TraceEntry {
    const { number, atMs, ms, endpointId, requestId, framing, unit, functionCode, end, failure } = this;
    const [sent, got] = [this.sent?.slice() ?? null, this.got?.slice() ?? null];
    return { number, atMs, endpointId, requestId, framing, unit, functionCode, sent, got, end, ms, failure };
  }
}

function nullable(value: number): number | null {
  return Number.isNaN(value) ? null : value;
}
