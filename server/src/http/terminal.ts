import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { AskTerminal, AskText } from '../terminal/index.js';
import { ById, type Services } from './services.js';
import { hangUp, streamOnceBegun } from './stream.js';

const OfLine = z.object({ id: ById.shape.id, lineId: z.uuid('That is no id of a line.') });

/** The terminals of text lines. */
export function addTerminal(instance: FastifyInstance, { projects, workplaces }: Pick<Services, 'projects' | 'workplaces'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.post('/api/projects/:id/lines/:lineId/terminal', { schema: { params: OfLine, body: AskTerminal } }, async (request, reply) => {
    const { id, lineId } = request.params;
    const { document } = await projects.get(id);
    const { terminals, played } = workplaces.of(id);
    if (request.body.on === 'stand-ins') await played.ensure(document);
    return streamOnceBegun(reply, terminals.open(document, lineId, request.body.on, hangUp(reply)));
  });
  app.post('/api/projects/:id/lines/:lineId/terminal/send', { schema: { params: OfLine, body: AskText } }, async (request) => {
    const { id, lineId } = request.params;
    const { document } = await projects.get(id);
    await workplaces.of(id).terminals.send(document, lineId, request.body);
    return {};
  });
}
