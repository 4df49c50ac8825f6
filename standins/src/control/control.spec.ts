import type { StandInState } from '@plain-envoy/core/feed';
import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { SmallProject } from '@plain-envoy/core/testing';
import type { FastifyInstance } from 'fastify';
import { freePort } from '../plant/free-port.spec-helper.js';
import { Plants } from '../plant/index.js';
import { allowOnly, controlInterface } from './index.js';

describe('the control interface of the stand-ins', () => {
  let small: SmallProject;
  let damper: ReturnType<SmallProject['device']>;
  let gateway: ReturnType<SmallProject['device']>;
  let bus: ReturnType<SmallProject['bus']>;
  let plants: Plants;
  let app: FastifyInstance;

  /** Where this project is asked about. */
  const of = () => `/projects/${small.document.project.id}`;
  async function put<T = { error: { message: string; path: string[] } }>(url: string, payload: object) {
    const response = await app.inject({ method: 'PUT', url: of() + url, payload });
    return { status: response.statusCode, body: response.json<T>() };
  }
  const states = async () => (await app.inject({ method: 'GET', url: `${of()}/stand-ins` })).json<StandInState[]>();
  const damperIs = async () => (await states()).find(({ deviceId }) => deviceId === damper.id)!;

  beforeEach(async () => {
    small = new SmallProject();
    const net = small.net('Net', { network: '10.93.9.0/24' });
    bus = small.bus();
    gateway = small.gateway('Gateway', net, bus, { standIn: 'gateway' });
    damper = small.device('Damper', { standIn: BY_ITS_MAP });
    small.port(damper, bus, { unitId: 41 });
    small.device('On paper only');
    plants = new Plants(await freePort('127.0.0.1'));
    app = controlInterface(plants);
    small.point(damper, 'Set point', { offset: 0 });
    small.point(damper, 'Position', { table: 'input', offset: 0 });
    await put('/wiring', wiringOf(small.document));
  });
  afterEach(async () => {
    await app.close();
    await plants.endAll();
  });

  it('says who is there, and of which kind', async () => {
    const told = (await states()).map(({ name, kind, cut, hasRegisters, held, faults }) => [
      name,
      kind,
      cut,
      hasRegisters,
      held.length,
      faults.length,
    ]);
    expect(told).toEqual([
      ['Gateway', 'gateway', false, false, 0, 0],
      ['Damper', BY_ITS_MAP, false, true, 0, 0],
    ]);
  });

  it('answers only who knows the token, by the name of this machine, and no page of a browser', async () => {
    const own = controlInterface(plants);
    allowOnly(own, 'the token');
    const status = async (headers: Record<string, string>) =>
      (await own.inject({ method: 'GET', url: `${of()}/stand-ins`, headers: { host: '127.0.0.1:99', ...headers } })).statusCode;
    const authorization = 'Bearer the token';
    expect(await status({ authorization })).toBe(200);
    expect(await status({})).toBe(403);
    expect(await status({ authorization: 'Bearer the tokem' })).toBe(403);
    expect(await status({ authorization, origin: 'http://127.0.0.1:99' })).toBe(403);
    expect(await status({ authorization, host: 'rebound.example' })).toBe(403);
    await own.close();
  });

  it('cuts a device off, puts it back, and lets it do things wrong', async () => {
    expect((await put(`/stand-ins/${damper.id}/cut`, { cut: true })).body as unknown).toEqual({ cut: true });
    expect((await damperIs()).cut).toBeTrue();
    await put(`/stand-ins/${damper.id}/cut`, { cut: false });
    expect((await damperIs()).cut).toBeFalse();
    const faults = [{ kind: 'silent' }];
    expect((await put(`/stand-ins/${damper.id}/faults`, { faults })).status).toBe(200);
    expect((await damperIs()).faults.length).toBe(1);
    await put(`/stand-ins/${damper.id}/faults`, { faults: [] });
    expect((await damperIs()).faults).toEqual([]);
  });

  it('takes a device away for as long as is asked, and no less than 100 ms', async () => {
    expect((await put(`/stand-ins/${damper.id}/reboot`, { ms: 99 })).body.error.message).toBe('At least 100 ms.');
    expect((await put(`/stand-ins/${damper.id}/reboot`, { ms: 100 })).status).toBe(200);
    expect((await damperIs()).cut).toBeTrue();
    while ((await damperIs()).cut) await new Promise((done) => setTimeout(done, 10));
  });

  it('holds registers until they are released', async () => {
    const place = { table: 'holding', offset: 0 };
    expect((await put<{ held: unknown[] }>(`/stand-ins/${damper.id}/registers`, { ...place, words: [734] })).body.held.length).toBe(1);
    expect(plants.get(small.document.project.id)!.member(damper.id)!.standIn!.bank.get('holding', 0)).toBe(734);
    expect((await damperIs()).held.length).toBe(1);
    expect((await put<{ held: unknown[] }>(`/stand-ins/${damper.id}/release`, { ...place, count: 1 })).body.held).toEqual([]);
    const nowhere = await put(`/stand-ins/${damper.id}/registers`, { table: 'holding', offset: 60_000, words: [1] });
    expect([nowhere.status, nowhere.body.error]).toEqual([422, { message: 'This stand-in has no register there.', path: ['offset'] }]);
  });

  it('plays projects beside each other, and each no longer than is asked', async () => {
    const other = { method: 'PUT', url: '/projects/another/wiring', payload: wiringOf(small.document) } as const;
    const { port } = (await app.inject(other)).json<{ port: number }>();
    expect(port).not.toBe(plants.get(small.document.project.id)!.port);
    await put(`/stand-ins/${damper.id}/cut`, { cut: true });
    const theirs = async () => (await app.inject({ method: 'GET', url: '/projects/another/stand-ins' })).json<StandInState[]>();
    expect((await theirs()).map(({ cut }) => cut)).toEqual([false, false]);
    await app.inject({ method: 'DELETE', url: '/projects/another/wiring' });
    expect(await theirs()).toEqual({ error: { message: 'This project has no stand-ins here yet.', path: [] } } as never);
  });

  it('puts a value where a point is, and says what is there', async () => {
    const own = small.point(damper, 'Of ours', { offset: 0, scale: { factor: 0.1, offset: 0 } });
    const driven = await put<{ words: number[] }>(`/stand-ins/${damper.id}/drive`, { point: own, value: 73.4 });
    expect(driven.body.words).toEqual([734]);
    const looked = await put<{ id: string; words: number[] }[]>('/look', {
      points: [own, { ...own, deviceId: gateway.id }, { ...own, offset: 60_000 }],
    });
    expect(looked.body.map(({ id, words }) => [id, words])).toEqual([[own.id, [734]]]);
    const tooMuch = await put(`/stand-ins/${damper.id}/drive`, { point: own, value: 1e6 });
    expect([tooMuch.status, tooMuch.body.error.path]).toEqual([422, ['value']]);
    const bit = small.point(damper, 'A bit', { offset: 0, bit: 0, type: 'bit' });
    expect((await put<{ words: number[] }>(`/stand-ins/${damper.id}/drive`, { point: bit, value: 1 })).body.words).toEqual([735]);
    expect((await put<{ words: number[] }>(`/stand-ins/${damper.id}/drive`, { point: bit, value: 0 })).body.words).toEqual([734]);
    const away = await put(`/stand-ins/${damper.id}/drive`, { point: { ...own, offset: 60_000 }, value: 1 });
    expect([away.status, away.body.error.message]).toEqual([422, 'Damper has no register there.']);
  });

  it('refuses what does not fit, and whom it does not know, at the place where it is wrong', async () => {
    const unfit = await put(`/stand-ins/${damper.id}/registers`, { table: 'holding', offset: 0, words: [70_000] });
    expect([unfit.status, unfit.body.error.path]).toEqual([422, ['words', 0] as never]);
    for (const what of ['cut', 'faults', 'reboot', 'registers', 'release', 'drive'])
      expect((await put(`/stand-ins/${damper.id}/${what}`, {})).status)
        .withContext(what)
        .toBe(422);
    const bodies = { cut: { cut: true }, faults: { faults: [] }, reboot: { ms: 500 } };
    for (const [what, body] of Object.entries(bodies))
      expect((await put(`/stand-ins/nobody/${what}`, body)).status)
        .withContext(what)
        .toBe(404);
    const hold = await put(`/stand-ins/${gateway.id}/registers`, { table: 'holding', offset: 0, words: [1] });
    expect([hold.status, hold.body.error.message]).toEqual([404, 'There is no stand-in with registers for this device.']);
    expect((await put('/look', { points: 1 })).status).toBe(422);
  });

  it('follows a project as it is edited, and sets an adapter on a line', async () => {
    const { devices } = small.document;
    const without = devices.filter(({ id }) => id !== damper.id);
    const { port } = (await put<{ port: number }>('/wiring', wiringOf({ ...small.document, devices: without }))).body;
    expect((await states()).length).toBe(1);
    expect((await put<{ port: number; lacking: object[] }>('/wiring', wiringOf(small.document))).body).toEqual({ port, lacking: [] });
    expect((await states()).length).toBe(2);
    const settings = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 };
    expect((await put<{ port: number }>(`/lines/${bus.id}/adapter`, settings)).body.port).toBeGreaterThan(0);
    const none = await put(`/lines/${damper.id}/adapter`, settings);
    expect([none.status, none.body.error.message]).toEqual([404, 'This line is not simulated.']);
    expect((await put(`/lines/${bus.id}/adapter`, { baud: 1 })).status).toBe(422);
  });

  it('runs the program of a device, says where it is wrong or stopped, and what its variables hold', async () => {
    const runs = async (program: string) => {
      const devices = small.document.devices.map((device) => (device.id === damper.id ? { ...device, program } : device));
      await put('/wiring', wiringOf({ ...small.document, devices }));
      return (await damperIs()).program;
    };
    expect((await damperIs()).program).toBeNull();
    expect(await runs('PROGRAM P Position := Set_point + 1; END_PROGRAM')).toEqual({ problems: [], stopped: null });
    const variables = () => app.inject({ method: 'GET', url: `${of()}/stand-ins/${damper.id}/variables` });
    expect((await variables()).json()).toEqual({ Position: 1, Set_point: 0 });
    expect(await runs('PROGRAM P Positon := 1; END_PROGRAM')).toEqual({
      problems: [{ line: 1, column: 11, message: 'There is no variable Positon. Did you mean Position?' }],
      stopped: null,
    });
    const stopped = await runs('PROGRAM P VAR n : INT; END_VAR n := 5 / n; END_PROGRAM');
    expect(stopped?.stopped).toEqual({ line: 1, column: 39, message: 'Division by zero.', scan: 1 });
    expect(await runs('')).toBeNull();
    expect((await app.inject({ method: 'GET', url: `${of()}/stand-ins/nobody/variables` })).statusCode).toBe(404);
  });
});
