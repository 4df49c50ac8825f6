import * as z from 'zod';
import { cyclic } from './cyclic.js';
import { event } from './event.js';
import { field } from './field.js';
import { frameState } from './frame-state.js';
import { linkState } from './link-state.js';
import { record } from './record.js';
import { register } from './register.js';
import { signal } from './signal.js';
import { stationState } from './station-state.js';
import { telegramState } from './telegram-state.js';

/** Every way in which a point lies somewhere. A new one is a file of its own and its name here. */
export const placeKinds = [register, field, telegramState, signal, frameState, record, cyclic, linkState, event, stationState] as const;

/** Where a point lies. */
export const PointPlace = z.discriminatedUnion('kind', [
  register.schema,
  field.schema,
  telegramState.schema,
  signal.schema,
  frameState.schema,
  record.schema,
  cyclic.schema,
  linkState.schema,
  event.schema,
  stationState.schema,
]);
export type PointPlace = z.infer<typeof PointPlace>;

/** A place that is not a register of the device itself: what it speaks is no Modbus. */
export type FarPlace = Exclude<PointPlace, { kind: 'register' }>;

export const atRegister: PointPlace = { kind: 'register' };

export function isFar(place: PointPlace): place is FarPlace {
  return place.kind !== 'register';
}

/** Of what a place is a part: of a telegram, or a frame; null for one that is a register. */
export function partOf(place: PointPlace): 'telegram' | 'frame' | null {
  return definitionOf(place).partOf;
}

/** Whether it is not said by its device, but told of it by whoever hears it. */
export function isTold(place: PointPlace): boolean {
  return definitionOf(place).isTold;
}

/** What is told where values come, and not for too long a time do not. */
const VALID: ReadonlySet<string> = new Set(['valid', 'connected']);

/** Whether it tells that the values beside it are good. */
export function tellsValid(place: PointPlace): boolean {
  return isTold(place) && 'state' in place && VALID.has(place.state);
}

/** The telegram or frame that a place is of; null where it is of none. */
export function messageOf(place: PointPlace): string | null {
  return definitionOf(place).messageOf(place as never);
}

/** Whether its bytes lie in an image as they came, whatever side lays them. */
export function isRaw(place: PointPlace): boolean {
  return place.kind === 'record' && place.part === 'data';
}

/** Which way its values go, where the place itself says it; null where its telegram or frame does. `asks`: its device is the end that asks. */
export function directionIn(place: PointPlace, asks: boolean): 'sent' | 'taken' | null {
  return definitionOf(place).directionOf(place as never, asks);
}

/** The same place, where its telegram or frame has another id now. */
export function inRenamed(place: PointPlace, renamed: ReadonlyMap<string, string>): PointPlace {
  const message = messageOf(place);
  return definitionOf(place).inMessage(place as never, renamed.get(message ?? '') ?? message ?? '');
}

/** `field gross of Weighing`. */
export function placeWords(place: PointPlace, message: string): string {
  return definitionOf(place).words(place as never, message);
}

function definitionOf({ kind }: PointPlace) {
  return placeKinds.find((one) => one.kind === kind)!;
}
