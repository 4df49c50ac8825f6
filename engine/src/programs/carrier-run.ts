import { isBitTable } from '@plain-envoy/core/address';
import { compileRead, compileWrite, type HandWrite } from '@plain-envoy/core/compile';
import { type Answered, type Asked, PreparedCarrier } from '@plain-envoy/core/controller-program';
import { type FailureGroup, groupOf } from '@plain-envoy/core/failure';
import { MASK_WRITE, readFunction, writeFunction } from '@plain-envoy/core/frame';
import { type Device, type Point, pointWidth, type ProjectDocument } from '@plain-envoy/core/model';
import type { Plan, PlannedRequest } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';
import type { RequestWay } from '../settings/index.js';
import { inBackground } from '../background/index.js';

/** What the interface block says of how a transaction failed, beside exception codes. */
const RESULTS: Readonly<Record<FailureGroup, number>> = { refused: 257, 'no answer': 256, late: 256, damaged: 257, 'not connected': 258 };

/** A point that the program gives, by how it is written, and the words that stand there; null before the first. */
interface Given {
  write: HandWrite;
  point: Point;
  words: readonly number[] | null;
}

/** How long the stand-in is left alone between being asked for its registers, and given them. */
const REFRESH_MS = 50;

/**
 * The program of a controller as it is handed over, run scan by scan in the place of its stand-in: its variables are the registers of that
 * stand-in, and its transactions go out by `way`, each tried once, as the program itself asks again.
 */
export class CarrierRun {
  readonly prepared: PreparedCarrier;
  scans = 0;
  /** Transactions that were begun. */
  asked = 0;
  private timer: NodeJS.Timeout | null = null;
  private lastMs: number | null = null;
  private exchangedMs: number | null = null;
  private exchanging = false;
  private readonly reads: { pointIds: { id: string; at: number; width: number }[]; read: Omit<HandWrite, 'masks'> }[];
  private readonly given = new Map<string, Given>();
  private hasGiven: () => void = () => undefined;
  private readonly firstGiven = new Promise<void>((done) => (this.hasGiven = done));

  constructor(
    document: ProjectDocument,
    plan: Plan,
    private readonly controller: Device,
    private readonly way: RequestWay,
    private readonly form: { portable: boolean; scanMs: number },
  ) {
    this.prepared = new PreparedCarrier(document, plan, controller, form);
    const routes = plan.routes.filter(({ carrierId }) => carrierId === controller.id);
    const targets = new Set(routes.flatMap(({ destination, valid }) => [destination.id, ...(valid ? [valid.point.id] : [])]));
    const held = this.prepared.points;
    for (const point of [...held].sort((a, b) => a.table.localeCompare(b.table) || a.offset - b.offset)) {
      if (!targets.has(point.id)) continue;
      const write = compileWrite(document, point);
      if (write.ok) this.given.set(point.id, { write: write.value, point, words: null });
    }
    const local = plan.requests.filter(({ local: isLocal, carrierId, kind }) => isLocal && carrierId === controller.id && kind === 'read');
    this.reads = local.flatMap((request) => {
      const endpoint = plan.endpoints.find(({ id }) => id === request.endpointId);
      const pointIds = request.points.flatMap(({ pointId, at, width }) => (this.given.has(pointId) ? [] : [{ id: pointId, at, width }]));
      return endpoint && pointIds.length > 0 ? [{ pointIds, read: { request, endpoint } }] : [];
    });
    // What no request of the plan reads, such as the other end of a link, is read by itself.
    const read = new Set(this.reads.flatMap(({ pointIds }) => pointIds.map(({ id }) => id)));
    for (const point of held) {
      if (read.has(point.id) || this.given.has(point.id)) continue;
      const own = compileRead(document, point);
      if (own.ok) this.reads.push({ pointIds: [{ id: point.id, at: 0, width: pointWidth(point) }], read: own.value });
    }
  }

  /** Why it does not run, or not any more; null while all is well. */
  get problem(): string | null {
    return this.prepared.problem ?? this.prepared.stopped;
  }

  /** Resolves when what it begins with stands at the stand-in, or has been tried, or it does not run. */
  start(): Promise<void> {
    if (this.prepared.problem) return Promise.resolve();
    if (this.timer) return this.firstGiven;
    let dueMs = performance.now();
    const scan = () => {
      this.step();
      const now = performance.now();
      // On a machine that does not keep up, what is asked and answered gets its turn between two scans all the same.
      dueMs = Math.max(dueMs + this.form.scanMs, now + this.form.scanMs / 2);
      this.timer = setTimeout(scan, dueMs - now);
    };
    this.timer = setTimeout(scan, this.form.scanMs);
    return this.firstGiven;
  }

  stop(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.lastMs = null;
    this.hasGiven();
  }

  /** One scan, so long after the one before as the clock says. */
  step(): void {
    const now = performance.now();
    const elapsed = this.lastMs === null ? 0 : now - this.lastMs;
    this.lastMs = now;
    for (const asked of this.prepared.scan(elapsed)) {
      this.asked += 1;
      inBackground(this.transact(asked));
    }
    this.scans += 1;
    // The stand-in has more to do than to be asked for its own registers.
    if (!this.exchanging && (this.exchangedMs === null || now - this.exchangedMs >= REFRESH_MS)) inBackground(this.exchange());
  }

