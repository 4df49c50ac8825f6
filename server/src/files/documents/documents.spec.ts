import { bookOf } from '@plain-envoy/core/book';
import { compile } from '@plain-envoy/core/compile';
import '@plain-envoy/core/formula';
import { controllerProgram } from '@plain-envoy/core/controller-program';
import { lostWhen, standardProfile, variableList } from '@plain-envoy/core/handover';
import { mappingSheet } from '@plain-envoy/core/mapping';
import { fernhollow } from '@plain-envoy/core/demo';
import { fileOf } from '@plain-envoy/core/project-file';
import { requestSheets } from '@plain-envoy/core/plan';
import type { Contents, Subject } from './definition.js';
import { documentMenus, writeDocument } from './index.js';

const document = fernhollow();
const { plan } = compile(document);
const device = document.devices.find(({ name }) => name === 'Plant meter')!;
const request = plan.requests[0]!;
const contents: Contents = {
  map: { document, device, points: document.points.filter(({ deviceId }) => deviceId === device.id) },
  sheet: { sheet: requestSheets(document, plan)[0]! },
  mapping: {
    mapping: mappingSheet(
      document,
      document.devices.find(({ name }) => name === 'Text port')!,
    ),
  },
  variables: {
    list: variableList(
      document,
      document.devices.find(({ name }) => name === 'Kiln controller')!,
    ),
    profile: standardProfile,
  },
  program: {
    program: controllerProgram(
      document,
      plan,
      document.devices.find(({ name }) => name === 'Kiln controller')!,
      { portable: false },
    )!,
    parts: standardProfile.parts,
  },
  losses: { losses: lostWhen(document, plan) },
  book: { book: bookOf(fileOf(document, 1, [])), onProgress: () => undefined },
  trace: {
    document,
    plan,
    records: [
      {
        ...{ number: 1, atMs: 1000, endpointId: request.endpointId, requestId: request.id, framing: 'tcp', unit: 1, functionCode: 3 },
        ...{ sent: new Uint8Array([0, 1, 0, 0, 0, 6, 1, 3, 0, 0, 0, 1]), got: null, end: 'silent', ms: null, failure: null },
      },
    ],
  },
};

describe('Documents', () => {
  const menus = Object.entries(documentMenus()) as [Subject, { id: string; title: string; extension: string }[]][];

  it('have an id, a title and a file name of their own in each menu', () => {
    for (const [of, menu] of menus) {
      expect(menu.length).withContext(of).toBeGreaterThan(1);
      for (const part of ['id', 'title', 'extension'] as const)
        expect(new Set(menu.map((row) => row[part])).size)
          .withContext(`${of} ${part}`)
          .toBe(menu.length);
    }
  });

  for (const [of, menu] of menus)
    for (const { id, extension } of menu)
      it(`write a ${of} as ${id}, with something of it inside`, async () => {
        const { name, body, mediaType } = await writeDocument(of, id, 'north', contents[of]);
        expect(name).toBe(`north.${extension}`);
        expect(mediaType).toMatch(/^\w+\/[\w.+-]+(; charset=utf-8)?$/);
        const bytes = Buffer.from(body);
        if (extension === 'xlsx') expect(bytes.subarray(0, 2).toString()).toBe('PK');
        else if (extension === 'pdf') expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
        else if (extension === 'pcapng') expect(bytes.readUInt32LE(0)).toBe(0x0a0d0d0a);
        else
          expect(bytes.toString()).toContain(
            of === 'trace'
              ? '1970-01-01T00:00:01'
              : of === 'map'
                ? contents.map.points[0]!.name.split(' ')[0]!
                : of === 'mapping'
                  ? 'field gross of Weighing'
                  : contents.sheet.sheet.rows[0]!.device,
          );
      });
});
