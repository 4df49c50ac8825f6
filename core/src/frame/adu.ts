import { crc16 } from './checksum.js';

/** A PDU on its way: to or from a unit. */
export interface Addressed {
  unit: number;
  pdu: Uint8Array;
}

export const MBAP_BYTES = 7;
export const MAX_RTU_BYTES = 256;
/** So few bytes are copied faster one by one. */
const FEW = 24;

/** RTU frame: unit, PDU, CRC low byte first (Modbus over serial line V1.02, 2.5.1). */
export function rtuFrame({ unit, pdu }: Addressed): Uint8Array {
  const frame = new Uint8Array(pdu.length + 3);
  frame[0] = unit;
  frame.set(pdu, 1);
  const crc = crc16(frame, 0, pdu.length + 1);
  frame[pdu.length + 1] = crc & 0xff;
  frame[pdu.length + 2] = crc >>> 8;
  return frame;
}

/** The unit and PDU of a whole RTU frame; null where its length or CRC is wrong. */
export function readRtuFrame(frame: Uint8Array): Addressed | null {
  const end = frame.length - 2;
  if (end < 2 || frame.length > MAX_RTU_BYTES) return null;
  if (crc16(frame, 0, end) !== (frame[end]! | (frame[end + 1]! << 8))) return null;
  return { unit: frame[0]!, pdu: frame.subarray(1, end) };
}

/** Modbus TCP frame: the seven bytes of the MBAP header, then the PDU (Messaging on TCP/IP V1.0b, 3.1.3). */
export function tcpFrame(transaction: number, addressed: Addressed): Uint8Array {
  return fillTcpFrame(new Uint8Array(MBAP_BYTES + addressed.pdu.length), transaction, addressed);
}

/** The same into bytes that the caller provides: exactly seven more than the PDU has, with whatever content. */
export function fillTcpFrame<T extends Uint8Array>(frame: T, transaction: number, { unit, pdu }: Addressed): T {
  const length = pdu.length + 1;
  frame[0] = transaction >>> 8;
  frame[1] = transaction & 0xff;
  frame[2] = 0;
  frame[3] = 0;
  frame[4] = length >>> 8;
  frame[5] = length & 0xff;
  frame[6] = unit;
  if (pdu.length > FEW) frame.set(pdu, MBAP_BYTES);
  else for (let at = 0; at < pdu.length; at++) frame[MBAP_BYTES + at] = pdu[at]!;
  return frame;
}
