import type { BookEvent } from '@plain-envoy/core/feed';
import { BookChapter } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { chapterOfBook, type DocumentFile, exportBook, idsOf } from '../files/index.js';
import { ProblemError } from '../problem/index.js';
import { progressOf } from '../progress/index.js';
import type { Reached } from '../thread/index.js';
import { ById, type Services } from './services.js';
import { hangUp, stream } from './stream.js';

const OfChapter = z.object({ id: ById.shape.id, chapter: BookChapter });
const AskBook = z.strictObject({ format: z.enum(idsOf('book')) });

/** The book of a project: a chapter to be read, and all of it as a file. Hanging up ends what makes it. */
export function addBook(instance: FastifyInstance, { catalogue }: Pick<Services, 'catalogue'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/projects/:id/book/:chapter', { schema: { params: OfChapter } }, async (request, reply) => {
    const { id, chapter } = request.params;
    return chapterOfBook(await catalogue.file(id, 'evidence'), chapter, hangUp(reply));
  });
  app.post('/api/projects/:id/book', { schema: { params: ById, body: AskBook } }, async (request, reply) => {
    const file = await catalogue.file(request.params.id, 'evidence');
    const signal = hangUp(reply);
    return stream(
      reply,
      making((tell) => exportBook(file, [request.body.format], { signal, tell })),
    );
  });
}

async function* making(make: (tell: (reached: Reached) => void) => Promise<DocumentFile[]>): AsyncGenerator<BookEvent> {
  try {
    const steps = progressOf<Reached, DocumentFile[]>(make);
    let step = await steps.next();
    for (; !step.done; step = await steps.next()) yield { kind: 'progress', ...step.value };
    const [{ name, mediaType, body }] = step.value as [DocumentFile];
    yield { kind: 'done', name, mediaType, base64: Buffer.from(body).toString('base64') };
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    yield { kind: 'failed', sentence: error.problem.message };
  }
}
