import { isBitTable, tableNames } from '../../address/index.js';
import { defineCheck } from '../../findings/index.js';
import { type Point, pointWidth } from '../../model/index.js';
import { isFar } from '../../place/index.js';

/** Two points that lie on one register; single bits of a word may. */
export const sameRegister = defineCheck({
  id: 'same-register',
  severity: 'warning',
  scope: 'plan',
  doubts: true,
  meaning: 'Two points that routes use lie on one register.',
  find: ({ routes, look }) => {
    const used = new Map(routes.flatMap(({ row: { source, destination } }) => [source, destination]).map((point) => [point.id, point]));
    const at = new Map<string, Point>();
    const told = new Set<string>();
    return [...used.values()].flatMap((point) => {
      // Values behind a converter are judged with its image.
      if (isBitTable(point.table) || point.bit !== null || isFar(point.place)) return [];
      const cells = Array.from(
        { length: pointWidth(point) },
        (_, index) => `${look.askedAt(point.deviceId)} ${point.table} ${point.offset + index}`,
      );
      const other = cells.flatMap((cell) => at.get(cell) ?? []).find((row) => row.id !== point.id);
      for (const cell of cells) at.set(cell, point);
      const pair = other && [other.id, point.id].sort().join();
      if (!other || told.has(pair!)) return [];
      told.add(pair!);
      const device = look.device.get(point.deviceId)?.name ?? '';
      return {
        message: `${device}: ${other.name} (${span(other)}) and ${point.name} (${span(point)}) lie on one another in the ${tableNames[point.table].many}.`,
        mend: 'Look both up in the papers: one of them is at another offset, or narrower.',
        about: [other.id],
        at: { entity: 'point' as const, id: point.id, field: 'offset' },
      };
    });
  },
});

function span(point: Point): string {
  const width = pointWidth(point);
  return `${point.type}, offset ${point.offset}${width > 1 ? ` to ${point.offset + width - 1}` : ''}`;
}
