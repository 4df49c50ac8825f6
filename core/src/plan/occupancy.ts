import { isModbusLine } from '../media/index.js';
import type { ProjectDocument } from '../model/index.js';
import type { Plan } from './plan.js';
import { requestTimeMs, serialLinesOf } from './request-time.js';

/**
 * How much of its time each serial line carries the plan's requests, as a share of 1, by line id; over 1 it cannot keep up.
 * Every request is taken as answered: the figure is what the plan asks of the line, not what a silent device costs.
 */
export function occupancy(document: ProjectDocument, { requests }: Plan): Map<string, number> {
  const lineOf = serialLinesOf(document);
  const busy = new Map<string, number>(document.lines.filter(isModbusLine).map(({ id }) => [id, 0]));
  for (const request of requests) {
    const line = lineOf.get(request.deviceId);
    if (!line || request.kind === 'watch' || request.local) continue;
    busy.set(line.id, busy.get(line.id)! + requestTimeMs(line, request) / request.periodMs);
  }
  return busy;
}
