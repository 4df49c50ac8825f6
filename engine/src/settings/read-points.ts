import { compileRead } from '@plain-envoy/core/compile';
import type { SettingEvent } from '@plain-envoy/core/feed';
import { type Point, pointWidth, type ProjectDocument } from '@plain-envoy/core/model';
import type { Endpoint, PlannedRequest } from '@plain-envoy/core/plan';
import { readingOf } from '@plain-envoy/core/settings';
import type { RequestResult } from '../client/index.js';
import { explainFailure, isSilence } from '../runner/index.js';
import type { RequestWay } from './way.js';

export interface PointsOf {
  document: ProjectDocument;
  deviceId: string;
}

/**
 * Reads points of a device in as few requests as it allows. Where it refuses a request that joins several, each is asked for by
 * itself, so that one register which is not there hides no other. A device that does not answer is not asked for the rest.
 */
export async function* readPoints(
  { document, deviceId }: PointsOf,
  points: readonly Point[],
  way: Pick<RequestWay, 'read'>,
): AsyncGenerator<SettingEvent> {
  const from = performance.now();
  const { endpoint, requests, unread } = readingOf(document, deviceId, points);
  const byId = new Map(points.map((point) => [point.id, point]));
  for (const { point, why } of unread) yield { kind: 'unread', pointId: point.id, why };
  let done = unread.length;
  for (const request of requests) {
    const outcome = await way.read({ endpoint: endpoint!, request });
    if (outcome.kind === 'values') {
      for (const { pointId, at, width } of request.points) yield { kind: 'held', pointId, words: outcome.values.slice(at, at + width) };
    } else if (isSilence(outcome)) {
      return yield { kind: 'failed', sentence: explainFailure(outcome, request, endpoint!) };
    } else yield* oneByOne(document, { endpoint: endpoint!, request }, outcome, byId, way);
    done += request.points.length;
    yield { kind: 'progress', done, total: points.length };
  }
  yield { kind: 'done', tookMs: Math.round(performance.now() - from) };
}

async function* oneByOne(
  document: ProjectDocument,
  together: { endpoint: Endpoint; request: PlannedRequest },
  refusal: RequestResult,
  byId: ReadonlyMap<string, Point>,
  way: Pick<RequestWay, 'read'>,
): AsyncGenerator<SettingEvent> {
  const { points } = together.request;
  for (const { pointId } of points) {
    const point = byId.get(pointId)!;
    const read = points.length === 1 ? together : readOf(document, point);
    const outcome = points.length === 1 ? refusal : await way.read(read);
    yield outcome.kind === 'values'
      ? { kind: 'held', pointId, words: outcome.values.slice(0, pointWidth(point)) }
      : { kind: 'unread', pointId, why: explainFailure(outcome, read.request, read.endpoint) };
  }
}

function readOf(document: ProjectDocument, point: Point) {
  const read = compileRead(document, point);
  if (!read.ok) throw new RangeError('What was joined can be read by itself.');
  return read.value;
}
