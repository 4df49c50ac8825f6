import type { Table } from '../address/index.js';
import { compile } from '../compile/index.js';
import { readFunction, writeFunction } from '../frame/index.js';
import type { Device, Point, ProjectDocument } from '../model/index.js';
import type { Plan } from '../plan/index.js';
import { type Answered, type Asked, PreparedCarrier } from './prepared-carrier.js';

/** How long a scan is, ms. */
export const SCAN_MS = 10;

/** A controller with its program, and devices that are nothing but registers. A transaction is answered in the scan after it was asked. */
export class RunProgram {
  readonly plan: Plan;
  readonly carrier: PreparedCarrier;
  readonly asked: Asked[] = [];
  /** Devices that do not answer, and those that refuse with an exception. */
  readonly silent = new Set<string>();
  readonly refusing = new Map<string, number>();
  nowMs = 0;
  private readonly registers = new Map<string, number[]>();
  private waiting: Asked[] = [];

  constructor(
    private readonly document: ProjectDocument,
    controller: Device,
    isPortable = false,
  ) {
    const { plan } = compile(document);
    this.plan = plan;
    this.carrier = new PreparedCarrier(document, plan, controller, { portable: isPortable });
    if (this.carrier.problem) throw new Error(this.carrier.problem);
  }

  /** Words at a point of a device, or of the controller itself. */
  put(point: Point, words: readonly number[]): void {
    if (this.isOwn(point)) return this.carrier.put(point.id, words);
    const table = this.tableOf(point.deviceId, point.table);
    words.forEach(
      (word, index) => (table[point.offset + index] = point.bit === null ? word : (table[point.offset]! & ~(1 << point.bit)) | word),
    );
  }

  words(point: Point, width: number): number[] {
    if (this.isOwn(point)) return this.carrier.words(point.id)!;
    const words = this.tableOf(point.deviceId, point.table).slice(point.offset, point.offset + width);
    return point.bit === null ? words : [words[0]! & (1 << point.bit)];
  }

  /** Lets it run for a while. */
  run(ms: number): void {
    for (const until = this.nowMs + ms; this.nowMs < until; this.nowMs += SCAN_MS) {
      for (const asked of this.waiting) this.carrier.answer(asked.channel, this.transact(asked));
      this.waiting = this.carrier.scan(SCAN_MS);
      this.asked.push(...this.waiting);
      if (this.carrier.stopped) throw new Error(this.carrier.stopped);
    }
  }

  private isOwn({ id }: Point): boolean {
    return this.carrier.points.some((point) => point.id === id);
  }

  private tableOf(deviceId: string, table: Table): number[] {
    const key = `${deviceId} ${table}`;
    const known = this.registers.get(key) ?? Array<number>(65_536).fill(0);
    this.registers.set(key, known);
    return known;
  }

  private transact({ channel, unit, functionCode, start, count, area }: Asked): Answered {
    const { endpoint } = this.carrier.made!.channels[channel - 1]!;
    const about = this.plan.requests.find(({ endpointId, unitId }) => endpointId === endpoint.id && unitId === unit);
    const deviceId = about?.deviceId ?? '';
    if (!about || this.silent.has(deviceId)) return { result: 256 };
    const refusal = this.refusing.get(deviceId);
    if (refusal !== undefined) return { result: refusal };
    for (const table of ['coil', 'discrete', 'input', 'holding'] as const) {
      const cells = this.tableOf(deviceId, table);
      const isBit = table === 'coil' || table === 'discrete';
      const each = Array.from({ length: count }, (_, index) => index);
      if (readFunction(table).code === functionCode) {
        const values = each.map((index) => cells[start + index]!);
        return { words: isBit ? packed(values) : values };
      }
      if (functionCode === 22 && table === 'holding') {
        cells[start] = (cells[start]! & area[0]!) | (area[1]! & ~area[0]! & 0xffff);
        return { words: [] };
      }
      if (writeFunction(table, 1)?.code === functionCode || writeFunction(table, 2)?.code === functionCode) {
        for (const index of each) cells[start + index] = isBit ? (area[Math.floor(index / 16)]! >> (index % 16)) & 1 : area[index]!;
        return { words: [] };
      }
    }
    throw new Error(`Function ${functionCode}?`);
  }

  /** Points of the project by what they are called. */
  point(name: string): Point {
    return this.document.points.find((point) => point.name === name)!;
  }
}

function packed(bits: readonly number[]): number[] {
  return Array.from({ length: Math.ceil(bits.length / 16) }, (_, word) =>
    bits.slice(16 * word, 16 * word + 16).reduce((sum, bit, index) => sum | (bit << index), 0),
  );
}
