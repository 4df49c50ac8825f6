import { readFileSync } from 'node:fs';
import { papersOf } from '@plain-envoy/core/papers';
import { ProjectFile } from '@plain-envoy/core/project-file';
import { fernhollow } from '@plain-envoy/core/demo';
import type { ImportEvent, ImportPreview } from '@plain-envoy/core/feed';
import { checks } from '@plain-envoy/core/checks';
import { iecText, RegisterMap } from '@plain-envoy/core/format';
import { bodyOf, DeviceTemplate, type Point, type ProjectDocument } from '@plain-envoy/core/model';
import { zipSync } from 'fflate';
import writeWorkbook from 'write-excel-file/node';
import { z } from 'zod';
import type { Service } from '../service.js';
import { makeDatabase, serve } from '../testing.spec-helper.js';
import { printed, table } from './pdf/printed.spec-helper.js';
import { Reader } from './reading/index.js';
import { readSheets } from './workbook.js';

const demo = fernhollow();
const projectId = demo.project.id;
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;

const TABLE = [
  ['Bezeichnung', 'Adresse', 'Typ', 'Einheit', 'Faktor'],
  ['Zulauf kühl', '30001', 'INT16', '°C', '0,1'],
  ['Füllhöhe', '30002', 'UINT16', '%', '0,1'],
  ['Energie', '30003', 'UINT32', 'kWh', ''],
];
const csv = (rows: string[][]) => rows.map((row) => row.join(';')).join('\r\n');

/** Text as the bytes of an encoding that Node.js itself cannot write. */
const utf16be = (text: string) => Buffer.from(text, 'utf16le').swap16();

describe('the published schemas', () => {
  it('are those that the code checks with; npm run formats writes them anew', () => {
    for (const [name, schema] of Object.entries({ 'register-map': RegisterMap, device: DeviceTemplate, project: ProjectFile })) {
      const published: unknown = JSON.parse(readFileSync(new URL(`../../../docs/formats/${name}.schema.json`, import.meta.url), 'utf8'));
      expect(published)
        .withContext(name)
        .toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(schema, { io: 'input' }))));
    }
  });

  it('go with a page of every finding and what it means', () => {
    const published = readFileSync(new URL('../../../docs/findings.md', import.meta.url), 'utf8');
    for (const { id, meaning } of checks) {
      const row = published.split('\n').find((line) => line.startsWith(`| ${id} `));
      expect(row).withContext(id).toContain(meaning);
    }
  });
});

