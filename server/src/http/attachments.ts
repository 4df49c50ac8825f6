import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { MAX_ATTACHMENT } from '../attachments/index.js';
import { deviceOf } from '../prove/index.js';
import { bytesOf } from './bytes.js';
import { ById, type Services } from './services.js';

const OfDevice = z.object({ id: ById.shape.id, deviceId: z.uuid('That is no id of a device.') });
const OfAttachment = z.object({ id: ById.shape.id, attachmentId: z.uuid('That is no id of an attachment.') });
const Named = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'A file has a name.')
    .max(200, 'A name has at most 200 characters.')
    // eslint-disable-next-line no-control-regex
    .regex(/^[^\u0000-\u001f/\\]+$/, 'A name of a file has no slashes and no control characters.'),
});

/** What a browser may show by itself, by its first bytes; all else is saved. */
const shown: readonly (readonly [mediaType: string, starts: readonly number[]])[] = [
  ['application/pdf', [0x25, 0x50, 0x44, 0x46]],
  ['image/png', [0x89, 0x50, 0x4e, 0x47]],
  ['image/jpeg', [0xff, 0xd8, 0xff]],
];

/** Files that belong to devices. */
export function addAttachments(instance: FastifyInstance, { projects, attachments }: Pick<Services, 'projects' | 'attachments'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/projects/:id/attachments', { schema: { params: ById } }, (request) => attachments.list(request.params.id));
  app.post(
    '/api/projects/:id/devices/:deviceId/attachments',
    { schema: { params: OfDevice, querystring: Named }, bodyLimit: MAX_ATTACHMENT + 1 },
    async (request, reply) => {
      const { id, deviceId } = request.params;
      const { document } = await projects.get(id);
      deviceOf(document, deviceId);
      return reply.code(201).send(await attachments.keep(id, deviceId, request.query.name, bytesOf(request)));
    },
  );
  app.get('/api/projects/:id/attachments/:attachmentId', { schema: { params: OfAttachment } }, async (request, reply) => {
    const { name, bytes } = await attachments.get(request.params.id, request.params.attachmentId);
    const mediaType = shown.find(([, starts]) => starts.every((byte, index) => bytes[index] === byte))?.[0];
    // What could run as a page of ours is only saved.
    return reply
      .header('content-type', mediaType ?? 'application/octet-stream')
      .header('x-content-type-options', 'nosniff')
      .header('content-disposition', `${mediaType ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(name)}`)
      .send(bytes);
  });
  app.delete('/api/projects/:id/attachments/:attachmentId', { schema: { params: OfAttachment } }, async (request) => {
    await attachments.drop(request.params.id, request.params.attachmentId);
    return {};
  });
}
