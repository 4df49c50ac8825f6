import { alsoReadBy, type Device, type Point, type Round, type Route } from '../model/index.js';
import type { Lookup } from './lookup.js';

/** What a route names: null where it names none, undefined where what it names is gone. */
export interface RouteNames {
  route: Route;
  source: Point;
  destination: Point;
  round: Round;
  others: (Point | undefined)[];
  valid: Point | null | undefined;
  releasing: Point | null | undefined;
  carrier: Device | null | undefined;
}

/** All that a route names; null where one of its ends or its round is gone. */
export function namesOf(route: Route, look: Lookup): RouteNames | null {
  const source = look.point.get(route.sourceId);
  const destination = look.point.get(route.destinationId);
  const round = look.round.get(route.roundId);
  if (!source || !destination || !round) return null;
  return {
    route,
    source,
    destination,
    round,
    others: alsoReadBy(route).map((id) => look.point.get(id)),
    valid: route.loss.validId ? look.point.get(route.loss.validId) : null,
    releasing: route.release ? look.point.get(route.release.pointId) : null,
    carrier: route.carrierId === null ? null : look.device.get(route.carrierId),
  };
}

/** The devices that a route reads or writes. */
export function devicesOf({ source, destination, others, valid }: RouteNames): string[] {
  const ids = [source.deviceId];
  for (const point of [destination, ...others, valid]) if (point && !ids.includes(point.deviceId)) ids.push(point.deviceId);
  return ids;
}
