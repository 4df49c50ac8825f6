import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { AskFound } from '../as-found/index.js';
import { ById, type Services } from './services.js';
import { stream } from './stream.js';

/** What was seen of devices and lines, and looking at them. */
export function addFound(
  instance: FastifyInstance,
  { projects, revisions, workplaces }: Pick<Services, 'projects' | 'revisions' | 'workplaces'>,
): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/projects/:id/found', { schema: { params: ById } }, (request) =>
    workplaces.of(request.params.id).looking.kept(request.params.id),
  );
  app.post('/api/projects/:id/found', { schema: { params: ById, body: AskFound } }, async (request, reply) => {
    const { id } = request.params;
    const { looking, played } = workplaces.of(id);
    const now = await projects.get(id);
    await played.ensure(now.document);
    const asked = request.body.revision === null ? now : await revisions.at(id, request.body.revision);
    return stream(reply, looking.look(asked, request.body));
  });
}
