import { listSerialPorts } from '@plain-envoy/engine/links';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { AskHosts, AskProof, AskReach, AskRead, AskSettings, AskUnits } from '../prove/index.js';
import { ById, type Services } from './services.js';
import { hangUp, stream } from './stream.js';

const OfRoute = z.object({ id: ById.shape.id, routeId: z.uuid('That is no id of a route.') });

/** Walks, sweeps, searches, and proofs of routes. Each answers with one JSON value a line as it goes on; hanging up ends it. */
export function addProofs(
  instance: FastifyInstance,
  { projects, prover, routeProofs }: Pick<Services, 'projects' | 'prover' | 'routeProofs'>,
): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  const documentOf = async (id: string) => (await projects.get(id)).document;

  app.get('/api/machine/serial-ports', () => listSerialPorts());

  app.get('/api/projects/:id/proofs', { schema: { params: ById } }, (request) => routeProofs.kept(request.params.id));
  app.get('/api/projects/:id/proofs/:routeId', { schema: { params: OfRoute } }, (request) =>
    routeProofs.history(request.params.id, request.params.routeId),
  );
  app.post('/api/projects/:id/prove/routes', { schema: { params: ById, body: AskProof } }, async (request, reply) =>
    stream(reply, routeProofs.prove(await projects.get(request.params.id), request.body, hangUp(reply))),
  );
  app.post('/api/projects/:id/prove/routes/:routeId/skip', { schema: { params: OfRoute } }, (request) => {
    routeProofs.skip(request.params.routeId);
    return { skipped: request.params.routeId };
  });

  app.post('/api/projects/:id/prove/reach', { schema: { params: ById, body: AskReach } }, async (request, reply) =>
    stream(reply, prover.reach(await documentOf(request.params.id), request.body)),
  );
  app.post('/api/projects/:id/prove/units', { schema: { params: ById, body: AskUnits } }, async (request, reply) =>
    stream(reply, prover.units(await documentOf(request.params.id), request.body)),
  );
  app.post('/api/projects/:id/prove/hosts', { schema: { params: ById, body: AskHosts } }, async (request, reply) =>
    stream(reply, prover.hosts(await documentOf(request.params.id), request.body)),
  );
  app.post('/api/projects/:id/prove/read', { schema: { params: ById, body: AskRead } }, async (request, reply) =>
    stream(reply, prover.read(await documentOf(request.params.id), request.body)),
  );
  app.post('/api/projects/:id/prove/settings', { schema: { params: ById, body: AskSettings } }, async (request, reply) =>
    stream(reply, prover.settings(await documentOf(request.params.id), request.body)),
  );
}
