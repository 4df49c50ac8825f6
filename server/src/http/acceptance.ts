import '@plain-envoy/core/formula';
import { acceptanceSteps, type Signed, signedOf, Signing, stepKey } from '@plain-envoy/core/acceptance';
import { compile } from '@plain-envoy/core/compile';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { refuse } from '../problem/index.js';
import { ById, type Services } from './services.js';

/** Nobody signs more than this. */
const MOST = 50_000;

/** What was signed of the protocol, and signing a step of it. What was signed is never changed: who finds otherwise signs again. */
export function addAcceptance(instance: FastifyInstance, { projects, evidence }: Pick<Services, 'projects' | 'evidence'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  const kept = ({ atMs, revision, body }: { atMs: number; revision: number; body: Record<string, unknown> }): Signed[] =>
    signedOf([{ kind: 'step', at: new Date(atMs).toISOString(), revision, body }]);

  app.get('/api/projects/:id/acceptance', { schema: { params: ById } }, async (request) =>
    (await evidence.list(request.params.id, 'step', MOST)).reverse().flatMap(kept),
  );
  app.post('/api/projects/:id/acceptance', { schema: { params: ById, body: Signing } }, async (request, reply) => {
    const { id } = request.params;
    const { document, revision } = await projects.get(id);
    const steps = acceptanceSteps({ document, ...compile(document) });
    const step =
      steps.find((one) => stepKey(one) === stepKey(request.body)) ?? refuse('not-there', 'This is no step of the protocol any more.');
    const entry = await evidence.keep(id, 'step', step.of, revision, { ...request.body, rests: step.rests });
    return reply.code(201).send(kept(entry)[0]);
  });
}
