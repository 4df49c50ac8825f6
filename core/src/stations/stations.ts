import * as z from 'zod';
import { Id } from '../common/index.js';
import { TelecontrolLine, type TelecontrolPort } from '../media/index.js';
import { Point, type ProjectDocument } from '../model/index.js';
import { isFar } from '../place/index.js';

const End = z.object({
  portId: Id,
  deviceId: Id,
  name: z.string(),
  address: z.int(),
  ip: z.string(),
  /** Where its stand-in listens; empty where it is not said where it does. */
  loopback: z.string(),
  memory: z.int(),
  staleMs: z.int().nullable(),
});

/** A control station and one of its outstations, with the points between them; an end that is not drawn is Plain Envoy itself. */
export const CarriedStation = z.object({
  line: TelecontrolLine,
  control: End.nullable(),
  outstation: End.nullable(),
  points: z.array(Point),
  /** Where Plain Envoy listens among the stand-ins, where it is the outstation. */
  loopback: z.string(),
});
export type CarriedStation = z.infer<typeof CarriedStation>;

/** What goes over each line of telecontrol, by its id. */
export type Stations = Readonly<Record<string, CarriedStation[]>>;

export function stationsOf(document: ProjectDocument): Stations {
  return Object.fromEntries(document.lines.flatMap(({ id, kind }) => (kind === 'telecontrol' ? [[id, stationsOn(document, id)]] : [])));
}

/**
 * The pairs of one line: its control station with each outstation. The points are those of the end that speaks no Modbus; those of a control
 * station are carried by its first outstation. A standard that does not go over TCP has none.
 */
export function stationsOn({ lines, ports, devices, points }: ProjectDocument, lineId: string): CarriedStation[] {
  const line = lines.find(({ id }) => id === lineId);
  if (line?.kind !== 'telecontrol' || line.standard === 'iec60870-5-101') return [];
  const ends = (isControl: boolean) =>
    ports.flatMap((port) => {
      const device = devices.find(({ id }) => id === port.deviceId);
      const isHere = port.kind === 'telecontrol' && port.lineId === lineId && (port.role === 'asks') === isControl;
      return isHere && device ? [endOf(port, device.name)] : [];
    });
  const pointsOf = (end: z.infer<typeof End> | null) => points.filter(({ deviceId, place }) => deviceId === end?.deviceId && isFar(place));
  const [control = null] = ends(true);
  const outstations = ends(false);
  const before = lines.filter(({ kind }) => kind === 'telecontrol').findIndex(({ id }) => id === lineId);
  const loopback = `127.0.3.${(before % LAST_HOST) + 1}`;
  if (outstations.length === 0) return control ? [{ line, control, outstation: null, points: pointsOf(control), loopback }] : [];
  return outstations.map((outstation, index) => ({
    ...{ line, control, outstation, loopback },
    points: [...pointsOf(outstation), ...(index === 0 ? pointsOf(control) : [])],
  }));
}

const LAST_HOST = 254;

function endOf({ id, deviceId, address, ip, memory, staleMs }: TelecontrolPort, name: string): z.infer<typeof End> {
  return { portId: id, deviceId, name, address, ip, loopback: ip.replace(/^\d+/, '127'), memory, staleMs };
}
