import * as z from 'zod';
import { DeviceTelegram, Point, type ProjectDocument } from '../model/index.js';
import { isFar, messageOf } from '../place/index.js';
import { isTextLine } from './converter-of.js';

const { projectId: _, note: _note, samples: _samples, ...carried } = DeviceTelegram.shape;

/** A telegram that goes over a text line, with the points that lie in it; `unit` is the place of its device among those on the line. */
export const CarriedTelegram = z.object({ ...carried, deviceName: z.string(), unit: z.int().min(1), points: z.array(Point) });
export type CarriedTelegram = z.infer<typeof CarriedTelegram>;

/** What goes over each text line, by its id. */
export type Texts = Readonly<Record<string, CarriedTelegram[]>>;

export function textsOf(document: ProjectDocument): Texts {
  return Object.fromEntries(document.lines.filter(isTextLine).map(({ id }) => [id, textsOn(document, id)]));
}

/** The same for one line. */
export function textsOn({ ports, devices, telegrams, points }: ProjectDocument, lineId: string): CarriedTelegram[] {
  const here = ports.filter((port) => port.lineId === lineId).map(({ deviceId }) => deviceId);
  const own = telegrams.filter(({ deviceId }) => here.includes(deviceId));
  if (own.length === 0) return [];
  const byTelegram = new Map(own.map(({ id }) => [id, [] as Point[]]));
  for (const point of points) if (isFar(point.place)) byTelegram.get(messageOf(point.place) ?? '')?.push(point);
  return own.map(({ projectId, note, samples, ...telegram }): CarriedTelegram => ({
    ...telegram,
    deviceName: devices.find(({ id }) => id === telegram.deviceId)?.name ?? '',
    unit: here.indexOf(telegram.deviceId) + 1,
    points: byTelegram.get(telegram.id)!,
  }));
}
