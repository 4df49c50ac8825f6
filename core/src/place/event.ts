import * as z from 'zod';
import { namesOf } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** Sorts of points of a telecontrol station, in the order in which they are offered; commands go to the outstation, all others come from it. */
export const eventSorts = [
  { name: 'single', label: 'Single bit', isCommand: false },
  { name: 'double', label: 'Double bit', isCommand: false },
  { name: 'normalised', label: 'Measured value, normalised', isCommand: false },
  { name: 'scaled', label: 'Measured value, scaled', isCommand: false },
  { name: 'float', label: 'Measured value, floating point', isCommand: false },
  { name: 'counter', label: 'Counter', isCommand: false },
  { name: 'command', label: 'Command', isCommand: true },
  { name: 'double command', label: 'Double command', isCommand: true },
  { name: 'set normalised', label: 'Set point, normalised', isCommand: true },
  { name: 'set scaled', label: 'Set point, scaled', isCommand: true },
  { name: 'set float', label: 'Set point, floating point', isCommand: true },
] as const;
export const EventSort = z.enum(namesOf(eventSorts));
export type EventSort = z.infer<typeof EventSort>;

export const LAST_INDEX = 16_777_215;
const Ms = z.int('A whole number of milliseconds.').min(10, 'At least 10 ms.').max(86_400_000, 'At most a day.').nullable().default(null);

/** A point of a telecontrol station. */
export const event = definePlace({
  kind: 'event',
  label: 'Point of a telecontrol station',
  schema: z.strictObject({
    kind: z.literal('event'),
    sort: EventSort,
    index: z
      .int('A whole number.')
      .min(0, 'Counts from 0.')
      .max(LAST_INDEX, 'An object address has at most three octets.')
      .describe('Index in IEEE 1815, object address in IEC 60870-5-104'),
    part: z.enum(['value', 'good']).default('value').describe('Its value, or whether that is good'),
    eventClass: z.int('A whole number.').min(0, 'Classes 0 to 3.').max(3, 'Classes 0 to 3.').default(1).describe('0: no event'),
    threshold: z
      .number('A number.')
      .min(0, 'Not below 0.')
      .default(0)
      .describe('By how much a measured value has to change, in its unit; 0: each change is told'),
    periodMs: Ms.describe('IEC 60870-5-104: it is told again after so long; none: only when it changes'),
    withTime: z.boolean().default(true).describe('Events have the time at which they happened'),
    selectFirst: z.boolean().default(false).describe('A command that has to be selected before'),
    pulseMs: Ms.describe('A command that is a pulse of so many ms; none: it stays'),
    pinned: Pinned,
  }),
  partOf: null,
  messageOf: () => null,
  directionOf: ({ sort }, asks) => (commands(sort) === asks ? 'sent' : 'taken'),
  isTold: false,
  inMessage: (place) => place,
  words: ({ sort, index, part }) => `${part === 'good' ? 'quality of ' : ''}${labelOf(sort).toLowerCase()} ${index}`,
});
export type EventPlace = z.infer<typeof event.schema>;

export function labelOf(sort: EventSort): string {
  return eventSorts.find(({ name }) => name === sort)!.label;
}

/** Whether it goes to the outstation. */
export function commands(sort: EventSort): boolean {
  return eventSorts.find(({ name }) => name === sort)!.isCommand;
}
