import { Device, DeviceTemplate } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import type { Services } from './services.js';

const Entry = z.object({ entryId: z.uuid('That is no id of a device of the library.') });
const OfVersion = Entry.extend({ version: z.coerce.number().int('A version is a whole number.').min(1, 'Versions count from 1.') });
const AskGive = z.strictObject({
  template: DeviceTemplate,
  /** The device of the library of which this is the next version; a new one where none is named. */
  as: z.uuid('That is no id of a device of the library.').nullable().default(null),
});
const AskName = z.strictObject({ name: Device.shape.name });
const TEMPLATE_BYTES = 32 * 1024 * 1024;

/** The library of devices, beside all projects. */
export function addLibrary(instance: FastifyInstance, { library }: Pick<Services, 'library'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/library', () => library.list());
  app.post('/api/library', { schema: { body: AskGive }, bodyLimit: TEMPLATE_BYTES }, async (request, reply) =>
    reply.code(201).send(await library.give(request.body.template, request.body.as)),
  );
  app.get('/api/library/:entryId/versions/:version', { schema: { params: OfVersion } }, ({ params }) =>
    library.get(params.entryId, params.version),
  );
  app.put('/api/library/:entryId/name', { schema: { params: Entry, body: AskName } }, async ({ params, body }) => {
    await library.rename(params.entryId, body.name);
    return {};
  });
  app.delete('/api/library/:entryId', { schema: { params: Entry } }, async ({ params }) => {
    await library.remove(params.entryId);
    return {};
  });
}
