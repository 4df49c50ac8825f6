import { MapOptions } from '@plain-envoy/core/format';
import { Paper } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import {
  documentMenus,
  exportLosses,
  exportMap,
  exportMapping,
  exportProgram,
  exportSheet,
  exportVariables,
  idsOf,
} from '../files/index.js';
import { bytesOf } from './bytes.js';
import { sendFile } from './send-file.js';
import { ById, type Services } from './services.js';
import { hangUp, streamOnceBegun } from './stream.js';

const FILE_BYTES = 32 * 1024 * 1024;
const OfDevice = z.object({ id: ById.shape.id, deviceId: z.uuid('That is no id of a device.') });
const OfImport = z.object({ importId: z.uuid('That is no id of an import.') });
/** `papersFrom`: what is taken in is the manual of the device, and this says which. */
const AskAccept = z.strictObject({ papersFrom: Paper.shape.source.nullable().default(null) }).nullish();
const Asked = z.object({ format: z.enum(idsOf('map')) });

const AskedMapping = z.object({ format: z.enum(idsOf('mapping')) });
const OfCarrier = z.object({ id: ById.shape.id, carrierId: z.union([z.uuid('That is no id of a device.'), z.literal('plain-envoy')]) });
const AskedVariables = z.object({ format: z.enum(idsOf('variables')) });
const AskedProgram = z.object({ format: z.enum(idsOf('program')) });
const AskedLosses = z.object({ format: z.enum(idsOf('losses')) });
const AskedSheet = z.object({ format: z.enum(idsOf('sheet')) });

/** Register maps in and out, and request sheets out. A file is offered, shown with what would become of it, and written only when it is accepted. */
export function addMaps(instance: FastifyInstance, { projects, imports }: Pick<Services, 'projects' | 'imports'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.post('/api/projects/:id/devices/:deviceId/imports', { schema: { params: OfDevice }, bodyLimit: FILE_BYTES }, (request, reply) =>
    streamOnceBegun(reply, imports.offer(request.params.id, request.params.deviceId, bytesOf(request), hangUp(reply))),
  );
  app.put('/api/imports/:importId', { schema: { params: OfImport, body: MapOptions } }, (request) =>
    imports.choose(request.params.importId, request.body),
  );
  app.post('/api/imports/:importId/accept', { schema: { params: OfImport, body: AskAccept } }, (request, reply) =>
    streamOnceBegun(reply, imports.accept(request.params.importId, request.body?.papersFrom ?? null)),
  );
  app.delete('/api/imports/:importId', { schema: { params: OfImport } }, (request) => {
    imports.drop(request.params.importId);
    return {};
  });

  app.get('/api/documents', () => documentMenus());
  app.get('/api/projects/:id/devices/:deviceId/map', { schema: { params: OfDevice, querystring: Asked } }, async (request, reply) => {
    const { document } = await projects.get(request.params.id);
    return sendFile(reply, await exportMap(document, request.params.deviceId, request.query.format));
  });

  app.get(
    '/api/projects/:id/devices/:deviceId/mapping',
    { schema: { params: OfDevice, querystring: AskedMapping } },
    async (request, reply) => {
      const { document } = await projects.get(request.params.id);
      return sendFile(reply, await exportMapping(document, request.params.deviceId, request.query.format));
    },
  );

  app.get(
    '/api/projects/:id/devices/:deviceId/variables',
    { schema: { params: OfDevice, querystring: AskedVariables } },
    async (request, reply) => {
      const { document } = await projects.get(request.params.id);
      return sendFile(reply, await exportVariables(document, request.params.deviceId, request.query.format));
    },
  );

  app.get(
    '/api/projects/:id/devices/:deviceId/program',
    { schema: { params: OfDevice, querystring: AskedProgram } },
    async (request, reply) => {
      const { document } = await projects.get(request.params.id);
      return sendFile(reply, await exportProgram(document, request.params.deviceId, request.query.format));
    },
  );

  app.get('/api/projects/:id/losses', { schema: { params: ById, querystring: AskedLosses } }, async (request, reply) => {
    const { document } = await projects.get(request.params.id);
    return sendFile(reply, await exportLosses(document, request.query.format));
  });

  app.get('/api/projects/:id/sheets/:carrierId', { schema: { params: OfCarrier, querystring: AskedSheet } }, async (request, reply) => {
    const { id, carrierId } = request.params;
    const { document } = await projects.get(id);
    return sendFile(reply, await exportSheet(document, carrierId === 'plain-envoy' ? null : carrierId, request.query.format));
  });
}
