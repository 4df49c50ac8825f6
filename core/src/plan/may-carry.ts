import { type Device, type Point, pointWidth } from '../model/index.js';
import { type PointToCarry, whyNot } from './plan-points.js';

/** Why a point cannot be read by one request of its device; null where it can. */
export function whyNotRead(point: Point, device: Device): string | null {
  const last = point.offset + pointWidth(point) - 1;
  const closed = device.forbidden.find((span) => span.table === point.table && span.first <= last && span.last >= point.offset);
  if (closed) return `the device refuses offsets ${closed.first} to ${closed.last}, and the point lies in them.`;
  return whyNot(asCarried(point, false), device);
}

/** Why a point cannot be written by one request of its device; null where it can. */
export function whyNotWritten(point: Point, device: Device): string | null {
  if (point.access === 'read') return `${point.name} may only be read.`;
  return whyNot(asCarried(point, true), device);
}

function asCarried(point: Point, write: boolean): PointToCarry {
  return { id: point.id, table: point.table, offset: point.offset, length: pointWidth(point), write };
}
