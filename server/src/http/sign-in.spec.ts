import { fernhollow } from '@plain-envoy/core/demo';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { request } from 'node:https';
import { WebSocket } from 'ws';
import { hostNames, isLoopback, isPassphrase, keepPassphrase, Sessions } from '../access/index.js';
import { type Service, startService } from '../service.js';
import { certificate } from './certificate.spec-helper.js';
import { makeDatabase } from '../testing.spec-helper.js';

const PASSPHRASE = 'seven sacks of barley';
const demo = fernhollow();
const path = `projects/${demo.project.id}`;

describe('signing in', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;
  let kept: string;

  const start = (host: string, passphrase: string | null, tls: { cert: string; key: string } | null = null) =>
    startService({
      ...{ databaseUrl: database.url, host, port: 0, standInsPort: 1, standInsControl: null, webFolder: null, passphrase, tls },
      names: ['plant-office.example'],
    });
  const ask = async (method: string, to: string, body: object | null, headers: Record<string, string> = {}) => {
    const response = await service.app.inject({
      method: method as 'GET',
      url: `/api/${to}`,
      headers: { host: '127.0.0.1', ...headers },
      ...(body ? { payload: body } : {}),
    });
    const told = response.json<{ error?: { code: string; path: string[] } }>();
    return { status: response.statusCode, code: told.error?.code, told, cookie: String(response.headers['set-cookie'] ?? '') };
  };
  const signIn = (passphrase: string, name = 'A. Person', headers: Record<string, string> = {}) =>
    ask('POST', 'sign-in', { name, passphrase }, headers);
  const signedIn = async () => ({ cookie: (await signIn(PASSPHRASE)).cookie.split(';')[0]! });
  const opens = (headers: Record<string, string>) =>
    new Promise<boolean>((done) => {
      const socket = new WebSocket(`ws://127.0.0.1:${service.port}/api/${path}/live`, { headers });
      socket.on('open', () => {
        socket.close();
        done(true);
      });
      socket.on('error', () => done(false));
    });

  beforeAll(async () => {
    kept = await keepPassphrase(PASSPHRASE);
    database = await makeDatabase();
  });
  beforeEach(async () => {
    service = await start('127.0.0.1', kept);
  });
  afterEach(() => service.stop());
  afterAll(() => database.drop());

  it('is needed for everything but the page itself, the feed and arming among it', async () => {
    const arm = { word: demo.project.name, minutes: 5, mark: '' };
    const refused = await Promise.all([
      ask('GET', 'projects', null),
      ask('GET', 'health', null),
      ask('POST', `${path}/change-sets`, { label: 'Edit', baseRevision: 0, changes: [] }),
      ask('PUT', `${path}/bench/armed`, arm),
      ask('PUT', `${path}/armed`, { minutes: 5 }),
      ask('POST', `${path}/bench/run`, { on: 'real' }),
      ask('PUT', `${path}/bench/confirmed`, { mark: '' }, { cookie: 'plain-envoy=made-up' }),
      ask('GET', 'projects?x=/api/session', null),
      ask('GET', '/projects', null),
    ]);
    expect(refused.slice(0, -1).map(({ status, code }) => `${status} ${code}`)).toEqual(refused.slice(1).map(() => '401 not-signed-in'));
    expect(refused.at(-1)!.status).not.toBe(200);
    expect(await opens({})).toBeFalse();
    expect((await ask('GET', 'session', null)).told as unknown).toEqual({ needed: true, name: null });
  });

  it('opens all of it, in a cookie that no script reads and no other site sends', async () => {
    const { status, cookie } = await signIn(PASSPHRASE);
    expect(status).toBe(200);
    expect(cookie).toMatch(/^plain-envoy=[\w-]{43}; Path=\/; HttpOnly; SameSite=Strict$/);
    const headers = await signedIn();
    expect((await ask('GET', 'projects', null, headers)).status).toBe(200);
    expect(await opens(headers)).toBeTrue();
    expect((await ask('GET', 'session', null, headers)).told as unknown).toEqual({ needed: true, name: 'A. Person' });
    await ask('POST', 'sign-out', null, headers);
    expect((await ask('GET', 'projects', null, headers)).status).toBe(401);
  });

  it('puts the name beside what was changed and done', async () => {
    const headers = await signedIn();
    const { note, ...rest } = demo.project;
    const change = { entity: 'project', id: demo.project.id, before: demo.project, after: { ...rest, note: `${note} Ours.` } };
    await ask('POST', `${path}/change-sets`, { label: 'Note', baseRevision: 0, changes: [change] }, headers);
    await ask('PUT', `${path}/armed`, { minutes: 5 }, headers);
    const { entries } = (await ask('GET', `${path}/revisions`, null, headers)).told as never as { entries: { by: string }[] };
    const [edit] = entries;
    const [hand] = (await ask('GET', `${path}/by-hand`, null, headers)).told as never as { by: string; sentence: string }[];
    expect([edit!.by, hand!.by, hand!.sentence]).toEqual(['A. Person', 'A. Person', 'Real devices may be asked for 5 min.']);
  });

  it('is slow to be guessed: after five tries a minute even the right one is refused', async () => {
    for (let number = 0; number < 5; number++) {
      const tried = await signIn(`guess number ${number}`);
      expect([tried.status, tried.code, tried.told.error!.path]).toEqual([401, 'wrong-passphrase', ['passphrase']] as never);
    }
    const after = await signIn(PASSPHRASE);
    expect([after.status, after.code]).toEqual([429, 'too-often']);
  });

  it('asks for a name, and says so at its field', async () => {
    const nameless = await signIn(PASSPHRASE, '  ');
    expect([nameless.status, nameless.told.error!.path]).toEqual([422, ['name']] as never);
  });

  it('helps no page of another site, even with the cookie, and no forged host', async () => {
    const headers = await signedIn();
    const foreign = await ask('GET', 'projects', null, { ...headers, origin: 'http://elsewhere.example' });
    expect([foreign.status, foreign.code]).toEqual([403, 'foreign-asker']);
    const write = await ask('PUT', `${path}/armed`, { minutes: 5 }, { ...headers, origin: 'null' });
    expect(write.status).toBe(403);
    const forged = await ask('GET', 'projects', null, { ...headers, host: 'rebound.example' });
    expect([forged.status, forged.code]).toEqual([403, 'foreign-asker']);
    expect((await signIn(PASSPHRASE, 'A. Person', { host: 'rebound.example' })).status).toBe(403);
    expect((await ask('GET', 'projects', null, { ...headers, host: 'plant-office.example:4310' })).status).toBe(200);
    expect(await opens({ ...headers, origin: 'http://elsewhere.example' })).toBeFalse();
  });

  it('goes over TLS where a certificate is given, with a cookie for nothing else', async () => {
    await service.stop();
    service = await start('127.0.0.1', kept, certificate);
    const answer = await new Promise<{ cookie: string; origin: number }>((done, failed) => {
      const body = JSON.stringify({ name: 'A. Person', passphrase: PASSPHRASE });
      const origin = `https://127.0.0.1:${service.port}`;
      const headers = { 'content-type': 'application/json', origin, 'content-length': body.length };
      const options = { port: service.port, host: '127.0.0.1', path: '/api/sign-in', method: 'POST', ca: certificate.cert };
      request({ ...options, headers, checkServerIdentity: () => undefined }, (response) =>
        done({ cookie: String(response.headers['set-cookie']), origin: response.resume().statusCode ?? 0 }),
      )
        .on('error', failed)
        .end(body);
    });
    expect([answer.origin, answer.cookie]).toEqual([200, jasmine.stringMatching(/; Secure; SameSite=Strict$/)] as never);
  });

  it('is asked of nobody where nothing was set, and has to be set where others reach the server', async () => {
    await service.stop();
    await expectAsync(start('0.0.0.0', null)).toBeRejectedWithError(/--passphrase-file/);
    service = await start('127.0.0.1', null);
    expect((await ask('GET', 'session', null)).told as unknown).toEqual({ needed: false, name: null });
    expect((await ask('GET', 'projects', null)).status).toBe(200);
  });

  it('is not needed to say who one is: what is done stands under the name that somebody gave', async () => {
    await service.stop();
    service = await start('127.0.0.1', null);
    expect((await ask('PUT', 'session', { name: 'x'.repeat(61) })).code).toBe('does-not-fit');
    const called = await ask('PUT', 'session', { name: ' Renée Ørsted ' });
    expect(called.told as unknown).toEqual({ needed: false, name: 'Renée Ørsted' });
    const headers = { cookie: called.cookie.split(';')[0]! };
    expect((await ask('GET', 'session', null, headers)).told as unknown).toEqual({ needed: false, name: 'Renée Ørsted' });
    const { document, revision } = (await ask('GET', path, null)).told as never as { document: ProjectDocument; revision: number };
    const after = { ...document.project, note: 'By name.' };
    const changes = [{ entity: 'project', id: demo.project.id, before: document.project, after }];
    expect((await ask('POST', `${path}/change-sets`, { label: 'Note', baseRevision: revision, changes }, headers)).status).toBe(200);
    const { entries } = (await ask('GET', `${path}/revisions`, null)).told as never as { entries: { by: string | null }[] };
    expect(entries[0]!.by).toBe('Renée Ørsted');
    // The others find the project as it was.
    await ask('POST', `${path}/undo`, {});
    const none = await ask('PUT', 'session', { name: '' }, headers);
    expect([none.told as unknown, none.cookie]).toEqual([{ needed: false, name: null }, jasmine.stringContaining('Max-Age=0')]);
  });
});

