import { readFileSync } from 'node:fs';
import { fernhollow } from '@plain-envoy/core/demo';
import { standardProfile } from '@plain-envoy/core/handover';
import type { SerialPort } from '@plain-envoy/core/media';
import { type Change, type Device, ListProfile, plainBook, type Point, ProjectDocument } from '@plain-envoy/core/model';
import pg from 'pg';
import type { Service } from '../service.js';
import { makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const projectId = demo.project.id;
const deviceNamed = (name: string) => demo.devices.find((device) => device.name === name)!;
const deviceId = (name: string) => deviceNamed(name).id;

/** What a server of today makes of a database as an older version left it. */
async function migrate(client: pg.Client, ...names: string[]): Promise<void> {
  for (const name of names) {
    const sql = readFileSync(new URL(`../../migrations/${name}.sql`, import.meta.url), 'utf8');
    for (const statement of sql.split('--> statement-breakpoint')) await client.query(statement);
  }
}

/** The first edit of the demo. */
function commit({ port }: Service, label: string, changes: unknown): Promise<Response> {
  return fetch(`http://127.0.0.1:${port}/api/projects/${projectId}/change-sets`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ label, baseRevision: 0, changes }),
  });
}

describe('a project of an older version', () => {
  it('of before lines had cables and points names for bits gets what is usual for what was not known, and keeps all that was', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    const fields = {
      lines: ['cable', 'turnaroundMs', 'boundTo', 'localEcho'],
      ports: [
        'setHow',
        'mask',
        'gateway',
        'leased',
        'role',
        'otherClients',
        'openTransactions',
        'levels',
        'duplex',
        'atM',
        'stubM',
        'terminated',
        'bias',
        'shield',
        'reference',
        'isolated',
      ],
      more: ['earthV', 'unitLoads', 'driverLoads', 'terminals', 'plug', 'handshake', 'forwardedUnits'],
    };
    await client.query(`update lines set body = body - $1::text[]`, [fields.lines]);
    await client.query(`update ports set body = body - $1::text[] where body->>'kind' in ('serial', 'ethernet')`, [
      [...fields.ports, ...fields.more, 'framing'],
    ]);
    await client.query(
      `update devices set body = body -
       '{entry,forbidden,readAcrossHoles,functionCodes,maxReadWords,maxReadBits,maxWriteWords,maxWriteBits,writeTimeoutMs,delayMs,lossPercent}'::text[]`,
    );
    await client.query(
      `update routes set body = body - '{transforms,carrierId,trigger,whileId,onlyDifferent,release,broadcast,maxAgeMs,loss}'::text[]`,
    );
    await client.query(
      `update devices set body = jsonb_set(body, '{areas}', (select jsonb_agg(area - 'firstBit') from jsonb_array_elements(body->'areas') area))
       where jsonb_array_length(body->'areas') > 0`,
    );
    await client.query('update projects set revision = 1');
    await client.query(`update points set body = body - '{releasedBy,watchdogMs}'::text[]`);
    await client.query(`update points set body = body - '{bit,bits,codes}'::text[] where body->>'bit' is null`);
    await migrate(
      client,
      '0001_lines_and_ports',
      '0002_maps',
      '0003_routes',
      '0004_limits_of_receivers',
      '0005_delays',
      '0006_standing_still',
      '0008_forwarded_units',
      '0010_echo_and_open_transactions',
      '0011_broadcasts_and_functions',
    );
    await client.end();
    await service.stop();
    const again = await serve(database.url);
    const response = await fetch(`http://127.0.0.1:${again.port}/api/projects/${projectId}`);
    const { document } = (await response.json()) as { document: ProjectDocument };
    expect(ProjectDocument.parse(document)).toEqual(document);
    const controller = document.devices.find(({ name }) => name === 'Kiln controller')!;
    expect([controller.entry, controller.forbidden, controller.areas.map(({ firstBit }) => firstBit)]).toEqual(['asIs', [], [null, null]]);
    expect(document.points.filter(({ bit }) => bit !== null).length).toBe(demo.points.filter(({ bit }) => bit !== null).length);
    expect(document.ports.map((port) => ('unitId' in port ? port.unitId : null))).toEqual(
      demo.ports.map((port) => ('unitId' in port ? port.unitId : null)),
    );
    await again.stop();
    await database.drop();
  });

  it('is asked as before, and knows no echo, in rows and in the history that undo goes back through', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const line = demo.lines.find(({ name }) => name === 'Kiln bus')!;
    const port = demo.ports.find((row) => row.kind === 'ethernet' && row.deviceId === deviceId('Burner control'))!;
    const changes = [
      { entity: 'line', id: line.id, before: line, after: { ...line, note: 'Longer.' } },
      { entity: 'port', id: port.id, before: port, after: { ...port, connections: 9 } },
    ];
    await commit(service, 'Set two', changes);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`update lines set body = body - 'localEcho'`);
    await client.query(`update ports set body = body - 'openTransactions'`);
    await client.query(
      `update change_sets set changes = regexp_replace(changes::text, '"(localEcho|openTransactions)": ("none"|[0-9]+), ', '', 'g')::jsonb`,
    );
    await migrate(client, '0010_echo_and_open_transactions');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets order by revision desc limit 1');
    await client.end();
    const [ofLine, ofPort] = rows[0]!.changes;
    expect([ofLine?.before, ofLine?.after]).toEqual([
      jasmine.objectContaining({ localEcho: 'none' }),
      jasmine.objectContaining({ note: 'Longer.', localEcho: 'none' }),
    ] as never);
    expect([ofPort?.before, ofPort?.after]).toEqual([
      jasmine.objectContaining({ openTransactions: 4 }),
      jasmine.objectContaining({ connections: 9, openTransactions: 4 }),
    ] as never);
    const again = await serve(database.url);
    const response = await fetch(`http://127.0.0.1:${again.port}/api/projects/${projectId}`);
    const { document } = (await response.json()) as { document: ProjectDocument };
    expect(ProjectDocument.parse(document)).toEqual(document);
    await again.stop();
    await database.drop();
  });

  it('writes to single devices as before, and tells what it is, in rows and in the history that undo goes back through', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const [route] = demo.routes;
    const errand = demo.errands.find(({ steps }) => steps.some(({ kind }) => kind === 'write'))!;
    const changes = [
      { entity: 'route', id: route!.id, before: route, after: { ...route, note: 'ours' } },
      { entity: 'errand', id: errand.id, before: errand, after: { ...errand, note: 'ours' } },
    ];
    await commit(service, 'Set two', changes);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    const bare = (column: string) => `regexp_replace(${column}::text, '"broadcast": false(, )?|"turnaroundMs": 100, ', '', 'g')`;
    for (const table of ['routes', 'lines', 'errands'])
      await client.query(`update ${table} set body = regexp_replace(${bare('body')}, ', }', '}', 'g')::jsonb`);
    await client.query(`update change_sets set changes = regexp_replace(${bare('changes')}, ', }', '}', 'g')::jsonb`);
    await client.query(`update devices set body = jsonb_set(body, '{functionCodes}', '[3, 6]')`);
    // One that nobody plays says nothing of itself.
    await client.query(`update devices set body = jsonb_set(body, '{standIn}', 'null') where body->>'name' = 'Grid station'`);
    await migrate(client, '0011_broadcasts_and_functions');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets order by revision desc limit 1');
    await client.end();
    expect(rows[0]!.changes.map(({ before, after }) => [before, after])).toEqual([
      [route, { ...route, note: 'ours' }],
      [errand, { ...errand, note: 'ours' }],
    ] as never);
    const again = await serve(database.url);
    const response = await fetch(`http://127.0.0.1:${again.port}/api/projects/${projectId}`);
    const { document } = (await response.json()) as { document: ProjectDocument };
    expect(ProjectDocument.parse(document)).toEqual(document);
    const codes = (name: string) => document.devices.find((device) => device.name === name)?.functionCodes;
    expect([codes('Plant meter'), codes('Grid station')]).toEqual([
      [3, 6, 43],
      [3, 6],
    ]);
    await again.stop();
    await database.drop();
  });

  it('gets what telecontrol lines and their stations were not asked for, in rows and in what undo goes back to', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const line = demo.lines.find(({ kind }) => kind === 'telecontrol')!;
    const response = await commit(service, 'Another note', [
      { entity: 'line', id: line.id, before: line, after: { ...line, note: 'ours' } },
    ]);
    expect(response.status).toBe(200);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    const fields = [
      'tcpPort',
      'listensAt',
      'ownAddress',
      'answersMs',
      'clockEveryMs',
      'selectedMs',
      'eventsEveryMs',
      'allEveryMs',
      'confirmMs',
      't1Ms',
      't2Ms',
      't3Ms',
      'k',
      'w',
    ];
    await client.query(`update lines set body = body - $1::text[] where body->>'kind' = 'telecontrol'`, [fields]);
    await client.query(`update ports set body = body - '{ip,memory,staleMs}'::text[] where body->>'kind' = 'telecontrol'`);
    await client.query(
      `update change_sets set changes = jsonb_build_array(changes->0 || jsonb_build_object('before', (changes->0->'before') - $1::text[], 'after', (changes->0->'after') - $1::text[]))`,
      [fields],
    );
    await migrate(client, '0023_stations');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets order by revision desc limit 1');
    await client.end();
    expect(rows[0]!.changes[0]!.before as unknown).toEqual(line);
    const again = await serve(database.url);
    const { document } = (await (await fetch(`http://127.0.0.1:${again.port}/api/projects/${projectId}`)).json()) as {
      document: ProjectDocument;
    };
    expect(ProjectDocument.parse(document)).toEqual(document);
    expect(document.lines.find(({ id }) => id === line.id)).toEqual({ ...line, note: 'ours' });
    await again.stop();
    await database.drop();
  });

  it('takes frames of older projects, their history and the library for such as are taken apart', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const frame = demo.frames[0]!;
    const response = await commit(service, 'Another note', [
      { entity: 'frame', id: frame.id, before: frame, after: { ...frame, note: 'ours' } },
    ]);
    expect(response.status).toBe(200);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`update frames set body = body - 'whole'`);
    await client.query(
      `update change_sets set changes = jsonb_build_array(changes->0 || jsonb_build_object('before', (changes->0->'before') - 'whole', 'after', (changes->0->'after') - 'whole'))`,
    );
    await migrate(client, '0024_whole_frames');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets order by revision desc limit 1');
    expect(rows[0]!.changes[0]!.before as unknown).toEqual(frame);
    const frames = await client.query<{ whole: unknown }>(`select body->'whole' as whole from frames`);
    expect(frames.rows.map(({ whole }) => whole)).toEqual(demo.frames.map(() => null));
    await client.end();
    await database.drop();
  });

  it('takes profiles of older projects, and their history, for such as make whole programs in the full language', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const profile = ListProfile.parse({
      ...standardProfile,
      id: '019aab00-0000-7000-8000-000000000001',
      projectId: demo.project.id,
      name: 'Short',
      deviceIds: [],
    });
    const response = await commit(service, 'A profile', [{ entity: 'listProfile', id: profile.id, before: null, after: profile }]);
    expect(response.status).toBe(200);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`update list_profiles set body = body - 'portable' - 'scanMs' - 'parts'`);
    await client.query(
      `update change_sets set changes = jsonb_build_array(changes->0 || jsonb_build_object('after', (changes->0->'after') - 'portable' - 'scanMs' - 'parts'))`,
    );
    await migrate(client, '0027_program_forms');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets order by revision desc limit 1');
    expect(rows[0]!.changes[0]!.after as unknown).toEqual(profile);
    const profiles = await client.query<{ body: unknown }>(`select body from list_profiles`);
    expect(profiles.rows.map(({ body }) => body)).toEqual([profile]);
    await client.end();
    await database.drop();
  });

  it('gets a book with all chapters, in the project and in its history', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const { book, ...before } = demo.project;
    const changes = [{ entity: 'project', id: projectId, before: demo.project, after: { ...demo.project, note: 'Another.' } }];
    expect((await commit(service, 'A note', changes)).status).toBe(200);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`update projects set body = body - 'book'`);
    const without = `jsonb_build_object('before', (changes->0->'before') - 'book', 'after', (changes->0->'after') - 'book')`;
    await client.query(`update change_sets set changes = jsonb_build_array(changes->0 || ${without})`);
    await migrate(client, '0028_book');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets');
    expect(rows[0]!.changes[0]!.before as unknown).toEqual({ ...before, book: plainBook() });
    const projects = await client.query<{ body: Record<string, unknown> }>('select body from projects');
    expect(projects.rows[0]!.body).toEqual({ ...before, note: 'Another.', book: plainBook() });
    expect(book.company).not.toBe('');
    await client.end();
    await database.drop();
  });

  it('finds fields by the names that they have now, in rows and in the history that undo goes back through', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const kiln = demo.ports.find((port) => port.kind === 'serial' && port.deviceId === deviceId('Kiln gateway'))! as SerialPort;
    const forwarding = { ...kiln, forwardedUnits: [{ first: 11, last: 41 }] };
    const changes = [{ entity: 'port', id: kiln.id, before: kiln, after: forwarding }];
    await commit(service, 'Forward some', changes);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    const older = (column: string) => `replace(${column}::text, '"forwardedUnits"', '"passes"')::jsonb`;
    await client.query(`update ports set body = ${older('body')}`);
    await client.query(`update change_sets set changes = ${older('changes')}`);
    await migrate(client, '0008_forwarded_units');
    await client.end();

    const again = await serve(database.url);
    const at = `http://127.0.0.1:${again.port}/api/projects/${projectId}`;
    const port = async () => {
      const { document } = (await (await fetch(at)).json()) as { document: ProjectDocument };
      expect(ProjectDocument.parse(document)).toEqual(document);
      return document.ports.find(({ id }) => id === kiln.id);
    };
    expect(await port()).toEqual(forwarding);
    expect((await fetch(`${at}/undo`, { method: 'POST' })).status).toBe(200);
    expect(await port()).toEqual(kiln);
    await again.stop();
    await database.drop();
  });

  describe('when the stand-ins were laid out anew', () => {
    /** Where the map of before had these of the Plant meter and of the Floor I/O block. */
    const before = new Map([
      ['Current L2', 3001],
      ['Frequency', 3109],
      ['Active energy', 3203],
      ['Spray valves', 1065],
    ]);
    const older = <Kind extends Device | Point>(row: Kind): Kind => {
      if ('offset' in row) return { ...row, offset: before.get(row.name) ?? row.offset };
      return { ...row, standIn: 'plant-meter', forbidden: [{ table: 'holding', first: 3005, last: 3026 }] };
    };
    let database: Awaited<ReturnType<typeof makeDatabase>>;
    let service: Service;
    let client: pg.Client;
    const at = () => `http://127.0.0.1:${service.port}/api/projects/${projectId}`;
    const document = async () => ((await (await fetch(at())).json()) as { document: ProjectDocument }).document;
    const offsets = async () => {
      const { points } = await document();
      return [...before.keys()].map((name) => points.find((point) => point.name === name)?.offset);
    };

    beforeEach(async () => {
      database = await makeDatabase();
      service = await serve(database.url);
      client = new pg.Client({ connectionString: database.url });
      await client.connect();
    });
    afterEach(async () => {
      await service.stop();
      await database.drop();
    });

    async function reopen(): Promise<void> {
      await client.end();
      service = await serve(database.url);
    }

    async function makeOlder(): Promise<void> {
      await service.stop();
      // Stand-ins were code of their own then.
      const played = { 'Plant meter': 'plant-meter', 'Floor I/O block': 'floor-io' };
      for (const [name, standIn] of Object.entries(played))
        await client.query(`update devices set body = body || $2 where body->>'name' = $1`, [name, JSON.stringify({ standIn })]);
      for (const [name, offset] of before)
        await client.query(`update points set body = jsonb_set(body, '{offset}', $2) where body->>'name' = $1`, [name, String(offset)]);
    }

    it('a demo that nobody has edited is made anew', async () => {
      await makeOlder();
      await reopen();
      expect(await document()).toEqual(demo);
    });

    it('an edited one stays, and its points follow the stand-ins, also through undo', async () => {
      const meter = deviceNamed('Plant meter');
      const spray = demo.points.find(({ name }) => name === 'Spray valves')!;
      const elsewhere = { ...demo.points.find(({ name }) => name === 'Frequency')!, offset: 3110 };
      const gone = { ...elsewhere, id: meter.id.replace(/.{4}$/, 'ffff'), name: 'Voltage L3 again', offset: 7424 };
      const changes: Change[] = [
        { entity: 'device', id: meter.id, before: older<Device>(meter), after: { ...older<Device>(meter), note: 'ours' } },
        { entity: 'point', id: spray.id, before: older(spray), after: { ...older(spray), note: 'ours' } },
        { entity: 'point', id: gone.id, before: { ...gone, offset: 3031 }, after: null },
      ];
      await makeOlder();
      const table = (entity: string) => (entity === 'device' ? 'devices' : 'points');
      for (const { entity, id, after } of changes)
        if (after) await client.query(`update ${table(entity)} set body = $2 where id = $1`, [id, after]);
      await client.query(`update points set body = $2 where id = $1`, [elsewhere.id, elsewhere]);
      await client.query(`update projects set revision = 1`);
      await client.query(
        `insert into change_sets (id, project_id, revision, kind, of, label, changes) values ($1, $2, 1, 'edit', $1, 'Ours', $3)`,
        [demo.rounds[0]!.id, projectId, JSON.stringify(changes)],
      );
      await migrate(client, '0009_registers_laid_out_anew', '0019_programs');
      await reopen();
      expect(await offsets())
        .withContext('what was put elsewhere by hand stays there')
        .toEqual([7422, 3110, 8120, 641]);
      const { devices, points } = await document();
      expect(devices.find(({ id }) => id === meter.id)).toEqual({
        ...meter,
        note: 'ours',
        forbidden: [{ table: 'holding', first: 7398, last: 7415 }],
      });
      expect(points.some(({ id }) => id === gone.id)).toBeFalse();
      expect((await fetch(`${at()}/undo`, { method: 'POST' })).status).toBe(200);
      expect((await document()).points.find(({ id }) => id === spray.id)).toEqual(spray);
      expect((await document()).points.find(({ id }) => id === gone.id)).toEqual(gone);
    });
  });

  it('whose stand-ins were code of their own runs their programs, and devices and points know what is said of them since', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const drive = deviceNamed('Fan drive north');
    const point = demo.points.find(({ deviceId }) => deviceId === drive.id)!;
    const changes = [
      { entity: 'device', id: drive.id, before: drive, after: { ...drive, note: 'ours' } },
      { entity: 'point', id: point.id, before: point, after: { ...point, note: 'ours' } },
    ];
    await commit(service, 'Set two', changes);
    await service.stop();
    const client = new pg.Client({ connectionString: database.url });
    await client.connect();
    const older = (row: string) =>
      `case when ${row}->>'standIn' = 'register-map' then ${row} || '{"standIn": "fan-drive"}' else ${row} end - '{program,recording,coupler,identification,setting}'::text[]`;
    for (const table of ['devices', 'points']) await client.query(`update ${table} set body = ${older('body')}`);
    const [before, after] = ['before', 'after'].map((key) => older(`(change->'${key}')`));
    await client.query(
      `update change_sets set changes = (select jsonb_agg(change || jsonb_build_object('before', ${before}, 'after', ${after})) from jsonb_array_elements(changes) as change)`,
    );
    await migrate(client, '0019_programs', '0020_recordings');
    const { rows } = await client.query<{ changes: Change[] }>('select changes from change_sets order by revision desc limit 1');
    await client.end();
    expect(rows[0]!.changes.map((change) => [change.before, change.after])).toEqual([
      [drive, { ...drive, note: 'ours' }],
      [
        { ...point, setting: null },
        { ...point, setting: null, note: 'ours' },
      ],
    ] as never);
    const again = await serve(database.url);
    const response = await fetch(`http://127.0.0.1:${again.port}/api/projects/${projectId}`);
    const { document } = (await response.json()) as { document: ProjectDocument };
    expect(ProjectDocument.parse(document)).toEqual(document);
    expect(document.devices.find(({ id }) => id === drive.id)).toEqual({ ...drive, note: 'ours' });
    await again.stop();
    await database.drop();
  });
});
