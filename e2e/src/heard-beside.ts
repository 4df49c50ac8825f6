import { middleOf } from '@plain-envoy/core/common';
import { compile } from '@plain-envoy/core/compile';
import { type Point, pointWidth, type ProjectDocument } from '@plain-envoy/core/model';
import { askedIn, type TraceRecord } from '@plain-envoy/core/trace';

interface Share {
  right: number;
  of: number;
}

/** From so many times between two on, they tell the period. */
const ENOUGH = 5;
const MOVED = /moves|goes on|counts up|below 0|come and go/;

/**
 * How far a project that was made from a recording is like the one that was recorded: its questions that were on the wire with the
 * periods that they had there, however busy the machine was, and points that moved.
 */
export function heardBeside(
  plant: ProjectDocument,
  heard: ProjectDocument,
  records: readonly TraceRecord[],
): { periods: Share; points: Share } {
  const onTheWire = new Map<string, number[]>();
  for (const record of records) {
    if (record.atMs === null) continue;
    const asked = askedIn(record)?.span;
    const key = `${record.endpointId.split(':')[0]} ${record.unit} ${record.functionCode} ${asked?.offset} ${asked?.count}`;
    onTheWire.set(key, [...(onTheWire.get(key) ?? []), record.atMs]);
  }
  const { requests: theirs, endpoints } = compile(plant).plan;
  const ours = compile(heard).plan.requests;
  // Several devices on a network have one unit ID, and may be asked alike.
  const addressOf = new Map(endpoints.map((endpoint) => [endpoint.id, endpoint.via === 'ethernet' ? endpoint.ip : '']));
  const unitOf = new Map(ours.map(({ deviceId, unitId }) => [deviceId, unitId]));
  const periodsAt = new Map<string, number[]>();
  for (const { unitId, table, offset, count, periodMs } of ours) {
    for (let at = offset; at < offset + count; at++) {
      const key = `${unitId} ${table} ${at}`;
      periodsAt.set(key, [...(periodsAt.get(key) ?? []), periodMs]);
    }
  }
  const periods: Share = { right: 0, of: 0 };
  for (const { endpointId, unitId, functionCode, table, offset, count, periodMs } of theirs) {
    const times = onTheWire.get(`${addressOf.get(endpointId)} ${unitId} ${functionCode} ${offset} ${count}`);
    if (!times) continue;
    periods.of += 1;
    const gaps = times.slice(1).map((ms, index) => ms - times[index]!);
    const wasMs = gaps.length >= ENOUGH ? middleOf(gaps) : periodMs;
    const both = [offset, offset + count - 1].map((at) => periodsAt.get(`${unitId} ${table} ${at}`));
    if (both.every((known) => known?.some((period) => Math.abs(period / wasMs - 1) <= 0.05))) periods.right += 1;
  }
  const covering = new Map<string, Point>();
  for (const point of heard.points) {
    const unit = unitOf.get(point.deviceId);
    if (unit === undefined) continue;
    for (let at = point.offset; at < point.offset + pointWidth(point); at++) covering.set(`${unit} ${point.table} ${at}`, point);
  }
  const points: Share = { right: 0, of: 0 };
  for (const unitId of new Set(theirs.map((request) => `${request.deviceId} ${request.unitId}`))) {
    const [deviceId, unit] = unitId.split(' ');
    for (const point of plant.points.filter((own) => own.deviceId === deviceId && own.bit === null)) {
      const found = covering.get(`${unit} ${point.table} ${point.offset}`);
      if (!found || !MOVED.test(found.note)) continue;
      points.of += 1;
      const width = pointWidth(point);
      if (found.offset === point.offset && pointWidth(found) === width && (width === 1 || found.order === point.order)) points.right += 1;
    }
  }
  return { periods, points };
}
