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
  pieces: readonly Piece[];
  outcome: RequestResult;
}

/** The registers of a request: what is known of each, and of which bits. */
interface Cells {
  values: number[];
  masks: number[];
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
    if (outcome.kind !== 'written') return [{ pieces, outcome }];
  }
  const done = request.partial ? await writeParts(request, pieces, ask) : await writeWhole(request, pieces, ask);
  if (release?.when !== 'after' || done.some(({ outcome }) => outcome.kind !== 'written')) return done;
  const outcome = await ask(releasing(release));
  return done.map(({ pieces: some }) => ({ pieces: some, outcome }));
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
  if (!areWhole(cells)) {
    const done = await writePieces(request, pieces, ask);
    return { done, read: await ask({ functionCode: readFunction(table).code, ...also }) };
  }
  const read = await ask({ functionCode: READ_WRITE, offset, count, values: cells.values, also });
  return { done: [{ pieces, outcome: read.kind === 'values' ? { kind: 'written' } : read }], read };
}

function releasing({ functionCode, offset, values }: NonNullable<PlannedRequest['release']>): Write {
  return { functionCode, offset, count: values.length, values };
}

/** All bits of each register are known, or none. */
async function writeWhole(request: PlannedRequest, pieces: readonly Piece[], ask: Ask): Promise<Done[]> {
  const { values, masks } = cellsOf(request, pieces);
  return writeKnown(
    request,
    values.map((value, index) => (masks[index] ? value : null)),
    pieces,
    ask,
  );
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
    done.push({ pieces: inside(pieces, request.offset + run.at, run.values.length), outcome });
  }
  return done;
}

async function writeParts(request: PlannedRequest, pieces: readonly Piece[], ask: Ask): Promise<Done[]> {
  const cells = cellsOf(request, pieces);
  if (request.partial === 'mask') {
    const done: Done[] = [];
    for (const [index, mask] of cells.masks.entries()) {
      if (!mask) continue;
      const values = [~mask & ALL, cells.values[index]! & mask];
      const outcome = await ask({ functionCode: request.functionCode, offset: request.offset + index, count: 1, values });
      done.push({ pieces: inside(pieces, request.offset + index, 1), outcome });
    }
    return worstOf(done);
  }
  if (areWhole(cells)) return writeWhole(request, pieces, ask);
  const before = await ask({ functionCode: readFunction(request.table).code, offset: request.offset, count: request.count });
  if (before.kind !== 'values') return [{ pieces, outcome: before }];
  const values = cells.masks.map((mask, index) => (mask ? (before.values[index]! & ~mask) | (cells.values[index]! & mask) : null));
  return writeKnown(request, values, pieces, ask);
}

function cellsOf(request: PlannedRequest, pieces: readonly Piece[]): Cells {
  const [values, masks] = [new Array<number>(request.count).fill(0), new Array<number>(request.count).fill(0)];
  for (const { offset, words, masks: own } of pieces) {
    for (let index = 0; index < words.length; index++) {
      const at = offset - request.offset + index;
      const mask = own?.[index] ?? ALL;
      values[at] = (values[at]! & ~mask) | (words[index]! & mask);
      masks[at]! |= mask;
    }
  }
  return { values, masks };
}

function areWhole({ masks }: Cells): boolean {
  return masks.every((mask) => mask === ALL);
}

/** The pieces that lie in a stretch that was written. */
function inside(pieces: readonly Piece[], offset: number, count: number): readonly Piece[] {
  const isInside = (piece: Piece) => piece.offset < offset + count && piece.offset + piece.words.length > offset;
  return pieces.every(isInside) ? pieces : pieces.filter(isInside);
}

/** A piece over several registers is written only when each of them is. */
function worstOf(done: readonly Done[]): Done[] {
  const byPiece = new Map<Piece, RequestResult>();
  for (const { pieces, outcome } of done) {
    for (const piece of pieces) if ((byPiece.get(piece)?.kind ?? 'written') === 'written') byPiece.set(piece, outcome);
  }
  return [...byPiece].map(([piece, outcome]) => ({ pieces: [piece], outcome }));
}
