import type { Point, ProjectDocument } from '../model/index.js';
import { telegramOf } from '../place/index.js';
import { buildTelegram } from '../telegram/index.js';
import { encode, type Value } from '../value/index.js';
import { pointLayout } from '../model/index.js';
import { readSamples } from './samples.js';
import { fieldOfWords } from './value.js';

/**
 * Whether a value can be said in the field in which a point lies: it fits the field, and where samples are there is no longer than what
 * came. Of points that lie in no field all can.
 */
export function fieldHolds({ telegrams }: Pick<ProjectDocument, 'telegrams'>, point: Point, value: Value): boolean {
  const { place } = point;
  const telegram = telegrams.find(({ id }) => id === telegramOf(place));
  if (!telegram || place.kind !== 'field') return true;
  const field = telegram.telegram.fields.find(({ name }) => name === place.field);
  if (!field) return false;
  const layout = pointLayout(point);
  const words = layout ? encode(value, layout) : null;
  if (words && !words.ok) return false;
  const said = fieldOfWords(words?.ok ? words.value.words : [Number(value)], point);
  if (!said.ok) return false;
  const alone = buildTelegram({ silence: true, encoding: telegram.telegram.encoding, fields: [field] }, { [field.name]: said.value });
  if (!alone.ok) return false;
  const came = readSamples(telegram).flatMap(({ fields }) => fields.filter(({ name }) => name === field.name).map(({ raw }) => raw.length));
  return came.length === 0 || 'length' in field.at || String(said.value).length <= Math.max(...came);
}

/** How long what a device holds may take until it has left it: none but for what goes out in telegrams. */
export function leavesWithinMs({ telegrams }: Pick<ProjectDocument, 'telegrams'>, { place }: Point): number {
  const telegram = telegrams.find(({ id }) => id === telegramOf(place));
  if (!telegram || place.kind !== 'field') return 0;
  const { when } = telegram;
  return when.on === 'period' ? 2 * when.periodMs : when.on === 'change' ? (when.atLeastMs ?? 0) : telegram.lostAfterMs;
}
