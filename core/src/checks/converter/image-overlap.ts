import { defineCheck, fixOf } from '../../findings/index.js';
import { placeFar } from '../../placing/index.js';
import { type Point, pointWidth } from '../../model/index.js';

export const imageOverlap = defineCheck({
  id: 'image-overlap',
  severity: 'stop',
  scope: 'converter',
  doubts: true,
  meaning: 'Two values lie at the same place of a converter’s image.',
  find: ({ converter, far, own, document }) => {
    const at = new Map<string, Point>();
    const told = new Set<Point>();
    for (const point of [...own, ...far]) for (const cell of cellsOf(point)) if (!at.has(cell)) at.set(cell, point);
    return far.flatMap((point) => {
      const other = cellsOf(point)
        .flatMap((cell) => at.get(cell) ?? [])
        .find((row) => row !== point);
      if (!other || told.has(point)) return [];
      told.add(other);
      const placed = placeFar(document, point.deviceId, [point]);
      const { table, offset, bit } = placed.ok ? placed.value[0]! : point;
      return {
        message: `${converter.name}: ${point.name} and ${other.name} lie on one another at offset ${point.offset}.`,
        mend: placed.ok ? `Place ${point.name} at offset ${offset}.` : placed.problem.message,
        ...(placed.ok ? { fix: fixOf(`Place ${point.name} at offset ${offset}`, 'point', point, { table, offset, bit }) } : {}),
        about: [other.id],
        at: { entity: 'point' as const, id: point.id, field: 'offset' },
      };
    });
  },
});

/** The bits that a point takes, by table, register and bit. */
function cellsOf(point: Point): string[] {
  const { table, offset, bit } = point;
  const bits = bit === null ? Array.from({ length: 16 }, (_, at) => at) : [bit];
  return Array.from({ length: pointWidth(point) }, (_, index) => bits.map((at) => `${table} ${offset + index} ${at}`)).flat();
}