  /** One after the other, as both go to the one stand-in. */
  private async exchange(): Promise<void> {
    this.exchanging = true;
    try {
      await this.put();
      await this.refresh();
    } finally {
      this.exchanging = false;
      this.exchangedMs = performance.now();
      this.hasGiven();
    }
  }

  /** Takes the variables of the controller that its program only reads from where its stand-in has them. */
  private async refresh(): Promise<void> {
    await Promise.all(
      this.reads.map(async ({ pointIds, read }) => {
        const outcome = await this.way.read(read);
        if (outcome.kind !== 'values') return;
        for (const { id, at, width } of pointIds) this.prepared.put(id, outcome.values.slice(at, at + width));
      }),
    );
  }

  /** Puts what the program has given since then where the stand-in has it. */
  private async put(): Promise<void> {
    const changed = [...this.given.values()].flatMap((row) => {
      const words = this.prepared.words(row.point.id);
      return !words || (row.words && words.every((word, index) => word === row.words![index])) ? [] : [{ row, words }];
    });
    for (const stretch of stretchesOf(changed, this.controller)) {
      const { write } = stretch[0]!.row;
      const words = stretch.flatMap((one) => one.words);
      const outcome = await this.way.write({ ...write, request: { ...write.request, count: words.length } }, words);
      if (outcome.kind === 'written') for (const one of stretch) one.row.words = one.words;
    }
  }

  private async transact(asked: Asked): Promise<void> {
    const { endpoint } = this.prepared.made!.channels[asked.channel - 1]!;
    const planned = this.prepared.made!.requests.find(
      ({ planned: one, channel }) => channel === asked.channel && one.unitId === asked.unit && takes(one, asked),
    )?.planned;
    if (!planned) return this.prepared.answer(asked.channel, { result: RESULTS['not connected'] });
    const request: PlannedRequest = {
      ...planned,
      ...{ functionCode: asked.functionCode, offset: asked.start, count: asked.count, tries: 1, release: null, also: null, withId: null },
      ...{ functionCodes: [asked.functionCode], partial: asked.functionCode === MASK_WRITE ? 'mask' : null },
    };
    const isBits = isBitTable(planned.table);
    const isRead = asked.functionCode <= 4;
    if (isRead) {
      const outcome = await this.way.read({ request, endpoint });
      return this.prepared.answer(asked.channel, answeredBy(outcome, isBits));
    }
    const isMask = asked.functionCode === MASK_WRITE;
    const [and = 0, or = 0] = asked.area;
    const words = isMask
      ? [or]
      : Array.from({ length: asked.count }, (_, index) =>
          isBits ? (asked.area[Math.floor(index / 16)]! >> (index % 16)) & 1 : asked.area[index]!,
        );
    const outcome = await this.way.write({ request, endpoint, masks: isMask ? [~and & 0xffff] : null }, words);
    this.prepared.answer(asked.channel, answeredBy(outcome, isBits));
  }
}

/** What lies side by side, in the order of their offsets, and one request writes: a hundred writes would keep the stand-in for seconds. */
function stretchesOf<Row extends { row: Given; words: readonly number[] }>(rows: readonly Row[], device: Device): Row[][] {
  const stretches: Row[][] = [];
  for (const one of rows) {
    const last = stretches.at(-1);
    if (last && follows([...last, one], device)) last.push(one);
    else stretches.push([one]);
  }
  return stretches;
}

/** Whether the last of them may go with those before it. */
function follows(rows: readonly { row: Given; words: readonly number[] }[], device: Device): boolean {
  const [{ row: first }, { row: last }] = [rows[0]!, rows.at(-1)!];
  const { table, offset } = last.write.request;
  const count = rows.reduce((sum, { words }) => sum + words.length, 0);
  const isBeside = table === first.write.request.table && offset === first.write.request.offset + count - rows.at(-1)!.words.length;
  const most = isBitTable(table) ? device.maxWriteBits : device.maxWriteWords;
  const isWhole = !first.write.masks && !last.write.masks;
  return isBeside && isWhole && count <= most && device.functionCodes.includes(writeFunction(table, count)!.code);
}

/** Whether a transaction is one of a request: it reads or writes registers of it, or sets what releases it. */
function takes({ kind, table, offset, count, release }: PlannedRequest, { functionCode, start, count: many }: Asked): boolean {
  const isInside = start >= offset && start + many <= offset + count;
  const isRead = functionCode === readFunction(table).code;
  if (kind === 'read') return isRead && isInside;
  const writes = [MASK_WRITE, ...[1, 2].map((size) => writeFunction(table, size)?.code)];
  return (isInside && (isRead || writes.includes(functionCode))) || (release?.functionCode === functionCode && release.offset === start);
}

function answeredBy(outcome: RequestResult, isBits: boolean): Answered {
  if (outcome.kind === 'written') return { words: [] };
  if (outcome.kind === 'values') return { words: isBits ? packed(outcome.values) : outcome.values };
  const { failure } = outcome;
  return { result: failure.code === 'exception' ? failure.exception : RESULTS[groupOf(failure)] };
}

/** Bits as words of 16, the first the lowest. */
function packed(bits: readonly number[]): number[] {
  const words = Array<number>(Math.ceil(bits.length / 16)).fill(0);
  bits.forEach((bit, index) => (words[index >> 4]! |= bit << (index & 15)));
  return words;
}
