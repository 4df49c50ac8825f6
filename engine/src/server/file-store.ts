/** Records of a file by the standard (V1.1b3, 6.14). */
const RECORDS = 10_000;

/** The files of a simulated device: so many, from 1 on, each of 10 000 records that are 0 until they are written. */
export class FileStore {
  private readonly files = new Map<number, Uint16Array>();

  constructor(private readonly count: number) {}

  has(file: number, record: number, count: number): boolean {
    return file >= 1 && file <= this.count && count >= 1 && record + count <= RECORDS;
  }

  /** null where one of them does not exist. */
  read(file: number, record: number, count: number): number[] | null {
    if (!this.has(file, record, count)) return null;
    const records = this.files.get(file);
    return Array.from({ length: count }, (_, index) => records?.[record + index] ?? 0);
  }

  write(file: number, record: number, values: readonly number[]): void {
    const records = this.files.get(file) ?? new Uint16Array(RECORDS);
    this.files.set(file, records);
    records.set(values, record);
  }
}
