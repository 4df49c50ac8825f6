import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { AskSettingsRead, AskSettingsWrite, AskSnapshot } from '../settings/index.js';
import { ById, type Services } from './services.js';
import { streamOnceBegun } from './stream.js';

const OfSnapshot = z.object({ id: ById.shape.id, snapshotId: z.uuid('That is no id of a snapshot.') });

/** Settings of devices: read, written and read back, and snapshots of what devices held. */
export function addSettings(instance: FastifyInstance, { projects, workplaces }: Pick<Services, 'projects' | 'workplaces'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  const at = async (projectId: string) => {
    const held = await projects.get(projectId);
    const { settings, played } = workplaces.of(projectId);
    await played.ensure(held.document);
    return { held, settings };
  };

  app.post('/api/projects/:id/settings/read', { schema: { params: ById, body: AskSettingsRead } }, async (request, reply) => {
    const { held, settings } = await at(request.params.id);
    return streamOnceBegun(reply, settings.read(held, request.body));
  });
  app.post('/api/projects/:id/settings/write', { schema: { params: ById, body: AskSettingsWrite } }, async (request, reply) => {
    const { held, settings } = await at(request.params.id);
    return streamOnceBegun(reply, settings.write(held, request.body));
  });
  app.get('/api/projects/:id/snapshots', { schema: { params: ById } }, (request) =>
    workplaces.of(request.params.id).settings.snapshots(request.params.id),
  );
  app.post('/api/projects/:id/snapshots', { schema: { params: ById, body: AskSnapshot } }, async (request, reply) => {
    const { held, settings } = await at(request.params.id);
    return streamOnceBegun(reply, settings.snapshot(held, request.body));
  });
  app.delete('/api/projects/:id/snapshots/:snapshotId', { schema: { params: OfSnapshot } }, async (request) => {
    const { id, snapshotId } = request.params;
    await workplaces.of(id).settings.forget(id, snapshotId);
    return { forgotten: snapshotId };
  });
}
