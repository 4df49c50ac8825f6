import { type Found, fixOf, onRoute } from '../../findings/index.js';
import { type Point, pointLayout } from '../../model/index.js';
import type { ValidRoute } from '../../plan/index.js';
import { typeOf } from '../../types/index.js';
import type { Layout } from '../../value/index.js';

/** How the two ends of a route are laid out whose registers cross as they are; null where a value crosses, or bits. */
export function layoutsOf({ route, source, destination }: ValidRoute): { from: Layout; to: Layout; isOfBits: boolean } | null {
  const [from, to] = [pointLayout(source), pointLayout(destination)];
  if (route.carry !== 'registers' || !from || !to) return null;
  return { from, to, isOfBits: [from, to].some(({ type }) => typeOf(type).kind === 'bits') };
}

/** What differs between the two ends of registers that cross as they are. */
export function differing(row: ValidRoute, message: string, fields: readonly (keyof Point)[]): Found[] {
  const { source, destination } = row;
  const like = (one: Point, other: Point) => fixOf(`Let ${one.name} be as ${other.name} is`, 'point', one, pick(other, fields));
  return [
    {
      message: `its registers cross as they are, but ${message}.`,
      mend: 'Carry the value instead of the registers, or correct one of the two points.',
      fixes: [fixOf('Carry the value', 'route', row.route, { carry: 'value' }), like(destination, source), like(source, destination)],
      at: onRoute(row, 'carry'),
    },
  ];
}

function pick(point: Point, fields: readonly (keyof Point)[]): Partial<Point> {
  return Object.fromEntries(fields.map((field) => [field, point[field]]));
}
