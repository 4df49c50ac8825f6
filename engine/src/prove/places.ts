import { type Point, pointWidth } from '@plain-envoy/core/model';

/** Whether what is written to the one replaces the other. */
export function isOnePlace(a: Point, b: Point): boolean {
  return share(a, b) && (a.bit === null || b.bit === null || a.bit === b.bit);
}

/** Whether two points have a register of one device in common. */
export function share(a: Point, b: Point): boolean {
  const within = a.offset < b.offset + pointWidth(b) && b.offset < a.offset + pointWidth(a);
  return a.deviceId === b.deviceId && a.table === b.table && within;
}
