import { ChangeSet } from '@plain-envoy/core/model';
import { describeReckoners, reckon } from '@plain-envoy/core/reckoner';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { refuse } from '../problem/index.js';
import { addAttachments } from './attachments.js';
import { addBench } from './bench.js';
import { addTrace } from './trace.js';
import { addLibrary } from './library.js';
import { addWords } from './words.js';
import { addMachine } from './machine.js';
import { addAcceptance } from './acceptance.js';
import { addBook } from './book.js';
import { addFound } from './found.js';
import { addMaps } from './maps.js';
import { addProofs } from './proofs.js';
import { addProjects } from './projects.js';
import { addRevisions } from './revisions.js';
import { ById, type Services } from './services.js';
import { addSettings } from './settings.js';
import { addStandIns } from './stand-ins.js';
import { addTerminal } from './terminal.js';
import { compile } from '@plain-envoy/core/compile';

const EMPTY = undefined;

export function addApi(instance: FastifyInstance, services: Services): void {
  const { database, projects, workplaces } = services;
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/health', () => ({
    database: database.health,
    running: workplaces.all().flatMap(({ bench, projectId }) => (bench.state.running ? [projectId] : [])),
  }));

  app.get('/api/projects/:id', { schema: { params: ById } }, (request) => projects.get(request.params.id));
  app.get('/api/projects/:id/plan', { schema: { params: ById } }, async (request) =>
    compile((await projects.get(request.params.id)).document),
  );

  app.post('/api/projects/:id/change-sets', { schema: { params: ById, body: ChangeSet } }, (request) =>
    projects.apply(request.params.id, request.body),
  );
  app.post('/api/projects/:id/undo', { schema: { params: ById } }, (request) => projects.step(request.params.id, 'undo'));
  app.post('/api/projects/:id/redo', { schema: { params: ById } }, (request) => projects.step(request.params.id, 'redo'));

  addProjects(instance, services);
  addRevisions(instance, services);
  addStandIns(instance, services);
  addBench(instance, services);
  addTrace(instance, services);
  addProofs(instance, services);
  addSettings(instance, services);
  addTerminal(instance, services);
  addMachine(instance, services);
  addAttachments(instance, services);
  addMaps(instance, services);
  addBook(instance, services);
  addFound(instance, services);
  addAcceptance(instance, services);
  addLibrary(instance, services);
  addWords(instance, services);

  app.get('/api/reckon', () => describeReckoners());
  app.post('/api/reckon/:name', { schema: { params: z.object({ name: z.string().max(60) }) } }, (request) => {
    const result = reckon(request.params.name, request.body ?? EMPTY);
    return result.ok ? result.value : refuse('does-not-fit', result.problem.message, result.problem.path);
  });
}
