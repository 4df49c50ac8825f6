import fc from 'fast-check';
import { compile } from '../compile/index.js';
import { fernhollow } from '../demo/index.js';
import { ProjectMaker } from '../making/index.js';
import { blankProject, listedKinds, listOf, ProjectDocument } from '../model/index.js';
import { countedIds } from '../testing/index.js';
import { fileOf, type KeptEvidence, readProjectFile, whyNotWhole, withNewIds } from './index.js';

const demo = fernhollow();
const newId = countedIds('019aa222');

/** Projects with a few lines, devices on them, points, and routes between any of these. */
const projects = fc
  .record({
    name: fc.string({ minLength: 1, maxLength: 30, unit: 'grapheme' }).filter((name) => name.trim() === name && name.length <= 80),
    note: fc.string({ maxLength: 60 }).filter((note) => !note.includes('\0')),
    buses: fc.nat(2),
    devices: fc.array(fc.record({ points: fc.array(fc.nat(60_000), { maxLength: 5 }), onBus: fc.boolean(), plays: fc.boolean() }), {
      maxLength: 6,
    }),
    routes: fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 8 }),
  })
  .map(({ name, note, buses, devices, routes }) => {
    const maker = new ProjectMaker({ ...blankProject(newId(), name), note }, newId);
    const net = maker.net();
    const lines = Array.from({ length: buses }, (_, index) => maker.bus(`Bus ${index}`));
    devices.forEach(({ points, onBus, plays }, index) => {
      const device = maker.device(`Device ${index}`, { standIn: plays ? 'register-map' : null });
      if (onBus && lines[0]) maker.port(device, lines[index % lines.length]!);
      else maker.port(device, net);
      points.forEach((offset, at) => maker.point(device, `Point ${at}`, { offset }));
    });
    const { points } = maker.document;
    const round = maker.round(500);
    if (points.length > 1) for (const [a, b] of routes) maker.route(points[a % points.length]!, points[b % points.length]!, round);
    if (points[0])
      maker.document.watchLists.push({
        id: newId(),
        projectId: maker.document.project.id,
        name: 'List',
        radix: 'hex',
        items: [{ of: 'point', id: points[0].id, radix: null }],
      });
    return maker.document;
  });

const evidence: KeptEvidence[] = [
  { kind: 'proof', of: demo.routes[0]!.id, revision: 3, at: '2026-11-26T10:00:00.000Z', by: null, body: { state: 'proved' } },
];

describe('A project as a file', () => {
  it('is the same project once it is read', () => {
    fc.assert(
      fc.property(projects, fc.nat(1000), (document, revision) => {
        const file = fileOf(document, revision, []);
        expect(readProjectFile(JSON.stringify(file))).toEqual({ ok: true, value: file });
      }),
      { numRuns: 60 },
    );
    const file = fileOf(demo, 7, evidence);
    expect(readProjectFile(JSON.stringify(file))).toEqual({ ok: true, value: file });
  });

  it('with new ids is another project that does the same', () => {
    const idsOf = (document: ProjectDocument) => [
      document.project.id,
      ...listedKinds.flatMap((kind) => document[listOf(kind)].map(({ id }) => id)),
    ];
    fc.assert(
      fc.property(projects, (document) => {
        const anew = withNewIds(document, newId);
        expect(whyNotWhole(anew)).toBeNull();
        const text = JSON.stringify(anew);
        expect(idsOf(document).filter((id) => text.includes(id))).toEqual([]);
        // Back under the ids that it had, it is what it was.
        const [before, after] = [idsOf(document), idsOf(anew)];
        expect(JSON.parse(after.reduce((all, id, index) => all.replaceAll(id, before[index]!), text))).toEqual(
          JSON.parse(JSON.stringify(document)),
        );
      }),
      { numRuns: 40 },
    );
    const requests = (document: ProjectDocument) =>
      compile(document).plan.requests.map(({ functionCode, offset, count }) => [functionCode, offset, count]);
    expect(requests(withNewIds(demo, newId))).toEqual(requests(demo));
  });

  it('of an older version is read: a document alone, without what projects have had since', () => {
    const { client, resumes, ...project } = demo.project;
    const read = readProjectFile(JSON.stringify({ ...demo, project }));
    expect(read.ok && read.value.document).toEqual({ ...demo, project: { ...project, client: '', resumes: true } });
  });

  it('is refused with a sentence where it is none, is newer, or is not whole', () => {
    const says = (file: unknown) => {
      const read = readProjectFile(typeof file === 'string' ? file : JSON.stringify(file));
      return read.ok ? null : read.problem;
    };
    const file = fileOf(demo, 0, []);
    expect(says('PK')?.message).toBe('This is no project of Plain Envoy: the file is no JSON.');
    for (const json of [null, 7, [], {}, { project: {} }]) expect(says(json)?.message).toBe('This is no project of Plain Envoy.');
    expect(says({ format: 'plain-envoy device', version: 1 })?.message).toContain('holds a device or its map, not a project');
    expect(says({ ...file, version: 9 })).toEqual({
      message:
        'This file was written by a newer Plain Envoy; this one reads versions up to 3. Take it in there, or bring this one up to date. Nothing was taken in.',
      path: ['version'],
    });
    const [first, ...rest] = demo.ports;
    const wrong = { ...file, document: { ...demo, ports: [{ ...first, position: 'x' }, ...rest] } };
    expect(says(wrong)).toEqual({
      message: 'In ports, number 1: “position” must be of type number. Nothing was taken in.',
      path: ['document', 'ports', 0, 'position'],
    });
    const dangling = { ...file, document: { ...demo, devices: demo.devices.slice(1) } };
    expect(says(dangling)?.message).toMatch(/^The \w+ .* names a device that is not in the file\. Nothing was taken in\.$/);
    const twice = { ...file, document: { ...demo, lines: [...demo.lines, demo.lines[0]] } };
    expect(says(twice)?.message).toBe(`The line “${demo.lines[0]!.name}” has an id that something else has too. Nothing was taken in.`);
    const foreign = { ...file, document: { ...demo, rounds: [{ ...demo.rounds[0], projectId: newId() }, ...demo.rounds.slice(1)] } };
    expect(says(foreign)?.message).toContain('belongs to another project');
  });
});
