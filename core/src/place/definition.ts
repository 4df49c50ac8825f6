import type * as z from 'zod';

/**
 * A way in which a point lies somewhere. What its device calls that place is here; the table and offset that every point has are where
 * Modbus finds it: those of the device itself, or, for a device that speaks no Modbus, those of the converter before it.
 */
export interface PlaceKind<Kind extends string = string, Schema extends z.ZodObject = z.ZodObject> {
  kind: Kind;
  label: string;
  schema: Schema;
  /** The telegram that it is of; null where it is of none. */
  telegramOf(place: z.infer<Schema>): string | null;
  /** `field gross of Weighing`, where `telegram` is the name of its telegram. */
  words(place: z.infer<Schema>, telegram: string): string;
}

export function definePlace<const Kind extends string, Schema extends z.ZodObject>(kind: PlaceKind<Kind, Schema>): PlaceKind<Kind, Schema> {
  return kind;
}
