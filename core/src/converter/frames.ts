import * as z from 'zod';
import { DeviceFrame, Point, type ProjectDocument } from '../model/index.js';
import { isFar, messageOf } from '../place/index.js';

const { projectId: _, note: _note, ...carried } = DeviceFrame.shape;

/** A frame that goes over a line of CAN, with the points that lie in it. */
export const CarriedFrame = z.object({ ...carried, deviceName: z.string(), points: z.array(Point) });
export type CarriedFrame = z.infer<typeof CarriedFrame>;

/** What goes over each line of CAN, by its id. */
export type Frames = Readonly<Record<string, CarriedFrame[]>>;

export function framesOf(document: ProjectDocument): Frames {
  return Object.fromEntries(document.lines.flatMap(({ id, kind }) => (kind === 'can' ? [[id, framesOn(document, id)]] : [])));
}

/** The same for one line. */
export function framesOn({ ports, devices, frames, points }: ProjectDocument, lineId: string): CarriedFrame[] {
  const here = new Set(ports.filter((port) => port.lineId === lineId).map(({ deviceId }) => deviceId));
  const own = frames.filter(({ deviceId }) => here.has(deviceId));
  if (own.length === 0) return [];
  const byFrame = new Map(own.map(({ id }) => [id, [] as Point[]]));
  for (const point of points) if (isFar(point.place)) byFrame.get(messageOf(point.place) ?? '')?.push(point);
  return own.map(({ projectId, note, ...frame }): CarriedFrame => ({
    ...frame,
    deviceName: devices.find(({ id }) => id === frame.deviceId)?.name ?? '',
    points: byFrame.get(frame.id)!,
  }));
}
