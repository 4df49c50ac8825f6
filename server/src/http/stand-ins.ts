import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { ById, type Services } from './services.js';

const OfDevice = z.object({ id: ById.shape.id, deviceId: z.uuid('That is no id of a device.') });

const OfLine = z.object({ id: ById.shape.id, lineId: z.uuid('That is no id of a line.') });

/** The stand-ins of a project: who is there, what they hold, and what they do wrong. */
export function addStandIns(instance: FastifyInstance, { projects, workplaces }: Pick<Services, 'projects' | 'workplaces'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  const playedOf = async (projectId: string) => {
    const { document } = await projects.get(projectId);
    const { played, standIns } = workplaces.of(projectId);
    await played.ensure(document);
    return standIns;
  };
  app.get('/api/projects/:id/stand-ins', { schema: { params: ById } }, async ({ params }) => (await playedOf(params.id)).list());
  app.get('/api/projects/:id/stand-ins/:deviceId/variables', { schema: { params: OfDevice } }, async ({ params }) =>
    (await playedOf(params.id)).variables(params.deviceId),
  );
  app.get('/api/projects/:id/stand-ins/:deviceId/image', { schema: { params: OfDevice } }, async ({ params }) =>
    (await playedOf(params.id)).image(params.deviceId),
  );
  app.get(
    '/api/projects/:id/stand-ins/:deviceId/archive',
    { schema: { params: OfDevice, querystring: z.object({ pointId: z.uuid('That is no id of a point.').optional() }) } },
    async ({ params, query }) => (await playedOf(params.id)).archive(params.deviceId, query.pointId),
  );
  app.get('/api/projects/:id/lines/:lineId/can', { schema: { params: OfLine } }, async ({ params }) =>
    (await playedOf(params.id)).canLine(params.lineId),
  );
  for (const form of ['log', 'csv'] as const)
    app.get(`/api/projects/:id/lines/:lineId/can.${form}`, { schema: { params: OfLine } }, async ({ params }, reply) =>
      reply
        .header('content-disposition', `attachment; filename="frames.${form}"`)
        .type(form === 'csv' ? 'text/csv; charset=utf-8' : 'text/plain; charset=utf-8')
        .send(await (await playedOf(params.id)).canLog(params.lineId, form)),
    );
  for (const [what, does] of [
    ['registers', 'hold'],
    ['release', 'release'],
    ['cut', 'cut'],
    ['faults', 'faults'],
    ['reboot', 'reboot'],
    ['image', 'poke'],
    ['command', 'command'],
  ] as const)
    app.put(`/api/projects/:id/stand-ins/:deviceId/${what}`, { schema: { params: OfDevice } }, async ({ params, body }) =>
      (await playedOf(params.id))[does](params.deviceId, body),
    );
}
