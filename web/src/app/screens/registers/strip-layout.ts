import type { Strip, Stretch } from '@plain-envoy/core/map';

/** One stretch of the strip where it is drawn. Holes are drawn shorter than they are. */
export interface Placed extends Stretch {
  x: number;
  width: number;
  /** Width of one register. */
  each: number;
}

export interface StripLayout {
  placed: Placed[];
  width: number;
}

const WIDEST = 16;
const NARROWEST = 3;
const LONGEST_HOLE = 40;

/** Puts the stretches side by side so that they fill `room`, as far as registers stay wide enough to be hit. */
export function layoutStrip({ stretches }: Strip, room: number): StripLayout {
  const filled = stretches.filter(isFilled).reduce((sum, { count }) => sum + count, 0);
  const gaps = stretches.filter((stretch) => !isFilled(stretch));
  const holes = gaps.reduce((sum, { count }) => sum + Math.min(count * WIDEST, LONGEST_HOLE), 0);
  const each = Math.max(NARROWEST, Math.min(WIDEST, Math.floor((room - holes) / Math.max(1, filled))));
  let x = 0;
  const placed = stretches.map((stretch): Placed => {
    const width = isFilled(stretch) ? stretch.count * each : Math.min(stretch.count * each, LONGEST_HOLE);
    // Written out: with tens of thousands of stretches, spreading each of them takes most of the time.
    const { kind, offset, count, points } = stretch;
    const at = { kind, offset, count, points, x, width, each: width / count };
    x += width;
    return at;
  });
  return { placed, width: x };
}

/** Where a register is drawn; null where it is outside the strip. */
export function xOf({ placed }: StripLayout, offset: number): { x: number; width: number } | null {
  const stretch = placed.find((row) => offset >= row.offset && offset < row.offset + row.count);
  return stretch ? { x: stretch.x + (offset - stretch.offset) * stretch.each, width: Math.max(stretch.each, 2) } : null;
}

/** Which register is drawn at a place. */
export function offsetAt({ placed }: StripLayout, x: number): number | null {
  const stretch = placed.find((row) => x >= row.x && x < row.x + row.width);
  return stretch ? stretch.offset + Math.min(stretch.count - 1, Math.floor((x - stretch.x) / stretch.each)) : null;
}

function isFilled({ kind }: Stretch): boolean {
  return kind === 'points' || kind === 'overlap';
}
