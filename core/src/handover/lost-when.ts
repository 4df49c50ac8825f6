import { askedFor, converterOf, farLineOf } from '../converter/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import { isTold, messageOf, tellsValid } from '../place/index.js';
import { frontOf, type Plan, type PlannedRoute } from '../plan/index.js';

/** What may fail: a device, with all that it passes on, or a line with all that is on it. */
export interface Failing {
  kind: 'device' | 'line';
  id: string;
  name: string;
}

/** What becomes of a value at its destination. */
export type LossEffect = 'substituted' | 'marked' | 'tells' | 'stands still' | 'not written';

/** A value that does not arrive any more. */
export interface LostValue {
  routeId: string;
  route: string;
  /** `Kiln controller Damper position` */
  destination: string;
  effect: LossEffect;
  /** What it becomes, or what tells or notices that it is not good; empty where nothing does, so that it looks as good as before. */
  by: string;
  /** From when on after the failure, at the earliest and at the latest, ms. */
  fromMs: number;
  toMs: number;
  /** The point that tells of it; null where none does. */
  markId: string | null;
  /** Who carries it is gone, and its destination is not. */
  byCarrier: boolean;
}

/** A device that notices that it is not written to any more. */
export interface Trip {
  deviceId: string;
  /** The point that is watched; null where it is all that is written to the device. */
  pointId: string | null;
  device: string;
  /** Its watchdog, or all that it is written. */
  by: string;
  afterMs: number;
}

export interface LostWhen {
  failing: Failing;
  lost: LostValue[];
  trips: Trip[];
}

/**
 * What is lost when a device, a gateway or a line fails, for each that takes something with it: the values that stand still, are substituted or
 * marked, after how long, and the devices that notice that nobody writes to them. What is lost with the destination itself is not told.
 */
export function lostWhen(document: ProjectDocument, plan: Plan): LostWhen[] {
  const reach = reachOf(document);
  const marks = marksOf(document, plan);
  const watched = watchedIn(document, plan);
  const devices = new Map(document.devices.map((device) => [device.id, device]));
  const things: Failing[] = [
    ...document.lines.map(({ id, name }): Failing => ({ kind: 'line', id, name })),
    ...document.devices.map(({ id, name }): Failing => ({ kind: 'device', id, name })),
  ];
  return things.flatMap((failing) => {
    const trips = tripsOf(watched, failing, reach, devices);
    const lost = plan.routes.flatMap((route) => {
      const found = lossOf(route, failing, reach, marks.get(route.id) ?? null, devices);
      return found && found.effect === 'not written' ? { ...found, by: noticedBy(route, trips) } : (found ?? []);
    });
    return lost.length + trips.length ? [{ failing, lost, trips }] : [];
  });
}

/**
 * The devices and lines that have to work for a device to be asked: itself, its line, what passes on to it, and that one’s line; or only those
 * for who is asked in its place to be there.
 */
type Reach = (deviceId: string, whose?: 'who is asked') => ReadonlySet<string>;

function reachOf(document: ProjectDocument): Reach {
  const known = new Map<string, ReadonlySet<string>>();
  const of = (deviceId: string): ReadonlySet<string> => {
    const found = known.get(deviceId);
    if (found) return found;
    const path = new Set([deviceId]);
    known.set(deviceId, path);
    const before = converterOf(document, deviceId);
    const far = farLineOf(document, deviceId);
    if (far) path.add(far.id);
    if (before) for (const id of of(before.converter.id)) path.add(id);
    const ports = document.ports.filter((port) => port.deviceId === deviceId && port.lineId !== far?.id);
    const direct = ports.find((port) => port.kind === 'ethernet') ?? ports[0];
    if (direct && !before) {
      path.add(direct.lineId);
      const front = frontOf(document, direct.lineId);
      if (direct.kind === 'serial' && front && front.device.id !== deviceId) {
        path.add(front.device.id);
        path.add(front.port.lineId);
      }
    }
    return path;
  };
  const askedAt = askedFor(document);
  return (deviceId, whose) => of(whose ? askedAt(deviceId) : deviceId);
}

/** What a converter, or who opens a link, tells of a value’s message or link, where a route carries that too. */
interface Mark {
  /** Whether this route is what carries it. */
  isIt: boolean;
  pointId: string;
  by: string;
  afterMs: number;
}

function marksOf(document: ProjectDocument, plan: Plan): Map<string, Mark> {
  const { telegrams, frames, lines } = document;
  const names = new Map(document.devices.map(({ id, name }) => [id, name]));
  const keyOf = ({ source }: PlannedRoute) => `${source.deviceId} ${messageOf(source.place) ?? ''}`;
  const telling = new Map(plan.routes.flatMap((route) => (tellsValid(route.source.place) ? [[keyOf(route), route] as const] : [])));
  const afterOf = ({ source }: PlannedRoute): number => {
    const message = [...telegrams, ...frames].find(({ id }) => id === messageOf(source.place));
    if (message) return message.lostAfterMs;
    const line = lines.find(({ id }) => id === farLineOf(document, source.deviceId)?.id);
    if (line?.kind === 'cyclic') return line.intervalMs * (line.missed + 1);
    return line?.kind === 'telecontrol' ? line.answersMs : 0;
  };
  return new Map(
    plan.routes.flatMap((route) => {
      const mark = telling.get(keyOf(route));
      if (!mark || (isTold(route.source.place) && mark !== route)) return [];
      const owner = names.get(mark.destination.deviceId) ?? '';
      return [
        [
          route.id,
          { isIt: mark === route, pointId: mark.destination.id, by: `${owner} ${mark.destination.name}`, afterMs: afterOf(mark) },
        ] as const,
      ];
    }),
  );
}

