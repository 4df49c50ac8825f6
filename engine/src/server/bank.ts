import type { Table } from '@plain-envoy/core/address';

/** From the first to the last offset that exist, both counted. */
export type Extent = readonly [first: number, last: number];

/** The registers of all tables at one moment. */
export type Snapshot = Record<Table, Uint16Array>;

/** The registers of a simulated device. Each table has an extent, or several; what lies outside does not exist. */
export class RegisterBank {
  private extents: Record<Table, readonly Extent[]> = { coil: [], discrete: [], input: [], holding: [] };
  private readonly tables: Record<Table, Uint16Array> = {
    coil: new Uint16Array(),
    discrete: new Uint16Array(),
    input: new Uint16Array(),
    holding: new Uint16Array(),
  };
  /** Registers that a person holds: what the device itself would put there is kept back until they are released. */
  private readonly held = new Map<string, number>();

  /** A number stands for so many from offset 0. */
  constructor(given: Partial<Record<Table, number | readonly Extent[]>>) {
    this.reshape(given);
  }

  /** Has these registers from now on. What is in both keeps its value, and what comes back has the value that it had. */
  reshape(given: Partial<Record<Table, number | readonly Extent[]>>): void {
    const extentsOf = (table: Table) => {
      const extents = given[table] ?? 0;
      return typeof extents === 'number' ? (extents ? [[0, extents - 1] as const] : []) : extents;
    };
    this.extents = { coil: extentsOf('coil'), discrete: extentsOf('discrete'), input: extentsOf('input'), holding: extentsOf('holding') };
    for (const table of Object.keys(this.tables) as Table[]) {
      const size = this.extents[table].reduce((most, [, last]) => Math.max(most, last + 1), 0);
      if (size <= this.tables[table].length) continue;
      const larger = new Uint16Array(size);
      larger.set(this.tables[table]);
      this.tables[table] = larger;
    }
  }

  has(table: Table, offset: number, count: number): boolean {
    if (count < 1) return false;
    for (const extent of this.extents[table]) if (offset >= extent[0] && offset + count - 1 <= extent[1]) return true;
    return false;
  }

  get(table: Table, offset: number): number {
    return this.tables[table][offset] ?? 0;
  }

  slice(table: Table, offset: number, count: number): Uint16Array {
    return this.tables[table].subarray(offset, offset + count);
  }

  /** What the device, or a master, puts into a register. A held register keeps the value of the person who holds it. */
  set(table: Table, offset: number, ...values: number[]): void {
    values.forEach((value, index) => {
      const key = `${table} ${offset + index}`;
      if (this.held.has(key)) this.held.set(key, value);
      else this.tables[table][offset + index] = value;
    });
  }

  hold(table: Table, offset: number, values: readonly number[]): void {
    values.forEach((value, index) => {
      const key = `${table} ${offset + index}`;
      if (!this.held.has(key)) this.held.set(key, this.get(table, offset + index));
      this.tables[table][offset + index] = value;
    });
  }

  /** Gives the register back to the device, with the value that it last wanted there. */
  release(table: Table, offset: number, count: number): void {
    for (let at = offset; at < offset + count; at++) {
      const key = `${table} ${at}`;
      const wanted = this.held.get(key);
      this.held.delete(key);
      if (wanted !== undefined) this.tables[table][at] = wanted;
    }
  }

  /** All registers as they are now, to come back to. */
  snapshot(): Snapshot {
    const { coil, discrete, input, holding } = this.tables;
    return { coil: coil.slice(), discrete: discrete.slice(), input: input.slice(), holding: holding.slice() };
  }

  /** All registers as they were then; nothing is held any more. */
  restore(then: Snapshot): void {
    this.held.clear();
    for (const [table, words] of Object.entries(then)) this.tables[table as Table].fill(0).set(words);
  }

  heldPlaces(): { table: Table; offset: number }[] {
    return [...this.held.keys()].map((key) => {
      const [table, offset] = key.split(' ');
      return { table: table as Table, offset: Number(offset) };
    });
  }
}
