import { canBeWritten, type Face, type Point, type Tile, type WatchItem } from '../model/index.js';
import { isNumeric } from '../types/index.js';

/** How wide a field of tiles is. */
export const TILE_COLUMNS = 12;

/** A face: what it is called, how large it is at first in fields of the grid, and which points it suits. */
interface FaceDefinition {
  label: string;
  cols: number;
  rows: number;
  suits(point: Point): boolean;
}

const isBit = ({ type }: Point) => type === 'bit';
const isNumber = ({ type }: Point) => isNumeric(type);
const hasCodes = ({ codes }: Point) => codes.length > 0;

/** In the order in which they are proposed: the first that suits a point is its own, until another is chosen. A new face is its line here. */
const definitions: Readonly<Record<Face, FaceDefinition>> = {
  switch: { label: 'switch', cols: 2, rows: 1, suits: (point) => isBit(point) && canBeWritten(point) },
  lamp: { label: 'lamp', cols: 2, rows: 1, suits: isBit },
  lamps: { label: 'lamps', cols: 3, rows: 2, suits: ({ type }) => type === 'bits' },
  selector: { label: 'selector', cols: 2, rows: 1, suits: (point) => hasCodes(point) && canBeWritten(point) },
  code: { label: 'code in words', cols: 2, rows: 1, suits: hasCodes },
  text: { label: 'text', cols: 3, rows: 1, suits: ({ type }) => type === 'string' },
  slider: { label: 'slider', cols: 3, rows: 1, suits: (point) => isNumber(point) && canBeWritten(point) },
  level: { label: 'level', cols: 2, rows: 1, suits: (point) => isNumber(point) && point.unit === '%' },
  number: { label: 'number', cols: 2, rows: 1, suits: isNumber },
  gauge: { label: 'gauge', cols: 2, rows: 2, suits: isNumber },
  trend: { label: 'trend', cols: 3, rows: 2, suits: isNumber },
};

/** The faces that suit a point, its own first; at least one. */
export function facesFor(point: Point): Face[] {
  const suiting = (Object.keys(definitions) as Face[]).filter((face) => definitions[face].suits(point));
  return suiting.length ? suiting : ['text'];
}

export function faceLabel(face: Face): string {
  return definitions[face].label;
}

/** Between what its value is drawn: as it was set, or 0 to 100. */
export function tileSpan({ low, high }: Tile): { low: number; high: number } {
  return low !== null && high !== null && high > low ? { low, high } : { low: 0, high: 100 };
}

/**
 * The tiles of a list, each with its face and its place in its group: those that were placed stay where they are, the others are put into
 * the first room that is free, row by row.
 */
export function tilesOf(items: readonly WatchItem[], pointOf: (item: WatchItem) => Point | undefined): (Tile | null)[] {
  const fields = new Map<string, Set<string>>();
  const take = ({ group, x, y, cols, rows }: Tile) => {
    const taken = fields.get(group) ?? new Set();
    fields.set(group, taken);
    for (let column = x; column < x + cols; column++) for (let row = y; row < y + rows; row++) taken.add(`${column} ${row}`);
  };
  const known = items.map((item) => {
    const point = pointOf(item);
    if (!point || !item.tile) return null;
    const [own] = facesFor(point);
    const tile = { ...item.tile, face: facesFor(point).includes(item.tile.face) ? item.tile.face : own! };
    take(tile);
    return tile;
  });
  return items.map((item, index) => {
    const point = pointOf(item);
    if (!point) return null;
    if (known[index]) return known[index];
    const [face] = facesFor(point);
    const { cols, rows } = definitions[face!];
    const tile: Tile = { face: face!, group: '', low: null, high: null, cols, rows, ...freePlace(fields.get('') ?? new Set(), cols, rows) };
    take(tile);
    return tile;
  });
}

function freePlace(taken: ReadonlySet<string>, cols: number, rows: number): { x: number; y: number } {
  for (let y = 0; ; y++) {
    for (let x = 0; x + cols <= TILE_COLUMNS; x++) {
      const isFree = Array.from({ length: cols * rows }, (_, at) => `${x + (at % cols)} ${y + Math.floor(at / cols)}`).every(
        (field) => !taken.has(field),
      );
      if (isFree) return { x, y };
    }
  }
}
