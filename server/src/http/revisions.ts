import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { AskName } from '../projects/index.js';
import { ById, type Services } from './services.js';

const OfRevision = z.object({
  id: ById.shape.id,
  revision: z.coerce.number().int('A revision is a whole number.').min(0, 'Revisions count from 0.'),
});

/** What a project was at each of its revisions, who made it so, and which have names. */
export function addRevisions(instance: FastifyInstance, { revisions }: Pick<Services, 'revisions'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/projects/:id/revisions', { schema: { params: ById } }, (request) => revisions.list(request.params.id));
  app.get('/api/projects/:id/revisions/:revision', { schema: { params: OfRevision } }, (request) =>
    revisions.at(request.params.id, request.params.revision),
  );
  app.put('/api/projects/:id/revisions/:revision/name', { schema: { params: OfRevision, body: AskName } }, async (request) => {
    await revisions.name(request.params.id, request.params.revision, request.body);
    return revisions.list(request.params.id);
  });
}
