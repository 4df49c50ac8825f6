import { isBitTable, type Table } from '../address/index.js';
import { asWindow, type Image, imagePlaceOf, type SideWindow } from '../image/index.js';
import { type Point, pointWidth, runsOn } from '../model/index.js';
import { type Freshness, type PointMemory, registerWindows } from '../converter/index.js';

/** The registers of a converter as Modbus sees them. */
export interface Registers {
  get(table: Table, offset: number): number;
  set(table: Table, offset: number, ...words: number[]): void;
}

/** One that carries as often as this, or more often, carries at once. */
const AT_ONCE_MS = 50;

/** Bytes that the far side has laid, or one bit of a byte, and that are not carried yet. */
type Laid = { byte: number; bytes: readonly number[] } | { byte: number; bit: number; isSet: boolean };

/**
 * The memory of a converter in bytes, kept the same as the registers that its windows show. Each time that it carries, what the far side
 * has laid is seen in them, and what Modbus wrote where it may is taken over; one that carries often does both at once.
 */
export class ImageMemory {
  readonly bytes: Uint8Array;
  private readonly windows: ReturnType<typeof registerWindows>;
  private readonly laid: Laid[] = [];
  /** When Modbus wrote each byte, on its own clock; never where it has not. */
  private readonly writtenMs: Float64Array;
  private clockMs = 0;
  private sinceMs = 0;

  constructor(
    private readonly image: Image,
    private readonly registers: Registers,
  ) {
    this.bytes = new Uint8Array(image.bytes);
    this.writtenMs = new Float64Array(image.bytes).fill(-Infinity);
    this.windows = registerWindows({ image });
    this.show(0, image.bytes);
  }

  /** What one far line sees of it: values that lie in its windows are read and written, others are not there. */
  of(lineId: string): PointMemory {
    const own = this.image.windows.filter((window) => window.lineId === lineId);
    return {
      read: (point) => this.read(point, own),
      write: (point, words) => this.write(point, words, own),
      freshness: (point, staleMs) => this.freshness(point, staleMs, own),
    };
  }

  /** Puts bytes there by hand; every window shows them, until whoever writes them does so again. */
  poke(byte: number, bytes: readonly number[]): void {
    this.put(byte, bytes);
    this.writtenMs.fill(this.clockMs, byte, byte + bytes.length);
  }

  /** Lets time pass, and carries when it is time. */
  step(ms: number): void {
    this.clockMs += ms;
    this.sinceMs += ms;
    if (this.sinceMs < this.image.refreshMs) return;
    this.sinceMs = 0;
    for (const laid of this.laid.splice(0)) this.take(laid);
    this.sync();
  }

  /** Modbus has written these registers. */
  wrote({ table, first, count }: { table: Table; first: number; count: number }): void {
    for (const window of this.windows) {
      if (window.use !== 'writes' || window.table !== table) continue;
      const perByte = isBitTable(table) ? 8 : 0.5;
      const from = Math.max(0, Math.floor((first - (window.offset ?? 0)) / perByte));
      const to = Math.min(window.bytes, Math.ceil((first + count - (window.offset ?? 0)) / perByte));
      if (from < to) this.writtenMs.fill(this.clockMs, window.byte + from, window.byte + to);
    }
    if (this.carriesAtOnce) this.sync();
  }

  private get carriesAtOnce(): boolean {
    return this.image.refreshMs <= AT_ONCE_MS;
  }

  private sync(): void {
    for (const window of this.windows) {
      if (window.use !== 'writes') continue;
      let changed = false;
      for (let at = 0; at < window.bytes; at++) {
        const byte = this.seenAt(window, at);
        if (this.bytes[window.byte + at] === byte) continue;
        this.bytes[window.byte + at] = byte;
        changed = true;
      }
      if (changed) this.show(window.byte, window.bytes, window);
    }
  }

  private read(point: Point, own: readonly SideWindow[]): number[] {
    const count = pointWidth(point);
    const at = this.placeOf(point, own, 'reads');
    if (!at) return Array.from({ length: count }, () => 0);
    if (at.bit !== null) return [(this.bytes[at.byte]! >> at.bit) & 1];
    const bytes = ordered([...this.bytes.subarray(at.byte, at.byte + 2 * count)], at.by, point);
    return Array.from({ length: count }, (_, index) => (bytes[2 * index]! << 8) | bytes[2 * index + 1]!);
  }

