import { inquiryOf } from '@plain-envoy/core/codec';
import { functionOf, ILLEGAL_DATA_ADDRESS, ILLEGAL_DATA_VALUE, ILLEGAL_FUNCTION } from '@plain-envoy/core/frame';
import { isBitTable, type Table } from '@plain-envoy/core/address';
import type { Device } from '@plain-envoy/core/model';
import { exception } from '@plain-envoy/engine/server';

interface Span {
  table: Table;
  first: number;
  count: number;
  isWrite: boolean;
}

/** The exception by which a device refuses what it is said not to have, or not to take; null where it does what is asked. */
export function refusalOf(device: Device, pdu: Uint8Array): Uint8Array | null {
  const code = pdu[0] ?? 0;
  const known = functionOf(code);
  if ((known ?? inquiryOf(code)) && !device.functionCodes.includes(code)) return exception(code, ILLEGAL_FUNCTION);
  if (!known || pdu.length < 5) return null;
  const spans = spansOf(pdu);
  if (spans.some(({ table, count, isWrite }) => count > mostOf(device, table, isWrite))) return exception(code, ILLEGAL_DATA_VALUE);
  const isClosed = ({ table, first, count }: Span) =>
    device.forbidden.some((closed) => closed.table === table && closed.first < first + count && closed.last >= first);
  return spans.some(isClosed) ? exception(code, ILLEGAL_DATA_ADDRESS) : null;
}

/** The registers or bits that a request writes. */
export function writtenBy(pdu: Uint8Array): Span[] {
  return functionOf(pdu[0] ?? 0) && pdu.length >= 5 ? spansOf(pdu).filter(({ isWrite }) => isWrite) : [];
}

/** The registers or bits that a request reaches; an exchange reads some and writes others. */
function spansOf(pdu: Uint8Array): Span[] {
  const { table, kind } = functionOf(pdu[0]!)!;
  const wordAt = (at: number) => ((pdu[at] ?? 0) << 8) | (pdu[at + 1] ?? 0);
  const [first, fourth] = [wordAt(1), wordAt(3)];
  if (kind === 'read') return [{ table, first, count: fourth, isWrite: false }];
  if (kind === 'write-many') return [{ table, first, count: fourth, isWrite: true }];
  if (kind !== 'exchange') return [{ table, first, count: 1, isWrite: true }];
  return [
    { table, first, count: fourth, isWrite: false },
    { table, first: wordAt(5), count: wordAt(7), isWrite: true },
  ];
}

function mostOf(device: Device, table: Table, isWrite: boolean): number {
  if (isBitTable(table)) return isWrite ? device.maxWriteBits : device.maxReadBits;
  return isWrite ? device.maxWriteWords : device.maxReadWords;
}
