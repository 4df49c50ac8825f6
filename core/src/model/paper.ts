import * as z from 'zod';
import { Id, isKept, Name, NOT_KEPT } from '../common/index.js';
import { checkPoint, type PointBody, pointFields } from './point.js';

/** A point as the manual of a device has it. */
export const PaperPoint = z
  .strictObject({
    ...pointFields,
    releasedBy: Name.nullable().default(null).describe('The point, by its name, that has to be set or what is written here is ignored'),
  })
  .superRefine(checkPoint);
export type PaperPoint = z.infer<typeof PaperPoint>;

/** A point of a map as papers have it: what is wanted of it in one plant is no part of them. */
export function asPaperPoint({ setting, ...body }: PointBody, releasedBy: string | null = null): PaperPoint {
  return { ...body, releasedBy };
}

/**
 * The papers of a device: its register map as its manual has it, kept apart from the map that the project works with. Proofs judge by
 * them, and a stand-in that plays the device by its map has their registers.
 */
export const Paper = z.strictObject({
  id: Id,
  projectId: Id,
  deviceId: Id,
  source: z
    .string()
    .refine(isKept, NOT_KEPT)
    .min(1, 'Say where they are from.')
    .max(200, 'At most 200 characters.')
    .describe('Where they are from'),
  points: z.array(PaperPoint).max(65_536),
});
export type Paper = z.infer<typeof Paper>;