describe('files', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;

  beforeEach(async () => {
    database = await makeDatabase();
    service = await serve(database.url);
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
  });

  const api = (path: string) => `http://127.0.0.1:${service.port}/api/${path}`;
  const offer = async (bytes: Uint8Array, device = 'Yard display') => {
    const response = await fetch(api(`projects/${projectId}/devices/${idOf(device)}/imports`), {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: Uint8Array.from(bytes),
    });
    const lines = (await response.text()).trim().split('\n');
    const last = JSON.parse(lines.at(-1)!) as { preview?: ImportPreview; error?: { message: string }; sentence?: string };
    return { status: response.status, lines: lines.length, sentence: last.sentence, body: { ...last.preview!, error: last.error } };
  };
  const accept = async (id: string, papersFrom?: string) => {
    const asked = papersFrom === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify({ papersFrom }) };
    const response = await fetch(api(`imports/${id}/accept`), { method: 'POST', ...asked });
    return (await response.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as ImportEvent & { error?: { message: string } });
  };
  const document = async () => ((await (await fetch(api(`projects/${projectId}`))).json()) as { document: ProjectDocument }).document;
  const pointsOf = async (device: string) => (await document()).points.filter(({ deviceId }) => deviceId === idOf(device));
  const post = (path: string, body: object = {}) =>
    fetch(api(path), { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

  it('give the same points in every encoding, which is told', async () => {
    const text = csv(TABLE);
    const files: [Buffer, string][] = [
      [Buffer.from(text), 'UTF-8'],
      [Buffer.from(`\uFEFF${text}`), 'UTF-8 with a byte-order mark'],
      [Buffer.from(`\uFEFF${text}`, 'utf16le'), 'UTF-16 LE with a byte-order mark'],
      [utf16be(`\uFEFF${text}`), 'UTF-16 BE with a byte-order mark'],
      [Buffer.from(text, 'utf16le'), 'UTF-16 LE without a byte-order mark'],
      [Buffer.from(text, 'latin1'), 'Windows-1252'],
    ];
    for (const [bytes, encoding] of files) {
      const { body } = await offer(bytes);
      expect(body.what).withContext(encoding).toBe(`Text in ${encoding}, columns kept apart by semicolons`);
      expect(body.rows.map(({ draft }) => `${draft?.name} ${draft?.offset} ${draft?.unit} ${JSON.stringify(draft?.scale)}`)).toEqual([
        'Zulauf kühl 0 °C {"factor":0.1,"offset":0}',
        'Füllhöhe 1 % {"factor":0.1,"offset":0}',
        'Energie 2 kWh null',
      ]);
    }
  });

  it('write nothing until they are accepted, then all at once, and one undo takes it back', async () => {
    const before = await pointsOf('Yard display');
    const { body } = await offer(Buffer.from(csv(TABLE)));
    expect(body.reading?.counts).toEqual({ adds: 3, changes: 0, same: 0, joins: 0, apart: 0, problem: 0 });
    expect(await pointsOf('Yard display')).toEqual(before);
    const events = await accept(body.id);
    expect(events.at(-1)).toEqual(jasmine.objectContaining({ kind: 'accepted', adds: 3 }));
    expect((await pointsOf('Yard display')).length).toBe(before.length + 3);
    const again = await offer(Buffer.from(csv(TABLE)));
    expect(again.body.problem).toContain('3 rows were read. All 3 rows are in the map already');
    expect((await accept(again.body.id))[0]?.error?.message).toContain('in the map already');
    await post(`projects/${projectId}/undo`);
    expect(await pointsOf('Yard display')).toEqual(before);
  });

  it('become the papers of the device where a person says that they are its manual, and go with the rest at one undo', async () => {
    const { body } = await offer(Buffer.from(csv(TABLE)));
    await accept(body.id, 'display.csv');
    const papers = async () => {
      const { document } = (await (await fetch(api(`projects/${projectId}`))).json()) as { document: ProjectDocument };
      return papersOf(document, idOf('Yard display'));
    };
    const after = (await papers())!;
    expect([after.source, after.points.map(({ name }) => name)]).toEqual(['display.csv', ['Zulauf kühl', 'Füllhöhe', 'Energie']]);
    await post(`projects/${projectId}/undo`);
    expect((await papers())?.source).toBe('The manual of its maker');
    const again = await offer(Buffer.from(csv(TABLE)));
    expect((await accept(again.body.id, ''))[0]?.error?.message).toBe('Say where they are from.');
  });

  it('are read otherwise when a person says so', async () => {
    const { body } = await offer(Buffer.from('name,register\nOne,1\nTwo,2\n'));
    expect(body.rows.map(({ draft }) => draft?.offset)).toEqual([0, 1]);
    const response = await fetch(api(`imports/${body.id}`), {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ notation: 'pdu', table: 'input', order: 'CDAB' }),
    });
    const chosen = (await response.json()) as ImportPreview;
    expect(chosen.rows.map(({ draft }) => `${draft?.table} ${draft?.offset}`)).toEqual(['input 1', 'input 2']);
  });

  it('that are something else are refused in words, and lose nothing', async () => {
    const png = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0]);
    expect((await offer(png)).body.error?.message).toBe('This is a PNG picture, no text.');
    const workbook = await writeWorkbook([['name', 'address']].map((row) => row.map((value) => ({ value })))).toBuffer();
    expect((await offer(workbook.subarray(0, workbook.length / 2))).body.error?.message).toContain('damaged or cut short');
    expect((await offer(Buffer.alloc(0))).body.error?.message).toContain('empty');
    const wide = await offer(Buffer.from(Array.from({ length: 10_000 }, (_, index) => `c${index}`).join(',')));
    expect(wide.status).toBe(200);
    expect(wide.body.problem).toContain('It has 10000 columns');
    const letter = await offer(Buffer.from('Dear Sir,\nthe pump, it hums,\nyours'));
    expect(letter.body.problem).toContain('Text in ASCII');
    expect(letter.body.problem).toContain('no column holds addresses');
    expect((await offer(Buffer.from('{"a":'))).body.error?.message).toContain('damaged');
    expect((await offer(Buffer.from('<a><b></a>'))).body.error?.message).toContain('The XML is damaged at line 1');
    expect((await fetch(api('imports/019aa000-0000-7000-8000-00000000ffff/accept'), { method: 'POST' })).status).toBe(404);
  });

  it('are workbooks too; the sheet with registers is found', async () => {
    const cells = (rows: (string | number)[][]) => rows.map((row) => row.map((value) => ({ value })));
    const bytes = await writeWorkbook([
      { sheet: 'Cover', data: cells([['Manual of a mixer']]) },
      {
        sheet: 'Registers',
        data: cells([
          ['Name', 'Register', 'Type'],
          ['Speed', 40_001, 'uint16'],
          ['Torque', 40_002, 'float'],
        ]),
      },
    ]).toBuffer();
    const { body } = await offer(bytes);
    expect(body.what).toBe('A workbook, sheet “Registers” (not read: “Cover”)');
    expect(body.rows.map(({ draft }) => `${draft?.name} ${draft?.offset} ${draft?.type}`)).toEqual(['Speed 0 uint16', 'Torque 1 float32']);
  });

  it('that were exported come back as what is there already, in every format', async () => {
    for (const [format, device] of [
      ['csv', 'Plant meter'],
      ['json', 'Fan drive north'],
      ['thing', 'Air-on transmitter'],
      ['iec', 'Kiln controller'],
      ['xml', 'Kiln controller'],
    ] as const) {
      const response = await fetch(api(`projects/${projectId}/devices/${idOf(device)}/map?format=${format}`));
      expect(response.headers.get('content-disposition')).withContext(format).toContain('attachment');
      const { body } = await offer(Buffer.from(await response.arrayBuffer()), device);
      const own = await pointsOf(device);
      expect(body.total).withContext(format).toBe(own.length);
      if (format === 'iec' || format === 'xml') {
        const kept = ({ name, table, offset, bit, type }: Pick<Point, 'name' | 'table' | 'offset' | 'bit' | 'type'>) =>
          [name, table, offset, bit, type].join(' ');
        expect(body.rows.map(({ draft }) => draft && kept(draft)).sort())
          .withContext(format)
          .toEqual(own.map(kept).sort());
      } else {
        expect(body.problem).withContext(format).toContain('in the map already');
        expect(body.rows.map(({ draft }) => draft!.name).sort()).toEqual(own.map((point) => bodyOf(point).name).sort());
      }
    }
  });

  it('mark names that look like formulas as text, and take the mark off again', async () => {
    const { body } = await offer(Buffer.from('name,address\n=1+1,40001\n'));
    await accept(body.id);
    const text = await (await fetch(api(`projects/${projectId}/devices/${idOf('Yard display')}/map?format=csv`))).text();
    expect(text).toContain("'=1+1");
    expect((await offer(Buffer.from(text))).body.problem).toContain('in the map already');
  });

  it('give request sheets as text and as a workbook that reads back, and say where nothing is carried', async () => {
    const sheet = (carrier: string, format: string) => fetch(api(`projects/${projectId}/sheets/${carrier}?format=${format}`));
    const text = await (await sheet(idOf('Kiln controller'), 'csv')).text();
    const lines = text.replace('\uFEFF', '').trim().split('\r\n');
    expect(lines[0]).toContain('Start as typed,Start on the wire,Count,Local first');
    expect(lines.find((line) => line.includes('Air-on transmitter,4,'))).toContain(',11,10,12,');
    const workbook = await sheet(idOf('Kiln controller'), 'xlsx');
    expect(workbook.headers.get('content-disposition')).toContain('Kiln-controller-requests.xlsx');
    const read = await readSheets(Buffer.from(await workbook.arrayBuffer()));
    const rows = read.ok ? read.value.sheets[0]!.rows : [];
    expect([rows.length, rows[0]?.[6], String(rows[1]?.[6])]).toEqual([lines.length, 'Start as typed', '11']);
    expect((await sheet(idOf('Plant meter'), 'csv')).status).toBe(404);
    expect((await sheet('plain-envoy', 'csv')).status).toBe(404);
    expect((await sheet(idOf('Kiln controller'), 'pdf')).status).toBe(422);
  });

  describe('that are manuals', () => {
    const rows = [
      ['Register', 'Name', 'Type', 'Access'],
      ['40001', 'Speed', 'FLOAT32', 'R/W'],
      ['40003', 'State', 'Schalterwort', 'R'],
    ] as const;
    const manual = (pages = 1) =>
      printed((doc) => {
        doc.fontSize(12).text('2.1 Holding registers');
        table(doc, [...rows[0]], [[...rows[1]], [...rows[2]]], { widths: [70, 120, 90, 70], rules: 'all' });
        for (let page = 1; page < pages; page++) doc.addPage().fontSize(10).text('More about the device.');
      });

    it('tell how far they are read, where each row stands, and what tables they are made of', async () => {
      const { lines, body } = await offer(await manual(3));
      expect(lines).toBeGreaterThan(1);
      expect(body.what).toBe('A PDF of 3 pages, 1 table of registers with 2 rows');
      expect(body.parts).toEqual([{ title: '2.1 Holding registers', rows: 2, pages: [1, 1] }]);
      expect(body.rows.map(({ draft, place }) => [draft?.name, draft?.type, place?.page])).toEqual([
        ['Speed', 'float32', 1],
        ['State', 'uint16', 1],
      ] as never);
      const without = await fetch(api(`imports/${body.id}`), {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ...body.options, without: [0] }),
      });
      expect(((await without.json()) as ImportPreview).problem).toContain('No row holds a register');
    });

    it('have words that are learnt once and forgotten again, for all that is read after', async () => {
      const bytes = await manual();
      const state = async () => (await offer(bytes)).body;
      expect((await state()).reading!.unknown).toEqual([{ field: 'type', word: 'Schalterwort', rows: 1 }]);
      const say = (method: string, path: string, body?: object) =>
        fetch(api(path), { method, ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}) });
      expect((await say('PUT', 'words', { field: 'type', word: ' Schalterwort', meaning: 'bits' })).status).toBe(200);
      const known = await state();
      expect([known.rows[1]!.draft?.type, known.rows[1]!.open, known.known]).toEqual([
        'bits',
        [],
        [{ field: 'type', word: 'schalterwort', meaning: 'bits' }],
      ] as never);
      expect((await say('PUT', 'words', { field: 'colour', word: 'x', meaning: 'y' })).status).toBe(422);
      await say('DELETE', 'words?field=type&word=Schalterwort');
      expect((await state()).reading!.unknown.length).toBe(1);
    });

    it('that hold nothing to be read are refused with what can be done', async () => {
      const locked = await offer(await printed((doc) => void doc.text('x'), { userPassword: 'secret', pdfVersion: '1.7' }));
      expect([locked.status, locked.body.error?.message]).toEqual([422, jasmine.stringContaining('locked with a password')]);
      const text = await offer(await printed((doc) => void doc.text('No table is in here.')));
      expect([text.sentence, (await offer(Buffer.from('%PDF-1.7 broken'))).body.error?.message]).toEqual([
        jasmine.stringContaining('no table of registers was found') as never,
        jasmine.stringContaining('damaged or cut short') as never,
      ]);
    });
  });

  describe('that are made to do harm', () => {
    const answers = async () => (await fetch(api('health'))).status;

    it('hold nobody up while they are read, and are given up with a reason', async () => {
      const bomb = Buffer.from(zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(220 * 1024 * 1024) }, { level: 9 }));
      expect(bomb.length).toBeLessThan(300_000);
      const asked = offer(bomb);
      expect(await answers()).toBe(200);
      const refused = await asked;
      expect([refused.status, refused.body.error?.message]).toEqual([422, jasmine.stringContaining('unpacks to 220 MB')]);

      const reader = new Reader({ taskMs: 50, memoryMb: 512 });
      const rows = Array.from({ length: 60_000 }, (_, index) => `Point ${index},${index},uint16`);
      const read = reader.ask<'read'>({ kind: 'read', bytes: Buffer.from(['name,offset,type', ...rows].join('\n')), areas: [] });
      await expectAsync(read).toBeRejectedWithError(/took longer than 0.05 s/);
      await expectAsync(reader.ask<'read'>({ kind: 'read', bytes: Buffer.from('x'), areas: [] })).toBeRejectedWithError(/took longer/);
    });

    it('are read before they are given up, however often they begin what does not end', async () => {
      const blocks = 'VAR '.repeat(60_000);
      const { status } = await offer(Buffer.from(`VAR a : INT; END_VAR ${blocks}`));
      expect(status).toBe(200);
      const spaces = await offer(
        Buffer.from(`VAR_GLOBAL\n a${' '.repeat(300_000)}: INT;\nb ${','.repeat(200_000)}: INT; ${'(* '.repeat(90_000)} END_VAR`),
      );
      expect(spaces.status).toBe(200);
    });

    it('name no other files, and hold no characters that cannot be kept', async () => {
      const xml = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]><Project><Variable name="&e;"/></Project>';
      const entity = await offer(Buffer.from(xml));
      expect([entity.status, entity.body.error?.message]).toEqual([422, jasmine.stringContaining('document type')]);
      for (const name of ['a\u0000b', '\ud800', 'x\udc00y']) {
        const change = { entity: 'project', id: projectId, before: demo.project, after: { ...demo.project, name } };
        const answer = await fetch(api(`projects/${projectId}/change-sets`), {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ label: 'Harm', baseRevision: 0, changes: [change] }),
        });
        const { error } = (await answer.json()) as { error: { path: unknown[]; message: string } };
        expect([answer.status, error.path, error.message]).toEqual([
          422,
          ['changes', 0, 'after', 'name'],
          jasmine.stringContaining('cannot be kept'),
        ]);
      }
      const pair = { entity: 'project', id: projectId, before: demo.project, after: { ...demo.project, name: 'A barley 🌾' } };
      expect((await post(`projects/${projectId}/change-sets`, { label: 'Fine', baseRevision: 0, changes: [pair] })).status).toBe(200);
    });

    it('cannot end a comment of a generated text, and say what stands twice and which cells are merged', async () => {
      const rows = [
        ['Name', 'Address', 'Type'],
        ['Flow', '1', 'uint16'],
        ['Flow', '2', 'uint16'],
        ['Level', '1', 'uint16'],
      ];
      const twice = await offer(Buffer.from(csv(rows)));
      expect(twice.body.rows.map(({ remarks }) => remarks)).toEqual([[], ['Line 2 has the same name.'], ['Line 2 has the same address.']]);
      const sheet = await writeWorkbook([
        [{ value: 'Name' }, { value: 'Address' }, { value: 'Type' }],
        [{ value: 'Flow', rowSpan: 2 }, { value: '1' }, { value: 'uint16' }],
        [null, { value: '2' }, { value: 'uint16' }],
      ]).toBuffer();
      const merged = await offer(sheet);
      expect(merged.body.remarks).toEqual([jasmine.stringContaining('Cells are merged in it (A2:A3)')]);
      const text = iecText('Valve *) VAR_GLOBAL x : INT', [{ name: 'a', address: '%MW1', type: 'INT', comment: 'on *) off' }]);
      expect(text.match(/\*\)/g)?.length).toBe(2);
    });
  });

  it('of 50,000 rows are shown and written whole, with progress, and taken back', async () => {
    const rows = Array.from({ length: 50_000 }, (_, index) => `Point ${index},${index},uint16`);
    const { body } = await offer(Buffer.from(['name,offset,type', ...rows].join('\n')));
    expect(body.reading?.counts.adds).toBe(50_000);
    expect(body.rows.length).toBe(300);
    const events = await accept(body.id);
    const progress = events.flatMap((event) => (event.kind === 'progress' ? [event.done] : []));
    expect(progress.length).toBeGreaterThan(3);
    expect(events.at(-1)).toEqual(jasmine.objectContaining({ kind: 'accepted', adds: 50_000 }));
    expect((await document()).points.length).toBe(demo.points.length + 50_000);
    expect((await post(`projects/${projectId}/undo`)).status).toBe(200);
    expect((await document()).points.length).toBe(demo.points.length);
  }, 60_000);
});
