import { telecontrolPort } from '../media/index.js';
import { formatAddress } from '../address/index.js';
import { compileWrite } from '../compile/index.js';
import { hash } from '../common/index.js';
import type { Device, Errand, Point, ProjectDocument } from '../model/index.js';
import type { Endpoint, Plan, PlannedRequest, PlannedRoute } from '../plan/index.js';
import { typeOf } from '../types/index.js';

/** One thing that is done on the real plant: a value that is written, or a device that is read. */
export interface PlantAct {
  /** The same for the same thing of a later plan. */
  id: string;
  does: 'writes' | 'reads';
  /** The route or errand that does it; null for reading. */
  by: string | null;
  device: string;
  /** `10.40.8.30:502, unit 11` */
  way: string;
  /** What is written where, or what is read, as a person checks it. */
  what: string;
  periodMs: number | null;
  /** Everything that it rests on, as one text: another text is another thing. */
  rests: string;
}

export interface PlantDifference {
  change: 'added' | 'removed' | 'changed';
  act: PlantAct;
  /** Where it was something else before. */
  was: PlantAct | null;
}

/** What this plan, and the errands of the project, do on the real plant: what a person confirms when arming it. */
export function plantActs(document: ProjectDocument, plan: Plan): PlantAct[] {
  const requests = new Map(plan.requests.map((request) => [request.id, request]));
  const endpoints = new Map(plan.endpoints.map((endpoint) => [endpoint.id, endpoint]));
  const devices = new Map(document.devices.map((device) => [device.id, device]));
  const wayOf = (request: PlannedRequest) => wayText(endpoints.get(request.endpointId)!, request);
  const writes = plan.routes.map((route) => {
    const request = requests.get(route.writeId)!;
    return writtenBy(route, request, wayOf(request), devices);
  });
  return [...writes, ...document.errands.flatMap((errand) => errandActs(errand, document)), ...readActs(plan.requests, wayOf)];
}

/** What is another thing in the second list than it was in the first. */
export function plantDifferences(before: readonly PlantAct[], after: readonly PlantAct[]): PlantDifference[] {
  const [old, now] = [before, after].map((acts) => new Map(acts.map((act) => [act.id, act])));
  const changed = after.flatMap((act): PlantDifference[] => {
    const was = old!.get(act.id);
    if (!was) return [{ change: 'added', act, was: null }];
    return was.rests === act.rests ? [] : [{ change: 'changed', act, was }];
  });
  const removed = before.filter(({ id }) => !now!.has(id)).map((act): PlantDifference => ({ change: 'removed', act, was: null }));
  return [...changed, ...removed];
}

/** A short text that is another when anything in the list is. */
export function plantMark(acts: readonly PlantAct[]): string {
  return hash(JSON.stringify(acts.map(({ id, rests }) => [id, rests])));
}

function writtenBy(route: PlannedRoute, request: PlannedRequest, way: string, devices: ReadonlyMap<string, Device>): PlantAct {
  const { source, destination, carry, transforms, trigger, whileId, onlyDifferent, loss, others, valid, periodMs } = route;
  const from = `${source.name} of ${devices.get(source.deviceId)?.name ?? ''} (${place(source, devices)})`;
  const { partial, release, broadcast } = request;
  const points = [source, destination, ...others, ...(valid ? [valid.point] : [])].map(meaningOf);
  const rests = [way, points, carry, transforms, trigger, whileId, onlyDifferent, loss, periodMs, partial, release, broadcast];
  return {
    ...{ id: `route ${route.id}`, does: 'writes', by: route.name, way, periodMs, rests: JSON.stringify(rests) },
    device: broadcast ? `every unit on the line of ${request.deviceName}` : request.deviceName,
    what: `${destination.name} (${place(destination, devices)}, ${shape(destination)}), from ${from}`,
  };
}

function errandActs(errand: Errand, document: ProjectDocument): PlantAct[] {
  const points = new Map(document.points.map((point) => [point.id, point]));
  const devices = new Map(document.devices.map((device) => [device.id, device]));
  return errand.steps.flatMap((step, index): PlantAct[] => {
    if (step.kind !== 'write') return [];
    const point = points.get(step.pointId)!;
    const write = compileWrite(document, point, step.broadcast);
    if (!write.ok) return [];
    const { endpoint, request, masks } = write.value;
    const way = wayText(endpoint, request);
    return [
      {
        ...{ id: `errand ${errand.id} ${index + 1}`, does: 'writes', by: errand.name, device: request.deviceName, way, periodMs: null },
        what: `${step.value} into ${point.name} (${place(point, devices)}, ${shape(point)}), step ${index + 1}`,
        rests: JSON.stringify([way, meaningOf(point), step, errand.trigger, errand.steps, masks]),
      },
    ];
  });
}

/** What is read, device by device. */
function readActs(requests: readonly PlannedRequest[], wayOf: (request: PlannedRequest) => string): PlantAct[] {
  const acts = new Map<string, PlantAct>();
  for (const request of requests) {
    if (request.kind !== 'read') continue;
    const { deviceId, deviceName, functionCode, offset, count, periodMs } = request;
    const [id, way] = [`reads ${deviceId}`, wayOf(request)];
    const span = `function ${functionCode}, offset ${offset}${count > 1 ? ` to ${offset + count - 1}` : ''}`;
    const rests = `${way} ${span} ${periodMs};`;
    const known = acts.get(id);
    if (!known) acts.set(id, { id, does: 'reads', by: null, device: deviceName, way, what: span, periodMs, rests });
    else {
      known.what += `; ${span}`;
      known.rests += rests;
      known.periodMs = Math.min(known.periodMs!, periodMs);
    }
  }
  return [...acts.values()];
}

function wayText(endpoint: Endpoint, { unitId, broadcast }: PlannedRequest): string {
  const unit = `unit ${broadcast ? 0 : unitId}`;
  if (endpoint.bound) {
    const { path, settings } = endpoint.bound;
    return `${path}, ${settings.baud} ${settings.dataBits}${settings.parity[0]!.toUpperCase()}${settings.stopBits}, ${unit}`;
  }
  if (endpoint.via === 'station') {
    const { line, outstation } = endpoint.station;
    return outstation ? `${outstation.ip}:${telecontrolPort(line)}, as control station` : `${endpoint.name}, as outstation`;
  }
  if (endpoint.via === 'text') return `${endpoint.leads ?? endpoint.name}, text`;
  return endpoint.via === 'line' ? `${endpoint.name}, ${unit}` : `${endpoint.ip}:${endpoint.tcpPort}, ${unit}`;
}

function place(point: Point, devices: ReadonlyMap<string, Device>): string {
  const device = devices.get(point.deviceId);
  return formatAddress(point, device?.notation ?? 'pdu', device?.areas ?? []);
}

function shape({ type, scale, unit }: Point): string {
  const factor = scale && 'factor' in scale && scale.factor !== 1 ? ` × ${scale.factor}` : '';
  return [`${typeOf(type).name}${factor}`, unit].filter(Boolean).join(' ');
}

/** A point without what is only said of it. */
function meaningOf(point: Point): object {
  return { ...point, name: undefined, note: undefined };
}
