import { isModbusLine } from '../media/index.js';
import type { ProjectDocument } from '../model/index.js';
import { requestTimeMs, serialLinesOf, type TimedRequest } from './request-time.js';

/** How much of its time a serial line carries requests, as a share of 1, and the request that takes most of it; null where there is none. */
export interface Occupancy<Request extends TimedRequest> {
  share: number;
  longest: { request: Request; share: number } | null;
}

/**
 * How busy requests keep each serial line, by line id; over 1 it cannot keep up. Every request is taken as answered: the figure
 * is what is asked of the line, not what a silent device costs.
 */
export function occupancy<Request extends TimedRequest>(
  document: Pick<ProjectDocument, 'lines' | 'ports'>,
  requests: readonly Request[],
): Map<string, Occupancy<Request>> {
  const lineOf = serialLinesOf(document);
  const busy = new Map<string, Occupancy<Request>>(document.lines.filter(isModbusLine).map(({ id }) => [id, { share: 0, longest: null }]));
  for (const request of requests) {
    const line = lineOf.get(request.deviceId);
    if (!line || request.kind === 'watch' || request.local) continue;
    const share = requestTimeMs(line, request) / request.periodMs;
    const { share: sum, longest } = busy.get(line.id)!;
    busy.set(line.id, { share: sum + share, longest: longest && longest.share >= share ? longest : { request, share } });
  }
  return busy;
}
