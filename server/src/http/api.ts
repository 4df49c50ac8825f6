import { ChangeSet, Project } from '@plain-envoy/core/model';
import { describeReckoners, reckon } from '@plain-envoy/core/reckoner';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { v7 as newId } from 'uuid';
import { z } from 'zod';
import { refuse } from '../problem/index.js';
import { addBench } from './bench.js';
import { addTrace } from './trace.js';
import { addMaps } from './maps.js';
import { addProofs } from './proofs.js';
import { ById, type Services } from './services.js';
import { compile } from '@plain-envoy/core/compile';

const ByDevice = z.object({ deviceId: z.uuid('That is no id of a device.') });
const EMPTY = undefined;

export function addApi(instance: FastifyInstance, services: Services): void {
  const { database, projects, bench, standIns } = services;
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/health', () => ({ database: database.health, bench: bench.state }));

  app.get('/api/projects', () => projects.list());
  app.post('/api/projects', { schema: { body: z.strictObject({ name: Project.shape.name }) } }, async (request, reply) => {
    const project = { id: newId(), name: request.body.name, note: '', resumes: true };
    await projects.create(project);
    return reply.code(201).send(project);
  });
  app.get('/api/projects/:id', { schema: { params: ById } }, (request) => projects.get(request.params.id));
  app.get('/api/projects/:id/export', { schema: { params: ById } }, async (request) => (await projects.get(request.params.id)).document);
  app.get('/api/projects/:id/plan', { schema: { params: ById } }, async (request) =>
    compile((await projects.get(request.params.id)).document),
  );
  app.get('/api/projects/:id/history', { schema: { params: ById } }, (request) => projects.audit(request.params.id, 200));

  app.post('/api/projects/:id/change-sets', { schema: { params: ById, body: ChangeSet } }, (request) =>
    projects.apply(request.params.id, request.body),
  );
  app.post('/api/projects/:id/undo', { schema: { params: ById } }, (request) => projects.step(request.params.id, 'undo'));
  app.post('/api/projects/:id/redo', { schema: { params: ById } }, (request) => projects.step(request.params.id, 'redo'));

  app.get('/api/stand-ins', () => standIns.list());
  app.put('/api/stand-ins/:deviceId/registers', { schema: { params: ByDevice } }, (request) =>
    standIns.hold(request.params.deviceId, request.body),
  );
  app.put('/api/stand-ins/:deviceId/release', { schema: { params: ByDevice } }, (request) =>
    standIns.release(request.params.deviceId, request.body),
  );
  app.put('/api/stand-ins/:deviceId/cut', { schema: { params: ByDevice } }, (request) =>
    standIns.cut(request.params.deviceId, request.body),
  );

  app.put('/api/stand-ins/:deviceId/faults', { schema: { params: ByDevice } }, (request) =>
    standIns.faults(request.params.deviceId, request.body),
  );
  app.put('/api/stand-ins/:deviceId/reboot', { schema: { params: ByDevice } }, (request) =>
    standIns.reboot(request.params.deviceId, request.body),
  );

  addBench(instance, services);
  addTrace(instance, services);
  addProofs(instance, services);
  addMaps(instance, services);

  app.get('/api/reckon', () => describeReckoners());
  app.post('/api/reckon/:name', { schema: { params: z.object({ name: z.string().max(60) }) } }, (request) => {
    const result = reckon(request.params.name, request.body ?? EMPTY);
    return result.ok ? result.value : refuse('does-not-fit', result.problem.message, result.problem.path);
  });
}
