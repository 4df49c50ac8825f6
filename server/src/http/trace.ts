import { rowOf, TraceFilter, TraceTrigger } from '@plain-envoy/core/trace';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { exportTrace, traceFormats } from '../files/index.js';
import { ById, type Services } from './services.js';

/** So many rows one question brings at most. */
const MOST_ROWS = 1000;
const MOST_EXPORTED = 100_000;

const UpTo = z.int().min(0).nullable().describe('The last number that counts; none: all');
const AskTrace = z.strictObject({
  filter: TraceFilter,
  upTo: UpTo,
  from: z.int().describe('From this position on, the oldest first; a negative one counts from the newest'),
  count: z.int().min(0).max(MOST_ROWS, `At most ${MOST_ROWS} at a time.`),
});
const AskTrigger = z.strictObject({ trigger: TraceTrigger.nullable() });
const AskFile = z.strictObject({ filter: TraceFilter, upTo: UpTo, format: z.enum(traceFormats) });

/** What went over the wire, found by filters, and as files. */
export function addTrace(instance: FastifyInstance, { projects, bench }: Pick<Services, 'projects' | 'bench'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.post('/api/projects/:id/trace', { schema: { params: ById, body: AskTrace } }, async (request) => {
    const { filter, ...part } = request.body;
    const { records, ...found } = await bench.trace(request.params.id, filter, part);
    return { ...found, rows: records.map(rowOf) };
  });
  app.put('/api/projects/:id/trace/trigger', { schema: { params: ById, body: AskTrigger } }, (request) => {
    bench.capture(request.params.id, request.body.trigger);
    return request.body;
  });
  app.post('/api/projects/:id/trace/file', { schema: { params: ById, body: AskFile } }, async (request, reply) => {
    const { filter, upTo, format } = request.body;
    const { document } = await projects.get(request.params.id);
    const { records } = await bench.trace(request.params.id, filter, { upTo, from: 0, count: MOST_EXPORTED });
    const { type, name, body } = exportTrace(document, records, format);
    return reply.header('content-type', type).header('content-disposition', `attachment; filename="${name}"`).send(body);
  });
}
