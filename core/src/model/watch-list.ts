import * as z from 'zod';
import { Id, Name } from '../common/index.js';

/** How the registers of a watched point are written. */
export const Radix = z.enum(['decimal', 'signed', 'hex', 'binary', 'text']);
export type Radix = z.infer<typeof Radix>;

/** How a watched point is drawn as a tile. */
export const Face = z.enum(['switch', 'lamp', 'lamps', 'selector', 'code', 'text', 'slider', 'level', 'number', 'gauge', 'trend']);
export type Face = z.infer<typeof Face>;

/** A tile: its face, its place and size in the fields of its group, and between what its value is drawn. */
export const Tile = z
  .strictObject({
    face: Face,
    group: z.string().max(60, 'At most 60 characters.'),
    x: z.int().min(0).max(11),
    y: z.int().min(0).max(999),
    cols: z.int().min(1).max(12),
    rows: z.int().min(1).max(12),
    low: z.number('A number.').nullable(),
    high: z.number('A number.').nullable(),
  })
  .refine(({ x, cols }) => x + cols <= 12, 'It is wider than the field, which has 12 columns.');
export type Tile = z.infer<typeof Tile>;

/** A point, or a route with both its ends. */
export const WatchItem = z.strictObject({
  of: z.enum(['point', 'route']),
  id: Id,
  radix: Radix.nullable().describe('None: as the list has it'),
  tile: Tile.optional(),
});
export type WatchItem = z.infer<typeof WatchItem>;

/** What somebody wants to look at, in order, by a name. */
export const WatchList = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  radix: Radix,
  items: z.array(WatchItem).max(5000, 'At most 5000 rows.'),
});
export type WatchList = z.infer<typeof WatchList>;
