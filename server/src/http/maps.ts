import { MapOptions } from '@plain-envoy/core/format';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { documentMenus, exportMap, exportSheet, idsOf } from '../files/index.js';
import { refuse } from '../problem/index.js';
import { sendFile } from './send-file.js';
import { ById, type Services } from './services.js';
import { stream } from './stream.js';

const FILE_BYTES = 32 * 1024 * 1024;
const OfDevice = z.object({ id: ById.shape.id, deviceId: z.uuid('That is no id of a device.') });
const OfImport = z.object({ importId: z.uuid('That is no id of an import.') });
const Asked = z.object({ format: z.enum(idsOf('map')) });

const OfCarrier = z.object({ id: ById.shape.id, carrierId: z.union([z.uuid('That is no id of a device.'), z.literal('plain-envoy')]) });
const AskedSheet = z.object({ format: z.enum(idsOf('sheet')) });

/** Register maps in and out, and request sheets out. A file is offered, shown with what would become of it, and written only when it is accepted. */
export function addMaps(instance: FastifyInstance, { projects, imports }: Pick<Services, 'projects' | 'imports'>): void {
  instance.addContentTypeParser('application/octet-stream', { parseAs: 'buffer', bodyLimit: FILE_BYTES }, (_request, body, done) =>
    done(null, body),
  );
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.post('/api/projects/:id/devices/:deviceId/imports', { schema: { params: OfDevice }, bodyLimit: FILE_BYTES }, (request) => {
    if (!Buffer.isBuffer(request.body)) refuse('wrong-media', 'A file is sent as application/octet-stream.');
    return imports.offer(request.params.id, request.params.deviceId, request.body);
  });
  app.put('/api/imports/:importId', { schema: { params: OfImport, body: MapOptions } }, (request) =>
    imports.choose(request.params.importId, request.body),
  );
  app.post('/api/imports/:importId/accept', { schema: { params: OfImport } }, async (request, reply) => {
    const events = imports.accept(request.params.importId);
    // What is refused at once is answered as a refusal, not as a stream that fails.
    const first = await events.next();
    return stream(reply, after(first, events));
  });
  app.delete('/api/imports/:importId', { schema: { params: OfImport } }, (request) => {
    imports.drop(request.params.importId);
    return {};
  });

  app.get('/api/documents', () => documentMenus());
  app.get('/api/projects/:id/devices/:deviceId/map', { schema: { params: OfDevice, querystring: Asked } }, async (request, reply) => {
    const { document } = await projects.get(request.params.id);
    return sendFile(reply, await exportMap(document, request.params.deviceId, request.query.format));
  });

  app.get('/api/projects/:id/sheets/:carrierId', { schema: { params: OfCarrier, querystring: AskedSheet } }, async (request, reply) => {
    const { id, carrierId } = request.params;
    const { document } = await projects.get(id);
    return sendFile(reply, await exportSheet(document, carrierId === 'plain-envoy' ? null : carrierId, request.query.format));
  });
}

async function* after<T>(first: IteratorResult<T>, rest: AsyncGenerator<T>): AsyncGenerator<T & object> {
  if (!first.done) yield first.value as T & object;
  yield* rest as AsyncGenerator<T & object>;
}
