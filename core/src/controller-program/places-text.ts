import type { Point } from '../model/index.js';
import type { PlannedRoute } from '../plan/index.js';
import type { CarrierModel, Station, Wanted } from './carrier.js';
import { NotInProgram } from './chain.js';
import type { Dialect } from './dialect.js';
import { isOnText } from './ends-text.js';
import { iecOf } from './words-text.js';

/** Where a point is in the program: the variable, and what has to hold so that it is known. */
export interface At {
  text: string;
  known: string | null;
}

/** Where a point stands in the program. */
export function whereIs(pointId: string, { variables, stations }: CarrierModel): At {
  for (const station of stations) {
    const member = station.members.get(pointId);
    if (member) {
      const readable = member.readable ? ` AND §${station.name}.${member.readable}` : '';
      return { text: `§${station.name}.${member.name}`, known: `§requests[${member.request.number}].good${readable}` };
    }
  }
  const variable = variables.get(pointId);
  if (!variable) throw new NotInProgram('One of its points is wider than any variable.');
  return { text: variable.name, known: null };
}

/** A point that a route needs beside its ends. */
export function pointOf(pointId: string, { others }: PlannedRoute): Point {
  return others.find(({ id }) => id === pointId)!;
}

function findPoint(pointId: string, { routes }: CarrierModel): Point {
  return routes.flatMap(({ others }) => others).find(({ id }) => id === pointId)!;
}

/** Whether a point is on, as it was known last. */
export function isOnOf(pointId: string, model: CarrierModel, dialect: Dialect): string {
  const point = findPoint(pointId, model);
  return isOnText(whereIs(pointId, model).text, point, iecOf(point, dialect));
}

/** A bit that allows counts as off while it is not known. */
export function andKnown(pointId: string, model: CarrierModel, dialect: Dialect): string {
  const { known } = whereIs(pointId, model);
  const on = isOnOf(pointId, model, dialect);
  return known ? `${known} AND ${on}` : on;
}

/** Where the value of a route goes: a variable of the controller, or what shall be written to a device, and the bit that says that it may go. */
export interface Target {
  text: string;
  wanted: Wanted | null;
  ready: string;
}

export function targetOf(route: PlannedRoute, model: CarrierModel): Target {
  for (const station of model.stations) {
    const at = wantedAt(station, route.id);
    if (at) return at;
  }
  const variable = model.variables.get(route.destination.id);
  if (!variable) throw new NotInProgram(`${route.destination.name} is wider than any variable.`);
  return { text: variable.name, wanted: null, ready: '' };
}

/** What shall be written to a device for a route, or for a bit that tells of validity; null where that is elsewhere. */
export function wantedAt(station: Station, id: string): (Target & { wanted: Wanted }) | null {
  const index = station.wanted.findIndex((row) => row.id === id);
  const wanted = station.wanted[index];
  return wanted ? { text: `§${station.name}Wanted.${wanted.name}`, wanted, ready: `§${station.name}Wanted.ready[${index + 1}]` } : null;
}
