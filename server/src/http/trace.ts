import { Readable } from 'node:stream';
import { rowOf, teller, TraceFilter, TraceTrigger } from '@plain-envoy/core/trace';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { exportTrace, idsOf, peersOf } from '../files/index.js';
import { sendFile } from './send-file.js';
import { ById, type Services } from './services.js';

/** So many rows one question brings at most. */
const MAX_ROWS = 1000;
const MAX_EXPORTED = 100_000;

const UpTo = z.int().min(0).nullable().describe('The last number that counts; none: all');
const AskTrace = z.strictObject({
  filter: TraceFilter,
  upTo: UpTo,
  from: z.int().describe('From this position on, the oldest first; a negative one counts from the newest'),
  count: z.int().min(0).max(MAX_ROWS, `At most ${MAX_ROWS} at a time.`),
});
const AskTrigger = z.strictObject({ trigger: TraceTrigger.nullable() });
const AskCapture = z.strictObject({ filter: TraceFilter });
const OfCapture = z.object({ id: ById.shape.id, captureId: z.uuid('That is no id of a capture.') });
const AskFile = z.strictObject({ filter: TraceFilter, upTo: UpTo, format: z.enum(idsOf('trace')) });

/** What went over the wire, found by filters, and as files. */
export function addTrace(instance: FastifyInstance, { projects, workplaces }: Pick<Services, 'projects' | 'workplaces'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.post('/api/projects/:id/trace', { schema: { params: ById, body: AskTrace } }, async (request) => {
    const { filter, ...part } = request.body;
    const { bench, captures } = workplaces.of(request.params.id);
    const { records, ...found } = await bench.trace(request.params.id, filter, part);
    return { ...found, files: captures.list(), rows: records.map(rowOf) };
  });
  app.post('/api/projects/:id/trace/captures', { schema: { params: ById, body: AskCapture } }, async (request) => {
    const { document } = await projects.get(request.params.id);
    const { bench, captures } = workplaces.of(document.project.id);
    const { filter } = request.body;
    return captures.begin({ filter, peerOf: peersOf(document), tell: teller(document, []), since: bench.since(document.project.id) });
  });
  app.get('/api/projects/:id/trace/captures/:captureId.pcapng', { schema: { params: OfCapture } }, (request, reply) => {
    const body = Readable.from(workplaces.of(request.params.id).captures.fetch(request.params.captureId), { objectMode: false });
    return reply
      .header('content-type', 'application/octet-stream')
      .header('content-disposition', 'attachment; filename="capture.pcapng"')
      .send(body);
  });
  app.delete('/api/projects/:id/trace/captures/:captureId', { schema: { params: OfCapture } }, (request) => {
    const { captures } = workplaces.of(request.params.id);
    captures.end(request.params.captureId);
    return { files: captures.list() };
  });
  app.put('/api/projects/:id/trace/trigger', { schema: { params: ById, body: AskTrigger } }, (request) => {
    workplaces.of(request.params.id).bench.capture(request.params.id, request.body.trigger);
    return request.body;
  });
  app.post('/api/projects/:id/trace/file', { schema: { params: ById, body: AskFile } }, async (request, reply) => {
    const { filter, upTo, format } = request.body;
    const { document } = await projects.get(request.params.id);
    const { records } = await workplaces
      .of(request.params.id)
      .bench.trace(request.params.id, filter, { upTo, from: 0, count: MAX_EXPORTED });
    return sendFile(reply, await exportTrace(document, records, format));
  });
}
