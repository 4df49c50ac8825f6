import type { LossEffect, LostValue, LostWhen, Trip } from './lost-when.js';

const words: Readonly<Record<LossEffect, string>> = {
  substituted: 'becomes',
  marked: 'stands still, marked by',
  tells: 'tells it:',
  'stands still': 'stands still, unmarked',
  'not written': 'is not written any more',
};

/** What becomes of a value, in words: `stands still, marked by Kiln controller Turner position is valid`. */
export function effectText({ effect, by }: LostValue): string {
  if (effect === 'not written' && by) return `is not written any more, and ${by}`;
  return by ? `${words[effect]} ${by}` : words[effect];
}

/** `at once`, or `after 4 to 6 s`. */
export function afterText({ fromMs, toMs }: Pick<LostValue, 'fromMs' | 'toMs'>): string {
  const seconds = (ms: number) => String(Math.round(ms / 100) / 10);
  return fromMs === 0 ? `within ${seconds(toMs)} s` : `after ${seconds(fromMs)} to ${seconds(toMs)} s`;
}

/** `Fan drive north trips after 3 s, by Command word.` */
export function tripText({ device, afterMs, by }: Trip): string {
  return `${device} trips after ${afterMs / 1000} s, by ${by}.`;
}

/** Everything that is to be seen when something fails, a sentence each. */
export function lossSentences({ lost, trips }: Pick<LostWhen, 'lost' | 'trips'>): string[] {
  return [...lost.map((row) => `${row.destination} ${effectText(row)}, ${afterText(row)}.`), ...trips.map(tripText)];
}

/** The same as a table: a row for each value that is lost, and for each device that trips. */
export function lossCells(all: readonly LostWhen[]): { head: string[]; cells: string[][] } {
  return {
    head: ['When this fails', 'Kind', 'Value', 'Route', 'What becomes of it', 'After'],
    cells: all.flatMap(({ failing, lost, trips }) => [
      ...lost.map((row) => [failing.name, failing.kind, row.destination, row.route, effectText(row), afterText(row)]),
      ...trips.map(({ device, by, afterMs }) => [failing.name, failing.kind, device, '', `trips by ${by}`, `after ${afterMs / 1000} s`]),
    ]),
  };
}
