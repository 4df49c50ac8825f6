import { FILE_VERSION } from '@plain-envoy/core/common';
import { fernhollow } from '@plain-envoy/core/demo';
import type { LibraryRow } from '@plain-envoy/core/feed';
import { type DeviceTemplate, templateOf } from '@plain-envoy/core/model';
import type { Service } from '../service.js';
import { makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const template = templateOf(demo, demo.devices.find(({ name }) => name === 'Plant meter')!.id);

describe('the library', () => {
  let made: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;
  const ask = async <T>(method: string, path: string, body?: object) => {
    const response = await fetch(`http://127.0.0.1:${service.port}/api/library${path}`, {
      method,
      ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}),
    });
    return { status: response.status, body: (await response.json()) as T & { error: { message: string; path: unknown[] } } };
  };
  const list = async () => (await ask<LibraryRow[]>('GET', '')).body;

  beforeEach(async () => {
    made = await makeDatabase();
    service = await serve(made.url);
  });
  afterEach(async () => {
    await service.stop();
    await made.drop();
  });

  it('keeps each version of a device as it was given, and lists the newest', async () => {
    const first = await ask<{ id: string; version: number }>('POST', '', { template });
    expect([first.status, first.body.version]).toEqual([201, 1]);
    const changed = { ...template, device: { ...template.device, tries: 7, note: 'Second' } };
    const second = await ask<{ id: string; version: number }>('POST', '', { template: changed, as: first.body.id });
    expect([second.body.id, second.body.version]).toEqual([first.body.id, 2]);
    expect(await list()).toEqual([
      {
        id: first.body.id,
        name: 'Plant meter',
        version: 2,
        points: template.points.length,
        note: 'Second',
        identification: template.device.identification,
        atMs: jasmine.any(Number) as never,
        by: null,
      },
    ]);
    const versions = [1, 2].map(async (version) => (await ask<DeviceTemplate>('GET', `/${first.body.id}/versions/${version}`)).body);
    expect(await Promise.all(versions)).toEqual([template, changed] as never);
  });

  it('is renamed and emptied, and says what is not there any more', async () => {
    const { body } = await ask<{ id: string }>('POST', '', { template });
    await ask('PUT', `/${body.id}/name`, { name: 'Meter' });
    expect((await list()).map(({ name }) => name)).toEqual(['Meter']);
    await ask('DELETE', `/${body.id}`);
    expect(await list()).toEqual([]);
    const gone = await ask('GET', `/${body.id}/versions/1`);
    expect([gone.status, gone.body.error.message]).toEqual([404, 'This device is not in the library any more.']);
    expect((await ask('POST', '', { template, as: body.id })).status).toBe(404);
    expect((await ask('PUT', `/${body.id}/name`, { name: 'Meter' })).status).toBe(404);
  });

  it('refuses what is no device, at its place, and keeps nothing of it', async () => {
    const wrong = await ask('POST', '', { template: { ...template, device: { ...template.device, tries: 0 } } });
    expect([wrong.status, wrong.body.error.path]).toEqual([422, ['template', 'device', 'tries']]);
    expect((await ask('POST', '', { template: { ...template, version: FILE_VERSION + 1 } })).status).toBe(422);
    expect(await list()).toEqual([]);
  });
});
