import { type Finding, type Fix, fixOf } from '../findings/index.js';
import { alsoReadBy, type Device, type Point, pointWidth, type ProjectDocument, type Round, type Route } from '../model/index.js';
import { checkEnds, wordsFor } from '../route/index.js';
import { areSame, Memory } from './memory.js';
import { type PointToCarry, whyNot } from './plan-points.js';
import { carrierReaches, reach } from './reach.js';
import type { Sound } from './sound-row.js';

/** What compiling looks up again and again. */
export interface Lookup {
  document: ProjectDocument;
  point: Map<string, Point>;
  round: Map<string, Round>;
  device: Map<string, Device>;
  reach(deviceId: string): ReturnType<typeof reach>;
  carrierReaches(carrierId: string, deviceId: string): string | null;
  memory: Memory;
}

export function lookup(document: ProjectDocument, memory = new Memory()): Lookup {
  const byId = <T extends { id: string }>(rows: readonly T[]) => new Map(rows.map((row) => [row.id, row]));
  const ways = remembering((deviceId) => memory.same(`reach ${deviceId}`, reach(document, deviceId)));
  const carriers = new Map<string, (deviceId: string) => string | null>();
  return {
    document,
    point: byId(document.points),
    round: byId(document.rounds),
    device: byId(document.devices),
    reach: ways,
    carrierReaches(carrierId, deviceId) {
      const known = carriers.get(carrierId) ?? remembering((id) => carrierReaches(document, carrierId, id));
      carriers.set(carrierId, known);
      return known(deviceId);
    },
    memory,
  };
}

function remembering<T>(find: (id: string) => T): (id: string) => T {
  const known = new Map<string, T>();
  return (id) => {
    if (!known.has(id)) known.set(id, find(id));
    return known.get(id)!;
  };
}

/** The route with all that it names; or null, and findings that say what keeps it from being carried. */
export function soundRoute(route: Route, look: Lookup, findings: Finding[]): Sound | null {
  const restsOn = allThat(route, look);
  const known = look.memory.routes.get(route);
  if (known && areSame(known.restsOn, restsOn)) {
    findings.push(...known.findings);
    return known.sound;
  }
  const own: Finding[] = [];
  const sound = examine(route, look, own);
  look.memory.routes.set(route, { restsOn, sound, findings: own });
  findings.push(...own);
  return sound;
}

/** Everything outside the route itself that decides whether it is sound. */
function allThat(route: Route, look: Lookup): unknown[] {
  const { sourceId, destinationId, roundId, carrierId, loss, release } = route;
  const restsOn: unknown[] = [look.round.get(roundId), carrierId && look.device.get(carrierId)];
  const rest = (id: string | null | undefined) => {
    const point = id ? look.point.get(id) : null;
    restsOn.push(point);
    if (!point) return;
    restsOn.push(look.device.get(point.deviceId), look.reach(point.deviceId), carrierId && look.carrierReaches(carrierId, point.deviceId));
  };
  rest(sourceId);
  rest(destinationId);
  rest(loss.validId);
  rest(release?.pointId);
  alsoReadBy(route).forEach(rest);
  return restsOn;
}

