import * as z from 'zod';
import { field } from './field.js';
import { register } from './register.js';
import { telegramState } from './telegram-state.js';

/** Every way in which a point lies somewhere. A new one is a file of its own and its name here. */
export const placeKinds = [register, field, telegramState] as const;

/** Where a point lies. */
export const PointPlace = z.discriminatedUnion('kind', [register.schema, field.schema, telegramState.schema]);
export type PointPlace = z.infer<typeof PointPlace>;

/** A place that is not a register of the device itself: what it speaks is no Modbus. */
export type FarPlace = Exclude<PointPlace, { kind: 'register' }>;

export const atRegister: PointPlace = { kind: 'register' };

export function isFar(place: PointPlace): place is FarPlace {
  return place.kind !== 'register';
}

/** The telegram that a place is of; null where it is of none. */
export function telegramOf(place: PointPlace): string | null {
  return definitionOf(place).telegramOf(place as never);
}

/** `field gross of Weighing`. */
export function placeWords(place: PointPlace, telegram: string): string {
  return definitionOf(place).words(place as never, telegram);
}

function definitionOf({ kind }: PointPlace) {
  return placeKinds.find((one) => one.kind === kind)!;
}
