import { busTime, type FrameTime } from '../can/index.js';
import { converterOf, farLineOf } from '../converter/index.js';
import { type DeviceFrame, type Point, pointLayout, type ProjectDocument } from '../model/index.js';
import { messageOf } from '../place/index.js';
import { encode, type Value } from '../value/index.js';
import { putSignal } from './signal-words.js';

/** The frames of a line of CAN that come again and again: how full they make it, 0 to 1, and how late each can be. */
export function timeOfBus({ ports, lines, frames }: ProjectDocument, lineId: string): { load: number; frames: FrameTime[] } {
  const line = lines.find(({ id }) => id === lineId);
  const here = new Set(ports.filter((port) => port.lineId === lineId).map(({ deviceId }) => deviceId));
  const timed = frames.flatMap((frame) => {
    const periodMs = periodOf(frame);
    return here.has(frame.deviceId) && periodMs !== null ? [{ ...frame, periodMs }] : [];
  });
  return busTime(line?.kind === 'can' ? line.bitrate : 1_000_000, timed);
}

/** Between how many ms a frame comes; null for one that only comes when something has changed, and for many that are passed whole. */
export function periodOf({ when, whole }: Pick<DeviceFrame, 'when' | 'whole'>): number | null {
  if (whole) return null;
  return when.on === 'period' ? when.periodMs : when.on === 'change' ? when.atLeastMs : null;
}

/** Longer than any frame or block. */
const MOST_BYTES = 512;

/** Whether a value fits the bits of a point. */
export function signalHolds(point: Point, value: Value): boolean {
  const layout = pointLayout(point);
  const words = layout ? encode(value, layout) : null;
  if (words && !words.ok) return false;
  // Whether a message is long enough for it is another question.
  return putSignal(new Uint8Array(MOST_BYTES), point, words?.ok ? words.value.words : [Number(value)]).ok;
}

/** How long what a device holds may take until a frame has carried it away. */
export function frameLeavesWithinMs(document: ProjectDocument, point: Point): number {
  const frame = frameOf(document, point);
  if (!frame) return 0;
  const { when, lostAfterMs } = frame;
  return when.on === 'period' ? 2 * when.periodMs : when.on === 'change' ? (when.atLeastMs ?? 0) : lostAfterMs;
}

/** How old a value of a frame that comes at a period is where it is read: until the next, on the bus, and in the converter. */
export function frameRefreshOf(document: ProjectDocument, point: Point): { meanMs: number; worstMs: number } | null {
  const frame = frameOf(document, point);
  if (frame?.direction !== 'sent' || frame.when.on !== 'period') return null;
  const { periodMs } = frame.when;
  const line = farLineOf(document, point.deviceId);
  const time = line && timeOfBus(document, line.id).frames.find(({ id }) => id === frame.id);
  const carriedMs = converterOf(document, point.deviceId)?.converter.image?.refreshMs ?? 0;
  return {
    meanMs: periodMs / 2 + (time?.worstMs ?? 0) + carriedMs / 2,
    worstMs: periodMs + (time?.worstResponseMs ?? 0) + carriedMs,
  };
}

function frameOf({ frames }: ProjectDocument, { place }: Point): DeviceFrame | undefined {
  return place.kind === 'signal' ? frames.find(({ id }) => id === messageOf(place)) : undefined;
}
