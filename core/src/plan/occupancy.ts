import { functionOf } from '../frame/index.js';
import { lineTime } from '../line/index.js';
import type { ProjectDocument, SerialLine } from '../model/index.js';
import type { Plan } from './plan.js';

/** How long a device usually thinks before it answers. */
const THINKS_MS = 5;

/**
 * How much of its time each serial line carries the plan's requests, as a share of 1, by line id; over 1 it cannot keep up.
 * Every request is taken as answered: the figure is what the plan asks of the line, not what a silent device costs.
 */
export function occupancy({ lines, ports }: ProjectDocument, { requests }: Plan): Map<string, number> {
  const lineOf = new Map(ports.filter((port) => port.kind === 'serial').map((port) => [port.deviceId, port.lineId]));
  const serial = new Map(
    lines.filter((line): line is SerialLine => line.kind === 'serial' && line.framing !== 'text').map((line) => [line.id, line]),
  );
  const busy = new Map([...serial.keys()].map((id) => [id, 0]));
  for (const { deviceId, functionCode, count, periodMs, kind } of requests) {
    const line = serial.get(lineOf.get(deviceId) ?? '');
    if (!line || kind === 'watch' || !functionOf(functionCode)) continue;
    const framing = line.framing === 'ascii' ? 'ascii' : 'rtu';
    const { totalMs } = lineTime({ settings: line, framing, functionCode, count, responseDelayMs: THINKS_MS });
    busy.set(line.id, busy.get(line.id)! + totalMs / periodMs);
  }
  return busy;
}
