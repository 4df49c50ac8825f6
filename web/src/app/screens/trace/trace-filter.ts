import { isFarLine } from '@plain-envoy/core/converter';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import { isFar, messageOf } from '@plain-envoy/core/place';
import type { Plan } from '@plain-envoy/core/plan';
import type { End, TraceFilter } from '@plain-envoy/core/trace';

/** How an exchange ended that is looked for. */
export type Shown = 'all' | 'trouble' | End;

/** What is looked for, as it stands in the fields. */
interface Wanted {
  text: string;
  deviceId: string;
  code: string;
  shown: Shown;
}

/** What is asked of the server. A text is looked for among devices, points and routes of the plan, or among the bytes if it is hex. */
export function filterOf(
  { text, deviceId, code, shown }: Wanted,
  plan: Plan,
  document: ProjectDocument,
  points: ReadonlyMap<string, Point>,
): TraceFilter {
  const words = text.trim().toLowerCase();
  const isHex = /^([0-9a-f]{2}\s+)+[0-9a-f]{2}$/.test(words);
  const unit = /^unit (\d+)$/.exec(words)?.[1];
  const named = isHex || unit ? '' : words;
  return {
    ...(deviceId || named
      ? { requestIds: [...requestsOf(named, deviceId, plan, points), ...sendersOf(named, deviceId, document, points)] }
      : {}),
    ...(isHex ? { hex: words } : {}),
    ...(unit ? { unit: Math.min(255, Number(unit)) } : {}),
    ...(code ? { functionCode: Number(code) } : {}),
    ...(shown === 'trouble' ? { onlyTrouble: true } : shown === 'all' ? {} : { end: shown }),
  };
}

/** Requests of a device, or of all, that have to do with what is called so. */
function requestsOf(words: string, deviceId: string, { requests, routes }: Plan, points: ReadonlyMap<string, Point>): string[] {
  const byRoute = new Set(routes.flatMap(({ name, readId, writeId }) => (name.toLowerCase().includes(words) ? [readId, writeId] : [])));
  const fits = (text: string | undefined) => !!text?.toLowerCase().includes(words);
  return requests
    .filter((request) => !deviceId || request.deviceId === deviceId)
    .filter(
      (request) =>
        !words ||
        byRoute.has(request.id) ||
        fits(request.deviceName) ||
        request.points.some(({ pointId }) => fits(points.get(pointId)?.name)),
    )
    .map(({ id }) => id);
}

/** Who sends on the lines of text and of CAN that have to do with it: their ports, and a terminal, which goes by the line itself. */
function sendersOf(words: string, deviceId: string, document: ProjectDocument, points: ReadonlyMap<string, Point>): string[] {
  const { devices, lines, ports, routes, telegrams, frames } = document;
  const fits = (text: string | undefined) => !!text?.toLowerCase().includes(words);
  const inMessage = ({ place, deviceId: id }: Point) => (isFar(place) ? (messageOf(place) ?? id) : null);
  const named = new Set(
    [
      ...[...points.values()].filter(({ name }) => fits(name)),
      ...routes
        .filter(({ name }) => fits(name))
        .flatMap(({ sourceId, destinationId }) => [points.get(sourceId), points.get(destinationId)]),
    ].map((point) => point && inMessage(point)),
  );
  return lines.filter(isFarLine).flatMap(({ id, name }) => {
    const here = ports.filter(({ lineId }) => lineId === id);
    const there = new Set(here.map((port) => port.deviceId));
    const isMeant =
      !words ||
      fits(name) ||
      devices.some((device) => there.has(device.id) && (fits(device.name) || named.has(device.id))) ||
      [...telegrams, ...frames].some((one) => there.has(one.deviceId) && (fits(one.name) || named.has(one.id)));
    return isMeant && (!deviceId || there.has(deviceId)) ? [id, ...here.map((port) => port.id)] : [];
  });
}