function lossOf(
  route: PlannedRoute,
  { id }: Failing,
  reach: Reach,
  mark: Mark | null,
  devices: ReadonlyMap<string, Device>,
): LostValue | null {
  const { source, destination, carrierId, loss, periodMs, valid } = route;
  const owner = devices.get(destination.deviceId);
  // A destination that is gone itself needs no value.
  if (!owner || id === owner.id) return null;
  const said = { routeId: route.id, route: route.name, destination: `${owner.name} ${destination.name}`, markId: null, byCarrier: false };
  const soon = { fromMs: 0, toMs: periodMs };
  const isCarrierGone = carrierId !== null && reach(carrierId).has(id);
  const isDestinationGone = reach(owner.id).has(id);
  if (isCarrierGone || isDestinationGone) return { ...said, ...soon, effect: 'not written', by: '', byCarrier: !isDestinationGone };
  if (!reach(source.deviceId).has(id)) return null;
  const isFarSide = !reach(source.deviceId, 'who is asked').has(id);
  // Who tells of the far side is still there, and goes on telling.
  if (isFarSide && isTold(source.place) && !mark?.isIt) return null;
  if (isFarSide && mark) {
    const told = { fromMs: 0, toMs: mark.afterMs + periodMs };
    const by = { ...told, markId: mark.pointId };
    return mark.isIt ? { ...said, ...by, effect: 'tells', by: 'goes off' } : { ...said, ...by, effect: 'marked', by: mark.by };
  }
  const after = { fromMs: Math.max(0, loss.afterMs - periodMs), toMs: loss.afterMs + periodMs };
  if (loss.rule === 'value') return { ...said, ...after, effect: 'substituted', by: String(loss.value) };
  if (valid) return { ...said, ...after, effect: 'marked', by: valid.point.name, markId: valid.point.id };
  return { ...said, ...soon, effect: 'stands still', by: '' };
}

/** Who notices that a value is not written any more: the device, by this point or by all that is written to it; empty where nobody does. */
function noticedBy({ destination }: PlannedRoute, trips: readonly Trip[]): string {
  const own = trips.filter(({ deviceId }) => deviceId === destination.deviceId);
  const by = own.find(({ pointId }) => pointId === destination.id) ?? own.find(({ pointId }) => pointId === null) ?? own[0];
  return by ? `${by.device} trips after ${by.afterMs / 1000} s` : '';
}

function tripsOf(watched: Watched, { id }: Failing, reach: Reach, devices: ReadonlyMap<string, Device>): Trip[] {
  const isGone = (route: PlannedRoute) =>
    reach(route.destination.deviceId).has(id) ||
    (route.carrierId !== null && reach(route.carrierId).has(id)) ||
    (reach(route.source.deviceId).has(id) && route.loss.rule !== 'value');
  const byPoint = watched.points.flatMap((route): Trip[] => {
    const { destination } = route;
    const owner = devices.get(destination.deviceId);
    if (!owner || owner.id === id || !isGone(route)) return [];
    return [{ deviceId: owner.id, pointId: destination.id, device: owner.name, by: destination.name, afterMs: destination.watchdogMs! }];
  });
  const byAll = watched.devices.flatMap(({ device, routes }): Trip[] => {
    if (device.id === id || !routes.every(isGone)) return [];
    return [{ deviceId: device.id, pointId: null, device: device.name, by: 'all that is written to it', afterMs: device.writeTimeoutMs! }];
  });
  return [...byPoint, ...byAll];
}

/** Who notices that it is not written to any more: points with a watchdog, and devices that watch all that is written to them. */
interface Watched {
  points: PlannedRoute[];
  devices: { device: Device; routes: PlannedRoute[] }[];
}

function watchedIn({ devices }: ProjectDocument, { routes }: Plan): Watched {
  const to = new Map<string, PlannedRoute[]>();
  for (const route of routes) {
    const known = to.get(route.destination.deviceId);
    if (known) known.push(route);
    else to.set(route.destination.deviceId, [route]);
  }
  return {
    points: routes.filter(({ destination }) => destination.watchdogMs !== null),
    devices: devices.flatMap((device) => {
      const own = to.get(device.id);
      return own && device.writeTimeoutMs !== null ? [{ device, routes: own }] : [];
    }),
  };
}

/** The values that look as good as before, though they are not: nothing marks them, and nobody notices. */
export function unnoticed({ lost }: Pick<LostWhen, 'lost'>): LostValue[] {
  return lost.filter(({ effect, by }) => by === '' && (effect === 'stands still' || effect === 'not written'));
}
