import * as z from 'zod';
import { Device } from './device.js';
import { Errand } from './errand.js';
import { Paper } from './paper.js';
import { Point } from './point.js';
import { Project } from './project.js';
import { DeviceFrame } from './device-frame.js';
import { DeviceTelegram } from './device-telegram.js';
import { Round } from './round.js';
import { Route } from './route.js';
import { ListProfile, Variable } from './variable.js';
import { WatchList } from './watch-list.js';
import { Line, Port } from '../media/index.js';

/** Every kind of entity: its schema, its list in the document, and the entities that it points to. */
export const entities = {
  project: { schema: Project, list: null, refers: {} },
  line: { schema: Line, list: 'lines', refers: {} },
  device: { schema: Device, list: 'devices', refers: {} },
  port: { schema: Port, list: 'ports', refers: { deviceId: 'device', lineId: 'line' } },
  telegram: { schema: DeviceTelegram, list: 'telegrams', refers: { deviceId: 'device' } },
  frame: { schema: DeviceFrame, list: 'frames', refers: { deviceId: 'device' } },
  point: { schema: Point, list: 'points', refers: { deviceId: 'device' } },
  paper: { schema: Paper, list: 'papers', refers: { deviceId: 'device' } },
  round: { schema: Round, list: 'rounds', refers: {} },
  route: { schema: Route, list: 'routes', refers: { sourceId: 'point', destinationId: 'point', roundId: 'round' } },
  errand: { schema: Errand, list: 'errands', refers: {} },
  watchList: { schema: WatchList, list: 'watchLists', refers: {} },
  variable: { schema: Variable, list: 'variables', refers: { pointId: 'point' } },
  listProfile: { schema: ListProfile, list: 'listProfiles', refers: {} },
} as const;

export type EntityKind = keyof typeof entities;
export const entityKinds = Object.keys(entities) as EntityKind[];
export const EntityKind = z.enum(entityKinds);

/** The entities that live in lists, each with the name of its list. */
export type ListedKind = Exclude<EntityKind, 'project'>;
export const listedKinds = entityKinds.filter((kind): kind is ListedKind => kind !== 'project');

/** A whole project as it is exported, compiled and shown. */
export const ProjectDocument = z.strictObject({
  project: Project,
  lines: z.array(Line),
  devices: z.array(Device),
  ports: z.array(Port),
  telegrams: z.array(DeviceTelegram).default([]),
  frames: z.array(DeviceFrame).default([]),
  points: z.array(Point),
  papers: z.array(Paper).default([]),
  rounds: z.array(Round),
  routes: z.array(Route),
  errands: z.array(Errand).default([]),
  watchLists: z.array(WatchList).default([]),
  variables: z.array(Variable).default([]),
  listProfiles: z.array(ListProfile).default([]),
});
export type ProjectDocument = z.infer<typeof ProjectDocument>;

export function listOf<K extends ListedKind>(kind: K): (typeof entities)[K]['list'] {
  return entities[kind].list;
}

/** Which fields of this kind hold the id of another entity, and of which kind that is. */
export function referencesOf(kind: EntityKind): [field: string, to: EntityKind][] {
  return Object.entries(entities[kind].refers) as [string, EntityKind][];
}

/** Which kinds, by which field, point to this kind. */
export function referrersOf(kind: EntityKind): [from: EntityKind, field: string][] {
  return entityKinds.flatMap((from) =>
    referencesOf(from).flatMap(([field, to]): [EntityKind, string][] => (to === kind ? [[from, field]] : [])),
  );
}
