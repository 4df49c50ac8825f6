import type { timeOfBus } from '../can-line/index.js';
import type { CarriedFrame, CarriedLink } from '../converter/index.js';
import type { CarriedStation } from '../stations/index.js';
import type { Line } from '../media/index.js';
import type { Device, DeviceTelegram, Errand, Point, ProjectDocument } from '../model/index.js';
import type { Lookup, PlannedRequest, RouteCells, RouteNames, ValidRoute } from '../plan/index.js';
import type { Chain } from '../route/index.js';
import type { Bus, CanBus, CyclicBus, EthernetBus, SerialBus, TelecontrolBus } from './bus.js';
import type { Finding, Fix } from './finding.js';

/** What a check looks at, by its scope. */
export interface Scopes {
  /** A serial line with those on it. */
  serial: SerialBus;
  /** A network with those on it, and how many carriers of the plan connect to each device, by its id. */
  ethernet: EthernetBus & { clients: ReadonlyMap<string, number> };
  can: CanBus;
  cyclic: CyclicBus;
  telecontrol: TelecontrolBus;
  /** The register map of a field device, a gateway or a converter. */
  map: { device: string; points: readonly Point[] };
  /** A converter, with the values of the devices behind it, and its own points. */
  converter: ConverterPlace;
  /** A telegram of a device, with the points in it and the other telegrams of the project. */
  telegram: TelegramPlace;
  /** The frames of a line of CAN, with what they make of it. */
  frames: FramesPlace;
  /** A cyclic link with the values in its blocks. */
  link: LinkPlace;
  /** A control station with one of its outstations, and the points between them. */
  stations: StationsPlace;
  errand: ErrandPlace;
  /** The two ends of a route and its steps. */
  ends: Chain;
  /** A route and what it names, which may be gone. */
  names: { route: RouteNames['route']; names: RouteNames | null };
  /** A route of which all is there. */
  route: { names: RouteNames; look: Lookup };
  /** A route that can be carried, by itself. */
  value: ValidRoute;
  /** All routes that can be carried, together. */
  plan: { routes: readonly RouteCells[]; look: Lookup };
  /** What is asked in all. */
  requests: { requests: readonly PlannedRequest[]; document: ProjectDocument };
}
export type Scope = keyof Scopes;

/** A converter with what lies in its image. */
export interface ConverterPlace {
  converter: Device;
  far: readonly Point[];
  own: readonly Point[];
  document: ProjectDocument;
  /** The name of a side: of the line that it is on. */
  sideName(lineId: string): string;
  /** The line on which the device of a point is. */
  sideOf(point: Point): string;
}

/** A telegram with what is around it. */
export interface TelegramPlace {
  telegram: DeviceTelegram;
  device: string;
  line: Line | null;
  points: readonly Point[];
  others: readonly DeviceTelegram[];
}

/** The frames of a line of CAN. */
export interface FramesPlace {
  line: Line;
  frames: readonly CarriedFrame[];
  time: ReturnType<typeof timeOfBus>;
  document: ProjectDocument;
}

/** A cyclic link. */
export interface LinkPlace {
  link: CarriedLink;
  document: ProjectDocument;
}

/** A control station with one of its outstations. */
export interface StationsPlace {
  station: CarriedStation;
  document: ProjectDocument;
}

/** An errand with the points that it names, as far as they are there. */
export interface ErrandPlace {
  errand: Errand;
  points: ReadonlyMap<string, Point>;
  /** `Yard display Line 1`. */
  nameOf(point: Point): string;
  /** The route that writes a point in each of its rounds, by the id of the point. */
  writers: ReadonlyMap<string, { name: string }>;
}

/** What a check has found: why, what to do, and where. */
export interface Found {
  message: string;
  mend: string;
  at: Finding['at'];
  about?: readonly string[];
  fix?: Fix | undefined;
  /** Where several mend it, and only a person knows which is right. */
  fixes?: readonly Fix[];
  /** Where it differs from the check's own. */
  severity?: Finding['severity'];
}

/** At the ends of a route, before it is one: the field that is wrong, and what would mend it. */
export interface FoundAtEnds {
  message: string;
  mend: string;
  field: 'sourceId' | 'destinationId' | 'carry' | 'transforms';
  fix?: { label: string; fields: { carry: 'value' } };
}

/** Everything that is said about one kind of finding. */
export interface Check<S extends Scope = Scope, Id extends string = string> {
  /** Stable, for tests and links. */
  id: Id;
  severity: Finding['severity'];
  scope: S;
  /** A route that it is about is not called proved, whatever arrives. */
  doubts?: boolean;
  /** What it means, in one sentence that names nothing of a project. */
  meaning: string;
  find(of: Scopes[S]): readonly (S extends 'ends' ? FoundAtEnds : Found)[];
}

export function defineCheck<S extends Scope, const Id extends string>(check: Check<S, Id>): Check<S, Id> {
  return check;
}

/** Where a finding about a whole line is mended. */
export function onLine({ line }: Bus, field?: string): Finding['at'] {
  return { entity: 'line', id: line.id, ...(field ? { field } : {}) };
}

export function onPort({ port }: { port: { id: string } }, field: string): Finding['at'] {
  return { entity: 'port', id: port.id, field };
}

export function onRoute({ route }: { route: { id: string } }, field?: string): Finding['at'] {
  return { entity: 'route', id: route.id, ...(field ? { field } : {}) };
}

/** `A, B and 3 more`. */
export function listed(names: readonly string[]): string {
  return names.length > 2 ? `${names[0]}, ${names[1]} and ${names.length - 2} more` : names.join(' and ');
}
