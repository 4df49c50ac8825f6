import { type Point, pointLayout, type ProjectDocument } from '../model/index.js';
import { messageOf } from '../place/index.js';
import { buildTelegram } from '../telegram-text/index.js';
import { encode, type Value } from '../value/index.js';
import { characterMs, settingsOf } from '../line/index.js';
import { converterOf, farLineOf } from '../converter/index.js';
import { readSamples } from './samples.js';
import { fieldOfWords } from './value.js';

/**
 * Whether a value can be said in the field in which a point lies: it fits the field, and where samples are there is no longer than what
 * came. Of points that lie in no field all can.
 */
export function fieldHolds({ telegrams }: Pick<ProjectDocument, 'telegrams'>, point: Point, value: Value): boolean {
  const { place } = point;
  const telegram = telegrams.find(({ id }) => id === messageOf(place));
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
  const came = readSamples(telegram).flatMap(({ fields }) =>
    fields.filter(({ name }) => name === field.name).map(({ raw }) => figures(raw)),
  );
  const [written = ''] = 'separator' in field.at ? alone.value.text.split(field.at.separator).slice(-1) : [alone.value.text];
  return came.length === 0 || 'length' in field.at || figures(written) <= Math.max(...came);
}

/** How long a value is without its sign. */
function figures(written: string): number {
  return written.trim().replace(/^[+-]/, '').length;
}

/** How long what a device holds may take until it has left it: none but for what goes out in telegrams. */
export function leavesWithinMs({ telegrams }: Pick<ProjectDocument, 'telegrams'>, { place }: Point): number {
  const telegram = telegrams.find(({ id }) => id === messageOf(place));
  if (!telegram || place.kind !== 'field') return 0;
  const { when } = telegram;
  return when.on === 'period' ? 2 * when.periodMs : when.on === 'change' ? (when.atLeastMs ?? 0) : telegram.lostAfterMs;
}

/** How old a value of a telegram that comes at a period is where it is read: until the next, on the line, and in the converter. */
export function refreshOf(document: ProjectDocument, { place, deviceId }: Point): { meanMs: number; worstMs: number } | null {
  const telegram = document.telegrams.find(({ id }) => id === messageOf(place));
  if (!telegram || place.kind !== 'field' || telegram.direction !== 'sent' || telegram.when.on !== 'period') return null;
  const { periodMs } = telegram.when;
  const line = farLineOf(document, deviceId);
  const characters = telegram.telegram.length ?? Math.max(0, ...readSamples(telegram).map(({ bytes }) => bytes));
  const onLineMs = line?.kind === 'serial' ? characters * characterMs(settingsOf(line)) : 0;
  const carriedMs = converterOf(document, deviceId)?.converter.image?.refreshMs ?? 0;
  return { meanMs: periodMs / 2 + onLineMs + carriedMs / 2, worstMs: periodMs + onLineMs + carriedMs };
}
