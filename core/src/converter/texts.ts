import * as z from 'zod';
import { DeviceTelegram, Point, type ProjectDocument } from '../model/index.js';
import { isFar, telegramOf } from '../place/index.js';
import { isTextLine } from './converter-of.js';

const { projectId: _, note: _note, samples: _samples, ...carried } = DeviceTelegram.shape;

/** A telegram that goes over a text line, with the points that lie in it. */
export const CarriedTelegram = z.object({ ...carried, deviceName: z.string(), points: z.array(Point) });
export type CarriedTelegram = z.infer<typeof CarriedTelegram>;

/** What goes over each text line, by its id. */
export type Texts = Readonly<Record<string, CarriedTelegram[]>>;

export function textsOf({ lines, ports, devices, telegrams, points }: ProjectDocument): Texts {
  const names = new Map(devices.map(({ id, name }) => [id, name]));
  const byTelegram = new Map<string, Point[]>();
  for (const point of points) {
    const of = isFar(point.place) ? telegramOf(point.place) : null;
    if (of !== null) byTelegram.set(of, [...(byTelegram.get(of) ?? []), point]);
  }
  return Object.fromEntries(
    lines.filter(isTextLine).map((line) => {
      const here = new Set(ports.filter(({ lineId }) => lineId === line.id).map(({ deviceId }) => deviceId));
      const carried = telegrams
        .filter(({ deviceId }) => here.has(deviceId))
        .map(({ projectId, note, samples, ...telegram }): CarriedTelegram => ({
          ...telegram,
          deviceName: names.get(telegram.deviceId) ?? '',
          points: byTelegram.get(telegram.id) ?? [],
        }));
      return [line.id, carried];
    }),
  );
}