function examine(route: Route, look: Lookup, findings: Finding[]): Sound | null {
  const stop = (check: string, message: string, mend: string, field?: string, fix?: Fix) =>
    findings.push({
      severity: 'stop',
      check,
      message: `${route.name}: ${message}`,
      mend,
      ...(fix ? { fix } : {}),
      at: { entity: 'route', id: route.id, ...(field ? { field } : {}) },
    });
  const source = look.point.get(route.sourceId);
  const destination = look.point.get(route.destinationId);
  const round = look.round.get(route.roundId);
  if (!source || !destination || !round) {
    stop(
      'route-incomplete',
      'its source, destination or round is no longer there.',
      'Choose both ends and a round, or delete the route.',
      undefined,
      deleting(route),
    );
    return null;
  }
  for (const { check, message, mend, field, fix } of checkEnds({ ...route, source, destination }))
    stop(check, message, mend, field, fix && fixOf(fix.label, 'route', route, fix.fields));
  const others = alsoReadBy(route).map((id) => look.point.get(id));
  const valid = route.loss.validId ? look.point.get(route.loss.validId) : null;
  const releasing = route.release ? look.point.get(route.release.pointId) : null;
  if (others.includes(undefined) || valid === undefined || releasing === undefined) {
    stop('route-incomplete', 'a point that it names beside its two ends is no longer there.', 'Choose another, or take it away.');
    return null;
  }
  const devices = new Set([source.deviceId, destination.deviceId, ...(others as Point[]).map(({ deviceId }) => deviceId)]);
  if (valid) devices.add(valid.deviceId);
  for (const deviceId of devices) {
    const reached = look.reach(deviceId);
    if (!reached.ok) stop('unreachable', reached.problem.message, 'Give the device a port on a line that Plain Envoy reaches.');
    const why = reached.ok && route.carrierId ? look.carrierReaches(route.carrierId, deviceId) : null;
    if (why) stop('carrier-cannot-reach', why, 'Choose another carrier, or put both on one line.', 'carrierId');
  }
  checkCarrier(route, look, stop);
  for (const point of [source, ...(others as Point[])]) checkCarried(point, false, look, stop);
  for (const point of [destination, valid, releasing]) if (point) checkCarried(point, true, look, stop);
  const words = route.release && releasing ? wordsFor(route.release.value, { destination: releasing, transforms: [] }) : null;
  if (words && !words.ok) stop('release', words.problem.message, 'Choose a value that fits.', 'release');
  if (releasing && releasing.deviceId !== destination.deviceId)
    stop('release', `${releasing.name} is not in the device that is written.`, 'Choose a register of the destination’s device.', 'release');
  if (releasing && releasing.bit !== null)
    stop('release', `${releasing.name} is one bit of a register.`, 'Choose the whole register, or a coil.', 'release');
  if (findings.length > 0) return null;
  const release = releasing && words?.ok ? { point: releasing, words: words.value, when: route.release!.when } : null;
  return { route, round, source, destination, others: others as Point[], valid, release };
}

function deleting(route: Route): Fix {
  return fixOf('Delete the route', 'route', route, null);
}

type Stop = (check: string, message: string, mend: string, field?: string) => void;

function checkCarrier({ carrierId }: Route, look: Lookup, stop: Stop): void {
  if (carrierId === null) return;
  const carrier = look.device.get(carrierId);
  if (!carrier) stop('route-incomplete', 'its carrier is no longer there.', 'Choose who carries it.', 'carrierId');
  else if (carrier.kind === 'field')
    stop(
      'carrier',
      `${carrier.name} is a field device, which only answers.`,
      'Choose a controller, a gateway, a converter, or Plain Envoy.',
      'carrierId',
    );
}

/** A single request of the device has to be able to carry the point. */
function checkCarried(point: Point, write: boolean, look: Lookup, stop: Stop): void {
  const device = look.device.get(point.deviceId)!;
  if (write && point.access === 'read') return;
  const why = write ? whyNot(asCarried(point, true), device) : whyNotRead(point, device);
  if (why) stop('cannot-carry', `${device.name}, ${point.name}: ${why}`, 'Correct the point, or what the device takes, under Registers.');
}

/** Why a point cannot be read by one request of its device; null where it can. */
export function whyNotRead(point: Point, device: Device): string | null {
  const last = point.offset + pointWidth(point) - 1;
  const closed = device.forbidden.find((span) => span.table === point.table && span.first <= last && span.last >= point.offset);
  if (closed) return `the device refuses offsets ${closed.first} to ${closed.last}, and the point lies in them.`;
  return whyNot(asCarried(point, false), device);
}

/** Why a point cannot be written by one request of its device; null where it can. */
export function whyNotWritten(point: Point, device: Device): string | null {
  if (point.access === 'read') return `${point.name} may only be read.`;
  return whyNot(asCarried(point, true), device);
}

function asCarried(point: Point, write: boolean): PointToCarry {
  return { id: point.id, table: point.table, offset: point.offset, length: pointWidth(point), write };
}
