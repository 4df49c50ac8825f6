import { entryNumber, formatAddress, isBitTable, type Notation } from '@plain-envoy/core/address';
import { functionOf } from '@plain-envoy/core/frame';
import type { Strip } from '@plain-envoy/core/map';
import { type Device, pointWidth } from '@plain-envoy/core/model';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import type { TableRead } from './map-state';
import { viewsOf } from './words';

/** What is pointed at, and what is known of its table. */
export interface Pointed {
  strip: Strip;
  device: Device;
  notation: Notation;
  offset: number | null;
  /** The other end, where a span is marked. */
  mark: number | null;
  requests: readonly PlannedRequest[];
  read: TableRead | undefined;
}

/** A register in every notation, what lies there, what fetches it and what was read; or the span that is marked. */
export function wordsOf({ strip, device, notation, offset, mark, requests, read }: Pointed): string {
  if (offset === null)
    return `${strip.last - strip.first + 1} from offset ${strip.first} to ${strip.last}. Point at a register, or walk with the arrow keys.`;
  const place = (at: number) => formatAddress({ table: strip.table, offset: at }, notation, device.areas);
  const typed = (at: number) => entryNumber(at, device.entry);
  if (mark !== null && mark !== offset) {
    const [first, last] = [Math.min(mark, offset), Math.max(mark, offset)];
    const count = last - first + 1;
    return `${place(first)} to ${place(last)}: ${count} ${isBitTable(strip.table) ? 'bits' : 'registers'} (offset ${first} to ${last}). Into its package: first ${typed(first)}, last ${typed(last)}, count ${count}.`;
  }
  const notations = ['pdu', 'number', 'reference5', 'reference6', 'hex', ...(device.areas.length ? (['area'] as const) : [])] as const;
  const [pdu, number, ...others] = notations.map((each) => formatAddress({ table: strip.table, offset }, each, device.areas));
  const fetched = requests
    .filter((row) => offset >= row.offset && offset < row.offset + row.count)
    .map((row) => `${functionOf(row.functionCode)?.name} ${row.offset}…${row.offset + row.count - 1} every ${row.periodMs} ms`);
  const where = `Offset ${pdu} · number ${number} · ${[...new Set(others)].join(' · ')} · type ${typed(offset)}`;
  return [where, liesAt(strip, offset), ...fetched, heldAt(strip, offset, read)].filter(Boolean).join('. ') + '.';
}

function liesAt({ stretches }: Strip, offset: number): string {
  const stretch = stretches.find((row) => offset >= row.offset && offset < row.offset + row.count);
  const points = stretch?.points.filter((point) => offset >= point.offset && offset < point.offset + pointWidth(point)) ?? [];
  const here = points.map((point) => {
    if (pointWidth(point) > 1) return `${point.name} (${offset - point.offset + 1} of ${pointWidth(point)})`;
    return point.bit === null ? point.name : `bit ${point.bit} ${point.name}`;
  });
  if (here.length) return here.join(stretch?.kind === 'overlap' ? ' over ' : ', ');
  return stretch?.kind === 'forbidden' ? 'the device refuses this' : 'a hole';
}

function heldAt({ table }: Strip, offset: number, read: TableRead | undefined): string {
  if (read?.refused.has(offset)) return `refused: ${read.refused.get(offset)}`;
  const word = read?.words.get(offset);
  if (word === undefined) return '';
  const { decimal, signed, hex } = viewsOf(word, undefined);
  return `read: ${isBitTable(table) ? decimal : `${decimal} = ${signed} = ${hex} hex`}`;
}
