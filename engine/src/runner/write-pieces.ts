import type { Table } from '@plain-envoy/core/address';
import { READ_WRITE, readFunction } from '@plain-envoy/core/frame';
import { codeToWrite, type PlannedRequest, writeRuns } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';

/** Registers, or bits of registers, that one route wants set by a planned write. */
export interface Piece {
  table: Table;
  offset: number;
  words: readonly number[];
  /** Which bits of each register are its own; null for all. */
  masks: readonly number[] | null;
  /** `isUnconfirmed` where it was sent to every unit, and nobody says that it was taken. */
  written(isUnconfirmed: boolean): void;
  failed(why: string): void;
}

/** One transaction of a write, as it goes to the client. */
export interface Write {
  functionCode: number;
  offset: number;
  count: number;
  values?: number[];
  also?: { offset: number; count: number };
}

type Ask = (part: Write) => Promise<RequestResult>;

interface Done {
  piece: Piece;
  outcome: RequestResult;
}

/** A register of the request: what is known of it, and of which bits. */
interface Cell {
  value: number;
  mask: number;
}

const ALL = 0xffff;

/**
 * Carries out a planned write with what is known now: the release before or after it, whole registers in as few stretches as
 * are known, bits of a register so that its others stay as they are. How each piece ended is told with it.
 */
export async function writePieces(request: PlannedRequest, pieces: readonly Piece[], ask: Ask): Promise<Done[]> {
  const { release } = request;
  if (release?.when === 'before') {
    const outcome = await ask(releasing(release));
    if (outcome.kind !== 'written') return pieces.map((piece) => ({ piece, outcome }));
  }
  const done = request.partial ? await writeParts(request, pieces, ask) : await writeWhole(request, pieces, ask);
  if (release?.when !== 'after' || done.some(({ outcome }) => outcome.kind !== 'written')) return done;
  const outcome = await ask(releasing(release));
  return done.map(({ piece }) => ({ piece, outcome }));
}

/** Writes and reads in one transaction where every register is known; else what is known is written, and the read goes by itself. */
export async function exchangePieces(
  request: PlannedRequest,
  also: { offset: number; count: number },
  pieces: readonly Piece[],
  ask: Ask,
): Promise<{ done: Done[]; read: RequestResult }> {
  const { offset, count, table } = request;
  const cells = cellsOf(request, pieces);
  if (!cells.every(({ mask }) => mask === ALL)) {
    const done = await writePieces(request, pieces, ask);
    return { done, read: await ask({ functionCode: readFunction(table).code, ...also }) };
  }
  const read = await ask({ functionCode: READ_WRITE, offset, count, values: cells.map(({ value }) => value), also });
  return { done: inside(pieces, offset, count, read.kind === 'values' ? { kind: 'written' } : read), read };
}

function releasing({ functionCode, offset, values }: NonNullable<PlannedRequest['release']>): Write {
  return { functionCode, offset, count: values.length, values };
}

/** All bits of each register are known, or none. */
async function writeWhole(request: PlannedRequest, pieces: readonly Piece[], ask: Ask): Promise<Done[]> {
  const values = cellsOf(request, pieces).map(({ value, mask }) => (mask ? value : null));
  return writeKnown(request, values, pieces, ask);
}

async function writeKnown(
  request: PlannedRequest,
  values: readonly (number | null)[],
  pieces: readonly Piece[],
  ask: Ask,
): Promise<Done[]> {
  const done: Done[] = [];
  for (const run of writeRuns(values)) {
    const functionCode = codeToWrite(request.table, run.values.length, request);
    const outcome = await ask({ functionCode, offset: request.offset + run.at, count: run.values.length, values: run.values });
    done.push(...inside(pieces, request.offset + run.at, run.values.length, outcome));
  }
  return done;
}

async function writeParts(request: PlannedRequest, pieces: readonly Piece[], ask: Ask): Promise<Done[]> {
  const cells = cellsOf(request, pieces);
  if (request.partial === 'mask') {
    const done: Done[] = [];
    for (const [index, { value, mask }] of cells.entries()) {
      if (!mask) continue;
      const values = [~mask & ALL, value & mask];
      const outcome = await ask({ functionCode: request.functionCode, offset: request.offset + index, count: 1, values });
      done.push(...inside(pieces, request.offset + index, 1, outcome));
    }
    return worstOf(done);
  }
  if (cells.every(({ mask }) => mask === ALL)) return writeWhole(request, pieces, ask);
  const before = await ask({ functionCode: readFunction(request.table).code, offset: request.offset, count: request.count });
  if (before.kind !== 'values') return pieces.map((piece) => ({ piece, outcome: before }));
  const values = cells.map(({ value, mask }, index) => (mask ? (before.values[index]! & ~mask) | (value & mask) : null));
  return writeKnown(request, values, pieces, ask);
}

function cellsOf(request: PlannedRequest, pieces: readonly Piece[]): Cell[] {
  const cells = Array.from({ length: request.count }, (): Cell => ({ value: 0, mask: 0 }));
  for (const { offset, words, masks } of pieces) {
    for (const [index, word] of words.entries()) {
      const cell = cells[offset - request.offset + index]!;
      const mask = masks?.[index] ?? ALL;
      cell.value = (cell.value & ~mask) | (word & mask);
      cell.mask |= mask;
    }
  }
  return cells;
}

/** The pieces that lie in a stretch that was written. */
function inside(pieces: readonly Piece[], offset: number, count: number, outcome: RequestResult): Done[] {
  return pieces
    .filter((piece) => piece.offset < offset + count && piece.offset + piece.words.length > offset)
    .map((piece) => ({ piece, outcome }));
}

/** A piece over several registers is written only when each of them is. */
function worstOf(done: readonly Done[]): Done[] {
  const byPiece = new Map<Piece, Done>();
  for (const row of done) {
    const before = byPiece.get(row.piece);
    if (!before || before.outcome.kind === 'written') byPiece.set(row.piece, row);
  }
  return [...byPiece.values()];
}
