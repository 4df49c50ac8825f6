import { isBitTable, LAST_OFFSET } from '../address/index.js';
import { type Frames, framesOf, type Links, linksOf, registerWindows, type Texts, textsOf } from '../converter/index.js';
import { type Stations, stationsOf } from '../stations/index.js';
import { type Extents, extentsOf } from '../map/index.js';
import { BY_ITS_MAP, type Device, type PaperPoint, type Point, type ProjectDocument } from '../model/index.js';
import { papersOf } from '../papers/index.js';
import type { Placed } from './variables.js';

/** The register map of a device that is played: where it has registers, and the points that its program knows by name. */
export interface PlayedMap {
  extents: Extents;
  points: Placed[];
}

/** What of a project its stand-ins follow: lines, devices, how each port is set, and the maps by the ids of their devices. */
export interface Wiring extends Pick<ProjectDocument, 'lines' | 'devices' | 'ports'> {
  maps: Readonly<Record<string, PlayedMap>>;
  /** What goes over text lines. */
  texts: Texts;
  /** What goes over CAN. */
  frames: Frames;
  /** Cyclic links. */
  links: Links;
  /** Telecontrol links. */
  stations: Stations;
}

/** A device has the registers of its manual, whatever the project says of it; or else those of its map. */
export function wiringOf(document: ProjectDocument): Wiring {
  const { lines, devices, ports, points, papers } = document;
  const played = devices.filter(({ standIn }) => standIn === BY_ITS_MAP);
  const own = new Map(played.map(({ id }) => [id, [] as Point[]]));
  for (const point of points) own.get(point.deviceId)?.push(point);
  const maps = played.map(({ id, readAcrossHoles, program, image }): [string, PlayedMap] => {
    const map = papersOf({ papers }, id)?.points ?? own.get(id)!;
    const extents = extentsOf(map, readAcrossHoles);
    return [id, { extents: image ? withWindows(extents, image) : extents, points: program.trim() === '' ? [] : map.map(placed) }];
  });
  const messages = { texts: textsOf(document), frames: framesOf(document), links: linksOf(document), stations: stationsOf(document) };
  return { lines, devices, ports, maps: Object.fromEntries(maps), ...messages };
}

/** The points that the program of a device knows by name: those of its manual, or else those of its map. */
export function playedPoints(
  { points, papers }: Pick<ProjectDocument, 'points' | 'papers'>,
  deviceId: string,
): readonly (Point | PaperPoint)[] {
  return papersOf({ papers }, deviceId)?.points ?? points.filter((point) => point.deviceId === deviceId);
}

/** A converter has the registers through which its image is seen, whatever lies there. */
function withWindows(extents: Extents, image: NonNullable<Device['image']>): Extents {
  const all: Extents = { ...extents };
  for (const { table, offset = 0, bytes } of registerWindows({ image })) {
    const count = isBitTable(table) ? 8 * bytes : Math.ceil(bytes / 2);
    all[table] = [...(all[table] ?? []), [offset, Math.min(LAST_OFFSET, offset + count - 1)]];
  }
  return all;
}

function placed({ name, table, offset, bit, type, order, length, encoding }: Placed): Placed {
  return { name, table, offset, bit, type, order, length, encoding };
}
