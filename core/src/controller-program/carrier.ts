import { isBitTable } from '../address/index.js';
import { readFunction } from '../frame/index.js';
import { variableList } from '../handover/index.js';
import type { Device, Point, ProjectDocument } from '../model/index.js';
import { nameAll } from '../names/index.js';
import { codeToWrite, type Endpoint, type Plan, type PlannedRequest, type PlannedRoute } from '../plan/index.js';
import { variableRules, variableType } from '../playing/index.js';
import { typeOf } from '../types/index.js';
import type { Dialect } from './dialect.js';
import { plainName } from './marks.js';

/** A transaction of the program, by its number in it, from 1. */
export interface ProgramRequest {
  number: number;
  planned: PlannedRequest;
  /** From 1: who makes it, and whom it is about. */
  channel: number;
  station: number;
  isBits: boolean;
  /** The function for one register or bit of it, and for several; and for the read before bits of registers are written. */
  one: number;
  many: number;
  read: number;
}

/** A device that is asked: a structure with what is read of it and one with what is written to it. */
export interface Station {
  number: number;
  device: Device;
  name: string;
  /** What is read: points by their ids. */
  members: Map<string, Member>;
  /** What is written: one for each route, or each bit that tells of validity. */
  wanted: Wanted[];
}

export interface Member {
  point: Point;
  name: string;
  /** For a text, and for a number that is made by arithmetic: the bit that says whether it is one. */
  readable: string | null;
  request: ProgramRequest;
  at: number;
}

export interface Wanted {
  /** The route, or the point whose value says whether others are good. */
  id: string;
  point: Point;
  name: string;
  request: ProgramRequest;
  at: number;
}

/** A way out of the controller, on which one transaction is open at a time. */
export interface Channel {
  number: number;
  endpoint: Endpoint;
}

/** What the program of a controller is made of. */
export interface CarrierModel {
  controller: Device;
  routes: PlannedRoute[];
  requests: ProgramRequest[];
  stations: Station[];
  channels: Channel[];
  /** Variables of the controller that routes have to do with, by the ids of their points. */
  variables: Map<string, { name: string; point: Point }>;
  /** Those of them that come over a link of the controller and are no registers of its own. */
  linked: { name: string; point: Point; device: string }[];
  /** All names that the controller has for itself. */
  taken: string[];
}

/** What of the plan a controller carries; null where it carries nothing. */
export function carrierModel(document: ProjectDocument, plan: Plan, controller: Device, dialect: Dialect): CarrierModel | null {
  const routes = plan.routes.filter(({ carrierId }) => carrierId === controller.id);
  if (routes.length === 0) return null;
  const needed = new Set(
    routes.flatMap(({ readId, alsoReadIds, writeId, valid }) => [readId, ...alsoReadIds, writeId, ...(valid ? [valid.writeId] : [])]),
  );
  const outward = plan.requests.filter(({ id, local }) => !local && needed.has(id));
  const channels = [...new Set(outward.map(({ endpointId }) => endpointId))].map((id, index): Channel => ({
    number: index + 1,
    endpoint: plan.endpoints.find((endpoint) => endpoint.id === id)!,
  }));
  const deviceIds = [...new Set(outward.map(({ deviceId }) => deviceId))];
  const requests = outward.map((planned, index): ProgramRequest => {
    const read = readFunction(planned.table).code;
    const write = (count: number) => (planned.kind === 'write' ? codeToWrite(planned.table, count, planned) : read);
    return {
      number: index + 1,
      planned,
      channel: channels.find(({ endpoint }) => endpoint.id === planned.endpointId)!.number,
      station: deviceIds.indexOf(planned.deviceId) + 1,
      isBits: isBitTable(planned.table),
      ...{ one: planned.partial === 'mask' ? planned.functionCode : write(1), many: write(2), read },
    };
  });
  const points = pointsOf(routes);
  const stations = deviceIds.map((id, index) =>
    stationOf(
      document.devices.find((device) => device.id === id)!,
      index + 1,
      requests,
      routes,
      points,
      dialect,
    ),
  );
  const list = variableList(document, controller);
  const variables = new Map(
    list.rows.flatMap(({ pointId, name }) => {
      const point = points.get(pointId);
      return point ? [[pointId, { name, point }] as const] : [];
    }),
  );
  const taken = list.rows.map(({ name }) => name);
  const linked = linkedTo(document, plan, controller, points, taken);
  for (const { name, point } of linked) variables.set(point.id, { name, point });
  return { controller, routes, requests, stations, channels, variables, linked, taken: [...taken, ...linked.map(({ name }) => name)] };
}

