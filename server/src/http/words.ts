import { KnownWord } from '@plain-envoy/core/format';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import type { Services } from './services.js';

const Forgotten = KnownWord.pick({ field: true, word: true });

/** What words in manuals mean, for all projects. */
export function addWords(instance: FastifyInstance, { words }: Pick<Services, 'words'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  app.get('/api/words', () => words.list());
  app.put('/api/words', { schema: { body: KnownWord } }, async ({ body }) => {
    await words.learn(body);
    return {};
  });
  app.delete('/api/words', { schema: { querystring: Forgotten } }, async ({ query }) => {
    await words.forget(query);
    return {};
  });
}
