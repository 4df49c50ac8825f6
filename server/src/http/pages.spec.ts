import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fastify, { type FastifyInstance } from 'fastify';
import { addPages } from './pages.js';

describe('The page', () => {
  let folder: string;
  let app: FastifyInstance;

  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'pages-'));
    await writeFile(join(folder, 'index.html'), '<html><style nonce="NONCE"></style></html>');
    await writeFile(join(folder, 'main.js'), 'go();');
    app = fastify();
    await addPages(app, folder);
  });
  afterAll(async () => {
    await app.close();
    await rm(folder, { recursive: true });
  });

  it('is what every address of a screen shows, with what follows it', async () => {
    for (const url of ['/', '/routes', '/registers?device=1', '/trace/file', '/no-such-screen']) {
      const { statusCode, headers, body } = await app.inject(url);
      expect([statusCode, headers['cache-control']]).withContext(url).toEqual([200, 'no-store']);
      expect(headers['content-type']).toContain('text/html');
      expect(body).not.toContain('NONCE');
    }
  });

  it('has a nonce of its own each time', async () => {
    const [first, second] = [await app.inject('/site'), await app.inject('/site')];
    expect(first.body).not.toBe(second.body);
    const nonce = /nonce="([^"]+)"/.exec(first.body)![1]!;
    expect(first.headers['content-security-policy']).toContain(`'nonce-${nonce}'`);
  });

  it('stands for no file that is missing, and for nothing of the API', async () => {
    expect((await app.inject('/main.js')).body).toBe('go();');
    for (const url of ['/gone.js', '/api', '/api/nothing', '/api/projects/1?x=/site', '/assets/gone.woff2'])
      expect((await app.inject(url)).statusCode)
        .withContext(url)
        .toBe(404);
    expect((await app.inject({ url: '/site', method: 'POST' })).statusCode).toBe(404);
  });
});
