import type { FastifyReply } from 'fastify';
import type { DocumentFile } from '../files/index.js';

/** Answers with a document that the browser saves. */
export function sendFile(reply: FastifyReply, { mediaType, name, body }: DocumentFile): FastifyReply {
  return reply.header('content-type', mediaType).header('content-disposition', `attachment; filename="${name}"`).send(body);
}