/** Every point that routes have to do with. */
function pointsOf(routes: readonly PlannedRoute[]): Map<string, Point> {
  return new Map(
    routes
      .flatMap(({ source, destination, others, valid }) => [source, destination, ...others, ...(valid ? [valid.point] : [])])
      .map((point) => [point.id, point]),
  );
}

/** Points that the controller has at hand although they are another device’s: those of a link that it opens itself. */
function linkedTo(
  document: ProjectDocument,
  plan: Plan,
  controller: Device,
  points: ReadonlyMap<string, Point>,
  taken: readonly string[],
): CarrierModel['linked'] {
  const own = plan.requests.filter(({ local, carrierId }) => local && carrierId === controller.id);
  const ids = new Set(own.flatMap((request) => request.points.map(({ pointId }) => pointId)));
  const linked = [...points.values()].filter(
    ({ id, deviceId }) => ids.has(id) && deviceId !== controller.id && variableType(points.get(id)!) !== null,
  );
  const deviceName = new Map(document.devices.map(({ id, name }) => [id, name]));
  const names = nameAll(
    linked.map(({ deviceId, name }) => `${deviceName.get(deviceId)} ${name}`),
    { ...variableRules, reserved: [...(variableRules.reserved ?? []), ...taken] },
  );
  return linked.map((point, index) => ({ point, name: names[index]!.to, device: deviceName.get(point.deviceId)! }));
}

function stationOf(
  device: Device,
  number: number,
  requests: readonly ProgramRequest[],
  routes: readonly PlannedRoute[],
  points: ReadonlyMap<string, Point>,
  dialect: Dialect,
): Station {
  const own = requests.filter(({ station }) => station === number);
  const read = own
    .filter(({ planned }) => planned.kind === 'read')
    .flatMap((request) =>
      request.planned.points.flatMap(({ pointId, at }) => (points.has(pointId) ? [{ point: points.get(pointId)!, request, at }] : [])),
    );
  const once = [...new Map(read.map((row) => [row.point.id, row])).values()];
  const texts = once.filter(({ point }) => typeOf(point.type).kind === 'text' || (point.type === 'float32' && dialect.real === 'REAL'));
  const names = nameAll([...once.map(({ point }) => point.name), ...texts.map(({ point }) => `${point.name} readable`)], variableRules).map(
    ({ to }) => to,
  );
  const written = new Map<string, Omit<Wanted, 'name'>>();
  for (const route of routes) {
    const goes = (id: string, point: Point, writeId: string) => {
      const request = own.find(({ planned }) => planned.id === writeId);
      if (request) written.set(id, { id, point, request, at: point.offset - request.planned.offset });
    };
    goes(route.id, route.destination, route.writeId);
    if (route.valid) goes(route.valid.point.id, route.valid.point, route.valid.writeId);
  }
  const wanted = [...written.values()];
  const wantedNames = nameAll(
    wanted.map(({ point }) => point.name),
    // Beside them stands which are ready.
    { ...variableRules, maxLength: 30, reserved: [...(variableRules.reserved ?? []), 'ready'] },
  );
  return {
    number,
    device,
    name: plainName(device.name),
    members: new Map(
      once.map((row, index) => {
        const text = texts.indexOf(row);
        return [row.point.id, { ...row, name: names[index]!, readable: text < 0 ? null : names[once.length + text]! }];
      }),
    ),
    wanted: wanted.map((row, index) => ({ ...row, name: wantedNames[index]!.to })),
  };
}
