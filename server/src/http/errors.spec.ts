import fastify, { type FastifyInstance } from 'fastify';
import { serializerCompiler, validatorCompiler, type ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import type { Database } from '../database/index.js';
import { refusals, refuse, type RefusalCode } from '../problem/index.js';
import { explainErrors } from './errors.js';

interface Refused {
  error: { code: RefusalCode; message: string; path: unknown[] } & Record<string, unknown>;
}

describe('What the server refuses', () => {
  let app: FastifyInstance;
  let probes: number;

  beforeEach(() => {
    probes = 0;
    app = fastify({ bodyLimit: 100 });
    app.setValidatorCompiler(validatorCompiler);
    app.setSerializerCompiler(serializerCompiler);
    explainErrors(app, { probe: () => Promise.resolve(void (probes += 1)) } as unknown as Database);
    app.get('/refused/:code', (request) =>
      refuse((request.params as { code: RefusalCode }).code, 'Not like this.', ['value', 2], { current: 7 }),
    );
    app.get('/broken', () => {
      throw new Error('a secret of ours');
    });
    app.get('/unplugged', () => {
      throw Object.assign(new Error('connect'), { code: 'ECONNREFUSED' });
    });
    const body = z.strictObject({ period: z.int().min(10, 'Under 10 ms nothing is asked.') });
    app.withTypeProvider<ZodTypeProvider>().post('/typed', { schema: { body } }, () => ({}));
  });
  afterEach(() => app.close());

  const ask = async (url: string, payload?: string, type = 'application/json') => {
    const response = await app.inject(payload === undefined ? url : { url, method: 'POST', payload, headers: { 'content-type': type } });
    return { status: response.statusCode, ...response.json<Refused>() };
  };

  it('has a code, whose status it is answered with, a sentence, a place, and what else the asker needs', async () => {
    for (const [code, status] of Object.entries(refusals))
      expect(await ask(`/refused/${code}`)).toEqual({
        status,
        error: { code: code as RefusalCode, message: 'Not like this.', path: ['value', 2], current: 7 },
      });
  });

  it('says at its place what does not fit a schema', async () => {
    expect(await ask('/typed', '{"period":5}')).toEqual({
      status: 422,
      error: { code: 'does-not-fit', message: 'Under 10 ms nothing is asked.', path: ['period'] },
    });
  });

  it('tells bodies that are no JSON, too large, or of another kind apart', async () => {
    const of = async (payload: string, type?: string) => {
      const { status, error } = await ask('/typed', payload, type);
      return [status, error.code];
    };
    expect(await of('{"period":')).toEqual([400, 'not-json']);
    expect(await of('')).toEqual([400, 'not-json']);
    expect(await of('period', 'text/csv')).toEqual([415, 'wrong-media']);
    expect(await of(`"${'x'.repeat(200)}"`)).toEqual([413, 'too-large']);
  });

  it('keeps to itself how it failed, and looks after the database where that does not answer', async () => {
    const broken = await ask('/broken');
    expect([broken.status, broken.error.code, broken.error.message.includes('secret')]).toEqual([500, 'server-failed', false]);
    expect(probes).toBe(0);
    const unplugged = await ask('/unplugged');
    expect([unplugged.status, unplugged.error.code, probes]).toEqual([503, 'no-database', 1]);
  });

  it('names an address at which nothing is', async () => {
    expect(await ask('/gone')).toEqual({ status: 404, error: { code: 'not-there', message: 'There is nothing at GET /gone.', path: [] } });
  });
});
