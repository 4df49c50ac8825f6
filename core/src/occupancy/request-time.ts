import type { Table } from '../address/index.js';
import { functionOf, readFunction } from '../frame/index.js';
import { lineTime } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import { isModbusLine, type ModbusLine } from '../media/index.js';

/** What a planned request has that takes time on a line. */
export interface TimedRequest {
  kind: 'read' | 'write' | 'watch';
  deviceId: string;
  local: boolean;
  functionCode: number;
  count: number;
  table: Table;
  also: { count: number } | null;
  withId: string | null;
  partial: 'mask' | 'read' | null;
  release: { functionCode: number; values: readonly unknown[] } | null;
  broadcast: object | null;
  delayMs: number;
  periodMs: number;
}

/** The serial line that a device hangs on, where it speaks Modbus there. */
export function serialLinesOf({ lines, ports }: Pick<ProjectDocument, 'lines' | 'ports'>): Map<string, ModbusLine> {
  const serial = new Map(lines.filter(isModbusLine).map((line) => [line.id, line]));
  return new Map(
    ports.flatMap((port): [string, ModbusLine][] => {
      const line = port.kind === 'serial' ? serial.get(port.lineId) : undefined;
      return line ? [[port.deviceId, line]] : [];
    }),
  );
}

/** How long a request holds a serial line when it is answered, ms; with what comes before or after it where it writes. A read that comes along with a write takes no time of its own. */
export function requestTimeMs(
  line: ModbusLine,
  {
    functionCode,
    count,
    also,
    withId,
    partial,
    release,
    table,
    delayMs,
    broadcast,
  }: Pick<TimedRequest, 'functionCode' | 'count' | 'also' | 'withId' | 'partial' | 'release' | 'table' | 'delayMs' | 'broadcast'>,
): number {
  if (withId !== null) return 0;
  const one = (code: number, many: number) => {
    if (!functionOf(code)) return 0;
    const { settings, framing } = { settings: line, framing: line.framing };
    const times = lineTime({ settings, framing, functionCode: code, count: many, alsoCount: also?.count, responseDelayMs: delayMs });
    return broadcast ? times.requestMs + line.turnaroundMs : times.totalMs;
  };
  const own = partial === 'mask' ? count * one(functionCode, 1) : one(functionCode, count);
  const before = partial === 'read' ? one(readFunction(table).code, count) : 0;
  return own + before + (release ? one(release.functionCode, release.values.length) : 0);
}
