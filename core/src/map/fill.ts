import { type Point, pointWidth } from '../model/index.js';

/**
 * Counts a name up by `step`: the last number in it is taken, and its width is kept.
 * Example: `countedName('Cable 1 T01', 3)` gives `Cable 1 T04`; a name without a number gets one.
 */
export function countedName(name: string, step: number): string {
  const parts = /(\d{1,80})(\D{0,80})$/.exec(name);
  if (!parts) return `${name} ${step + 1}`;
  const [, digits, after] = parts;
  const before = name.slice(0, parts.index);
  return `${before}${String(Number(digits) + step).padStart(digits!.length, '0')}${after}`;
}

/** Offsets for points that follow one another without gaps, each as wide as its type; bits of a register follow bit by bit. */
export function following(first: Pick<Point, 'offset' | 'bit'>, points: readonly Point[]): { offset: number; bit: number | null }[] {
  let { offset, bit } = first;
  return points.map((point) => {
    const place = { offset, bit: point.bit === null ? null : (bit ?? 0) };
    if (place.bit === null) {
      offset += pointWidth(point);
    } else {
      bit = (place.bit + 1) % 16;
      if (bit === 0) offset += 1;
    }
    return place;
  });
}
