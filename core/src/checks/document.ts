import { timeOfBus } from '../can-line/index.js';
import { askedFor, farLineOf, framesOn, linkOn } from '../converter/index.js';
import { stationsOn } from '../stations/index.js';
import { isFar, messageOf } from '../place/index.js';
import { busesOf, type ErrandPlace, type Finding, type Scopes } from '../findings/index.js';
import type { LineKind } from '../media/index.js';
import { type Point, pointsOfErrand, type ProjectDocument } from '../model/index.js';
import { runChecks } from './run.js';

type Clients = ReadonlyMap<string, number>;

/** Everything that is or will be wrong with the lines of a project. `clients` says for a device how many carriers of the plan connect to it. */
export function checkLines(document: Pick<ProjectDocument, 'lines' | 'devices' | 'ports'>, clients: Clients): Finding[] {
  return busesOf(document).flatMap((bus) => runChecks(bus.line.kind, { ...bus, clients } as Scopes[LineKind]));
}

/** What looks wrong in a register map by itself. A controller's memory is what others put into it, and is not judged. */
export function checkMaps({ devices, points }: Pick<ProjectDocument, 'devices' | 'points'>): Finding[] {
  const byDevice = new Map<string, Point[]>(devices.map(({ id }) => [id, []]));
  for (const point of points) byDevice.get(point.deviceId)?.push(point);
  return devices
    .filter(({ kind }) => kind !== 'controller')
    .flatMap(({ id, name }) => runChecks('map', { device: name, points: byDevice.get(id)! }));
}

/** What is wrong with converters and with the telegrams of the devices behind them. */
export function checkConverters(document: ProjectDocument): Finding[] {
  const { devices, lines, ports, points, telegrams } = document;
  const converters = devices.filter(({ kind, image }) => kind === 'converter' || image !== null);
  if (converters.length === 0 && telegrams.length === 0) return [];
  const askedAt = askedFor(document);
  const farPoints = points.filter(({ place }) => isFar(place));
  const sideName = (lineId: string) => lines.find(({ id }) => id === lineId)?.name ?? 'A line that is gone';
  const sideOf = ({ deviceId }: Point) => farLineOf(document, deviceId)?.name ?? 'its line';
  return [
    ...converters.flatMap((converter) => {
      const far = farPoints.filter(({ deviceId }) => askedAt(deviceId) === converter.id);
      const own = points.filter(({ deviceId }) => deviceId === converter.id);
      return runChecks('converter', { converter, far, own, document, sideName, sideOf });
    }),
    ...telegrams.flatMap((telegram) => {
      const device = devices.find(({ id }) => id === telegram.deviceId);
      const port = ports.find(({ deviceId }) => deviceId === telegram.deviceId);
      const line = lines.find(({ id }) => id === port?.lineId) ?? null;
      const own = farPoints.filter(({ place }) => messageOf(place) === telegram.id);
      return runChecks('telegram', { telegram, device: device?.name ?? '', line, points: own, others: telegrams });
    }),
  ];
}

/** What is wrong with the frames on lines of CAN. */
export function checkFrames(document: ProjectDocument): Finding[] {
  return document.lines.flatMap((line) => {
    const frames = line.kind === 'can' ? framesOn(document, line.id) : [];
    return frames.length ? runChecks('frames', { line, frames, time: timeOfBus(document, line.id), document }) : [];
  });
}

/** What is wrong with the blocks of cyclic links. */
export function checkLinks(document: ProjectDocument): Finding[] {
  return document.lines.flatMap((line) => {
    const link = linkOn(document, line.id);
    return link ? runChecks('link', { link, document }) : [];
  });
}

/** What is wrong with the points of telecontrol stations. */
export function checkStations(document: ProjectDocument): Finding[] {
  return document.lines.flatMap(({ id }) => stationsOn(document, id).flatMap((station) => runChecks('stations', { station, document })));
}

/** What keeps errands from running to their ends, or undoes what they do. */
export function checkErrands({
  devices,
  errands,
  points,
  routes,
}: Pick<ProjectDocument, 'devices' | 'errands' | 'points' | 'routes'>): Finding[] {
  if (errands.length === 0) return [];
  const used = new Set(errands.flatMap((errand) => pointsOfErrand(errand)));
  const names = new Map(devices.map(({ id, name }) => [id, name]));
  const place: Omit<ErrandPlace, 'errand'> = {
    points: new Map(points.flatMap((point) => (used.has(point.id) ? [[point.id, point] as const] : []))),
    nameOf: ({ deviceId, name }) => `${names.get(deviceId)} ${name}`,
    writers: new Map(
      routes.flatMap((route) =>
        used.has(route.destinationId) && route.trigger.on === 'round' ? [[route.destinationId, route] as const] : [],
      ),
    ),
  };
  return errands.flatMap((errand) => runChecks('errand', { errand, ...place }));
}