  private write(point: Point, words: readonly number[], own: readonly SideWindow[]): void {
    const at = this.placeOf(point, own, 'writes');
    if (!at) return;
    if (at.bit !== null) {
      this.lay({ byte: at.byte, bit: at.bit, isSet: Boolean(words[0]) });
      return;
    }
    const bytes = ordered(
      words.flatMap((word) => [word >> 8, word & 0xff]),
      at.by,
      point,
    );
    this.lay({ byte: at.byte, bytes });
  }

  /** By when Modbus wrote the bytes of a point that the far side reads. */
  private freshness(point: Point, staleMs: number | null, own: readonly SideWindow[]): Freshness {
    const at = this.placeOf(point, own, 'reads');
    if (!at) return 'unwritten';
    const oldest = Math.min(...this.writtenMs.subarray(at.byte, at.byte + (at.bit === null ? 2 * pointWidth(point) : 1)));
    if (oldest === -Infinity) return 'unwritten';
    return staleMs !== null && this.clockMs - oldest > staleMs ? 'old' : 'good';
  }

  private put(byte: number, bytes: readonly number[]): void {
    this.bytes.set(bytes, byte);
    this.show(byte, bytes.length);
  }

  private lay(laid: Laid): void {
    if (this.carriesAtOnce) this.take(laid);
    else this.laid.push(laid);
  }

  private take(laid: Laid): void {
    if ('bytes' in laid) return this.put(laid.byte, laid.bytes);
    const mask = 1 << laid.bit;
    this.put(laid.byte, [(this.bytes[laid.byte]! & ~mask) | (laid.isSet ? mask : 0)]);
  }

  /** Where in the image a point lies; null where no window shows its registers, or the far line does not reach it. */
  private placeOf(
    point: Point,
    own: readonly SideWindow[],
    use: SideWindow['use'],
  ): { byte: number; bit: number | null; by: SideWindow } | null {
    const { table, offset, bit } = point;
    const bytes = bit === null ? 2 * pointWidth(point) : 1;
    for (const seen of this.windows) {
      if (seen.table !== table || isBitTable(table)) continue;
      const found = imagePlaceOf([asWindow(seen)], { side: seen.lineId, register: offset, ...(bit === null ? {} : { bit }) });
      if (!found.ok || found.value.byte + bytes > seen.byte + seen.bytes) continue;
      const { byte } = found.value;
      const by = own.find((window) => window.use === use && window.byte <= byte && byte + bytes <= window.byte + window.bytes);
      if (by) return { ...found.value, by };
    }
    return null;
  }

  /** Shows these bytes in the registers of every window over them, but for one. */
  private show(from: number, count: number, except?: SideWindow): void {
    for (const window of this.windows) {
      if (window === except) continue;
      const first = Math.max(from, window.byte) - window.byte;
      const last = Math.min(from + count, window.byte + window.bytes) - window.byte - 1;
      if (last < first) continue;
      const { table, offset = 0 } = window;
      if (isBitTable(table)) {
        for (let bit = 8 * first; bit < 8 * (last + 1); bit++)
          this.registers.set(table, offset + bit, (this.bytes[window.byte + (bit >> 3)]! >> (bit & 7)) & 1);
        continue;
      }
      for (let word = first >> 1; word <= last >> 1; word++) this.registers.set(table, offset + word, this.wordAt(window, word));
    }
  }

  private wordAt({ byte, bytes, order }: SideWindow, word: number): number {
    const [first, second] = [2 * word, 2 * word + 1].map((at) => (at < bytes ? this.bytes[byte + at]! : 0)) as [number, number];
    return order === 'high-first' ? (first << 8) | second : (second << 8) | first;
  }

  /** A byte of a window as its registers have it. */
  private seenAt({ table, offset = 0, order }: SideWindow & { table: Table }, at: number): number {
    if (isBitTable(table))
      return Array.from({ length: 8 }, (_, bit) => (this.registers.get(table, offset + 8 * at + bit) ? 1 << bit : 0)).reduce(
        (a, b) => a | b,
      );
    const word = this.registers.get(table, offset + (at >> 1));
    return (at % 2 === 0) === (order === 'high-first') ? word >> 8 : word & 0xff;
  }
}

/** The bytes of a value as a side lays them, or back: what runs on does so, a number may begin with its lowest byte. */
function ordered(bytes: number[], { order }: SideWindow, point: Point): number[] {
  return order === 'high-first' || runsOn(point) ? bytes : bytes.reverse();
}
