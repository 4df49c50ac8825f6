import type * as z from 'zod';

/**
 * A way in which a point lies somewhere. What its device calls that place is here; the table and offset that every point has are where
 * Modbus finds it: those of the device itself, or, for a device that speaks no Modbus, those of the converter before it.
 */
export interface PlaceKind<Kind extends string = string, Schema extends z.ZodObject = z.ZodObject> {
  kind: Kind;
  label: string;
  schema: Schema;
  /** Of what it is a part; null for what is none. */
  partOf: 'telegram' | 'frame' | null;
  /** The telegram or frame that it is of; null where it is of none. */
  messageOf(place: z.infer<Schema>): string | null;
  /**
   * Which way its values go, where the place itself says it: out of the far device, or to it; null where its telegram or frame does.
   * `asks` says whether its device is the end that asks.
   */
  directionOf(place: z.infer<Schema>, asks: boolean): 'sent' | 'taken' | null;
  /** What is not said by its device, but told of it by whoever hears it. */
  isTold: boolean;
  /** The same in another telegram or frame. */
  inMessage(place: z.infer<Schema>, id: string): z.infer<Schema>;
  /** `field gross of Weighing`, where `message` is the name of its telegram or frame. */
  words(place: z.infer<Schema>, message: string): string;
}

export function definePlace<const Kind extends string, Schema extends z.ZodObject>(kind: PlaceKind<Kind, Schema>): PlaceKind<Kind, Schema> {
  return kind;
}
