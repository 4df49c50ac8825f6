import { BookChapter } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { chapterOfBook, exportBook, idsOf } from '../files/index.js';
import { madeFile } from './made-file.js';
import { ById, type Services } from './services.js';
import { hangUp, stream } from './stream.js';

const OfChapter = z.object({ id: ById.shape.id, chapter: BookChapter });
const LineId = z.uuid('That is no id of a line.');
const AskBook = z.strictObject({
  format: z.enum(idsOf('book')),
  lineIds: z.array(LineId).min(1, 'At least one line.').nullable().default(null).describe('What it is about; null for the whole project'),
});
const AskChapter = z.object({
  lines: z
    .string()
    .transform((text) => text.split(','))
    .pipe(z.array(LineId))
    .optional()
    .describe('Their ids, parted by commas'),
});

/** The book of a project: a chapter to be read, and all of it as a file. Hanging up ends what makes it. */
export function addBook(instance: FastifyInstance, { catalogue }: Pick<Services, 'catalogue'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/projects/:id/book/:chapter', { schema: { params: OfChapter, querystring: AskChapter } }, async (request, reply) => {
    const { id, chapter } = request.params;
    return chapterOfBook(await catalogue.file(id, 'evidence'), chapter, request.query.lines ?? null, hangUp(reply));
  });
  app.post('/api/projects/:id/book', { schema: { params: ById, body: AskBook } }, async (request, reply) => {
    const { format, lineIds } = request.body;
    const file = await catalogue.file(request.params.id, 'evidence');
    const signal = hangUp(reply);
    return stream(
      reply,
      madeFile(async (tell) => (await exportBook(file, [format], { lineIds, signal, tell }))[0]!),
    );
  });
}
