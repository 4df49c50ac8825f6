import { converterOf, farLineOf } from '../converter/index.js';
import type { TelecontrolLine } from '../media/index.js';
import { type Point, pointLayout, type ProjectDocument } from '../model/index.js';
import { good } from '../outcome/index.js';
import { commands } from '../place/index.js';
import { encode, type Value } from '../value/index.js';
import { isEventPoint, saysSame } from './values.js';

/** Between how many ms an end looks whether a value has changed. */
export const LOOKS_EVERY_MS = 20;
/** What a frame takes on a network that is not overloaded. */
const ON_THE_NET_MS = 20;

/** How long what one end holds may take until the other has it, both well and connected. */
function eventArrivesWithinMs(line: TelecontrolLine, point: Point): number {
  if (!isEventPoint(point)) return 0;
  if (commands(point.place.sort)) return LOOKS_EVERY_MS + (point.place.selectFirst ? 4 : 2) * ON_THE_NET_MS;
  const asked = line.standard === 'ieee1815' ? (point.place.eventClass === 0 ? line.allEveryMs : (line.eventsEveryMs ?? 0)) : 0;
  return asked + LOOKS_EVERY_MS + ON_THE_NET_MS;
}

export function eventLeavesWithinMs(document: ProjectDocument, point: Point): number {
  const line = lineOf(document, point);
  return line ? eventArrivesWithinMs(line, point) : 0;
}

/** How old a value is where it is read: from the far end, over the link, and in the converter. */
export function eventRefreshOf(document: ProjectDocument, point: Point): { meanMs: number; worstMs: number } | null {
  const line = lineOf(document, point);
  if (!line || !isEventPoint(point)) return null;
  const carriedMs = converterOf(document, point.deviceId)?.converter.image?.refreshMs ?? 0;
  const worstMs = eventArrivesWithinMs(line, point) + carriedMs;
  return { meanMs: worstMs / 2, worstMs };
}

/** Whether a value comes over the link as it is. */
export function eventHolds(document: ProjectDocument, point: Point, value: Value): boolean {
  const line = lineOf(document, point);
  if (!line || !isEventPoint(point)) return true;
  const layout = pointLayout(point);
  const words = layout ? encode(value, layout) : good({ words: [Number(value)] });
  return words.ok && saysSame(line.standard, point, words.value.words);
}

function lineOf(document: ProjectDocument, { deviceId }: Point): TelecontrolLine | null {
  const line = farLineOf(document, deviceId);
  return line?.kind === 'telecontrol' ? line : null;
}
