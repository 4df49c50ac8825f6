import { fernhollow } from '@plain-envoy/core/demo';
import type { Attachment } from '@plain-envoy/core/feed';
import type { Project } from '@plain-envoy/core/model';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import type { Service } from '../service.js';
import { makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const id = demo.project.id;
const [drive, meter] = ['Fan drive north', 'Plant meter'].map((name) => demo.devices.find((device) => device.name === name)!.id);

describe('attachments', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;

  const call = (method: string, path: string, body?: Uint8Array<ArrayBuffer>) =>
    fetch(`http://127.0.0.1:${service.port}/api/projects${path}`, {
      method,
      ...(body ? { body, headers: { 'content-type': 'application/octet-stream' } } : {}),
    });
  const keep = async (name: string, bytes: Uint8Array<ArrayBuffer>, deviceId = drive!) => {
    const response = await call('POST', `/${id}/devices/${deviceId}/attachments?name=${encodeURIComponent(name)}`, bytes);
    return { status: response.status, body: (await response.json()) as Attachment & { error: { message: string } } };
  };
  const list = async (projectId = id) => (await (await call('GET', `/${projectId}/attachments`)).json()) as Attachment[];
  const bytesOf = (text: string) => new TextEncoder().encode(text);

  beforeEach(async () => {
    database = await makeDatabase();
    service = await serve(database.url);
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
  });

  it('are kept as they are with their device, shown where that is safe, and taken off', async () => {
    const { status, body } = await keep('Manual für Lüfter.pdf', bytesOf('%PDF-1.7 …'));
    expect([status, body.name, body.size, body.deviceId]).toEqual([201, 'Manual für Lüfter.pdf', 12, drive!]);
    const page = await keep('page.html', bytesOf('<script>alert(1)</script>'), meter);
    expect((await list()).map(({ name }) => name)).toEqual(['page.html', 'Manual für Lüfter.pdf']);

    const pdf = await call('GET', `/${id}/attachments/${body.id}`);
    expect(await pdf.text()).toBe('%PDF-1.7 …');
    expect(pdf.headers.get('content-type')).toBe('application/pdf');
    expect(pdf.headers.get('content-disposition')).toBe("inline; filename*=UTF-8''Manual%20f%C3%BCr%20L%C3%BCfter.pdf");
    const html = await call('GET', `/${id}/attachments/${page.body.id}`);
    expect(html.headers.get('content-type')).withContext('never run as a page').toBe('application/octet-stream');
    expect(html.headers.get('content-disposition')).toMatch(/^attachment;/);
    expect(html.headers.get('x-content-type-options')).toBe('nosniff');

    expect((await call('DELETE', `/${id}/attachments/${body.id}`)).status).toBe(200);
    expect((await call('DELETE', `/${id}/attachments/${body.id}`)).status).toBe(404);
    expect((await call('GET', `/${id}/attachments/${body.id}`)).status).toBe(404);
    expect((await list()).map(({ name }) => name)).toEqual(['page.html']);
  });

  it('are refused where they are empty, too large, or of no device; nothing is kept then', async () => {
    expect([(await keep('none.pdf', new Uint8Array())).status, (await keep('a/b.pdf', bytesOf('x'))).status]).toEqual([422, 422]);
    expect((await keep('big.pdf', new Uint8Array(20 * 1024 * 1024 + 1))).status).toBe(413);
    expect((await keep('x.pdf', bytesOf('x'), id)).body.error.message).toBe('This device is not in the project.');
    const large = await keep('large.bin', new Uint8Array(20 * 1024 * 1024).fill(7));
    expect([large.status, large.body.size]).toEqual([201, 20 * 1024 * 1024]);
    expect((await list()).length).toBe(1);
  });

  it('go with the project into a copy and into its file, and come back out of it', async () => {
    await keep('Manual.pdf', bytesOf('%PDF'));
    const copy = (await (await call('POST', `/${id}/duplicate`)).json()) as Project;
    expect((await list(copy.id)).map(({ name }) => name)).toEqual(['Manual.pdf']);

    const file = (await (await call('GET', `/${id}/file`)).json()) as ProjectFile;
    expect(file.attachments.map(({ name, deviceId, base64 }) => [name, deviceId, base64])).toEqual([['Manual.pdf', drive!, 'JVBERg==']]);
    const told = await (await call('POST', '/file', bytesOf(JSON.stringify(file)))).text();
    const taken = told
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { kind: string; id: string })
      .find(({ kind }) => kind === 'done')!;
    const [again] = await list(taken.id);
    expect(await (await call('GET', `/${taken.id}/attachments/${again!.id}`)).text()).toBe('%PDF');
    expect(again!.deviceId).not.toBe(drive!);

    const without = (await (await call('GET', `/${id}/file?evidence=without`)).json()) as ProjectFile;
    expect(without.attachments).toEqual([]);
  });
});