describe('what one signs in with', () => {
  it('is kept as salt and hash only, and compared so', async () => {
    const [first, second] = [await keepPassphrase(PASSPHRASE), await keepPassphrase(PASSPHRASE)];
    expect(first).not.toBe(second);
    expect(first).not.toContain('barley');
    expect([await isPassphrase(PASSPHRASE, first), await isPassphrase(`${PASSPHRASE} `, first), await isPassphrase('', first)]).toEqual([
      true,
      false,
      false,
    ]);
    await expectAsync(isPassphrase(PASSPHRASE, 'plain text')).toBeRejectedWithError(/Set it again/);
  });

  it('lasts two hours after the last question, and half a day at most', () => {
    const [sessions, hour] = [new Sessions(), 3_600_000];
    const idle = sessions.begin('One', 0);
    expect(sessions.of(idle, 2 * hour - 1)?.name).toBe('One');
    const { over } = sessions.of(idle, 2 * hour)!;
    expect([sessions.of(idle, 4 * hour), over.aborted]).toEqual([null, true]);
    const busy = sessions.begin('Two', 0);
    for (let at = 0; at < 12; at++) expect(sessions.of(busy, at * hour)?.name).toBe('Two');
    expect(sessions.of(busy, 12 * hour)).toBeNull();
    expect(sessions.of(undefined)).toBeNull();
  });

  it('is needed off this machine, and the server answers by the names that it was given', () => {
    expect(['127.0.0.1', '127.40.8.1', 'localhost', '::1', '0.0.0.0', '::', '10.0.0.4'].map(isLoopback)).toEqual([
      ...[true, true, true, true],
      ...[false, false, false],
    ]);
    expect(hostNames('10.0.0.4', ['Plant'])).toEqual(new Set(['localhost', '127.0.0.1', '[::1]', '10.0.0.4', 'plant']));
    expect(hostNames('0.0.0.0', []).size).toBeGreaterThan(3);
    expect(hostNames('fd00::1', [])).toContain('[fd00::1]');
  });
});
