import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { AskHosts, AskLosses, AskProof, AskReach, AskRead, AskSettings, AskUnits } from '../prove/index.js';
import { ById, type Services } from './services.js';
import { hangUp, stream } from './stream.js';

const OfRoute = z.object({ id: ById.shape.id, routeId: z.uuid('That is no id of a route.') });

/** Walks, sweeps, searches, and proofs of routes. Each answers with one JSON value a line as it goes on; hanging up ends it. */
export function addProofs(instance: FastifyInstance, { projects, workplaces }: Pick<Services, 'projects' | 'workplaces'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  const proofsOf = (projectId: string) => workplaces.of(projectId).routeProofs;
  /** Who walks for a project, whose stand-ins are at their places. */
  const walking = async (projectId: string) => {
    const { document } = await projects.get(projectId);
    const { prover, played } = workplaces.of(projectId);
    await played.ensure(document);
    return { prover, document };
  };

  app.get('/api/projects/:id/proofs', { schema: { params: ById } }, (request) => proofsOf(request.params.id).kept(request.params.id));
  app.get('/api/projects/:id/proofs/:routeId', { schema: { params: OfRoute } }, (request) =>
    proofsOf(request.params.id).history(request.params.id, request.params.routeId),
  );
  app.post('/api/projects/:id/prove/routes', { schema: { params: ById, body: AskProof } }, async (request, reply) =>
    stream(reply, proofsOf(request.params.id).prove(await projects.get(request.params.id), request.body, hangUp(reply))),
  );
  app.post('/api/projects/:id/prove/routes/:routeId/skip', { schema: { params: OfRoute } }, (request) => {
    proofsOf(request.params.id).skip(request.params.routeId);
    return { skipped: request.params.routeId };
  });

  app.get('/api/projects/:id/losses/measured', { schema: { params: ById } }, (request) =>
    proofsOf(request.params.id).measured(request.params.id),
  );
  app.post('/api/projects/:id/prove/losses', { schema: { params: ById, body: AskLosses } }, async (request, reply) =>
    stream(reply, proofsOf(request.params.id).measure(await projects.get(request.params.id), request.body, hangUp(reply))),
  );

  app.post('/api/projects/:id/prove/reach', { schema: { params: ById, body: AskReach } }, async (request, reply) => {
    const { prover, document } = await walking(request.params.id);
    return stream(reply, prover.reach(document, request.body));
  });
  app.post('/api/projects/:id/prove/units', { schema: { params: ById, body: AskUnits } }, async (request, reply) => {
    const { prover, document } = await walking(request.params.id);
    return stream(reply, prover.units(document, request.body));
  });
  app.post('/api/projects/:id/prove/hosts', { schema: { params: ById, body: AskHosts } }, async (request, reply) => {
    const { prover, document } = await walking(request.params.id);
    return stream(reply, prover.hosts(document, request.body));
  });
  app.post('/api/projects/:id/prove/read', { schema: { params: ById, body: AskRead } }, async (request, reply) => {
    const { prover, document } = await walking(request.params.id);
    return stream(reply, prover.read(document, request.body));
  });
  app.post('/api/projects/:id/prove/settings', { schema: { params: ById, body: AskSettings } }, async (request, reply) => {
    const { prover, document } = await walking(request.params.id);
    return stream(reply, prover.settings(document, request.body));
  });
}
