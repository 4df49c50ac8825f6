import { whereAsked } from '../as-found/index.js';
import { compile } from '../compile/index.js';
import { fernhollow, mendedFernhollow } from '../demo/index.js';
import { lostWhen } from '../handover/index.js';
import { Book, blankProject, bookChapters, ProjectDocument } from '../model/index.js';
import { fingerprint } from '../proof/index.js';
import { fileOf, type KeptEvidence } from '../project-file/index.js';
import { turnedRound } from '../testing/index.js';
import { bookOf, chapterOf, type Section, tablesOf } from './index.js';

const demo = fernhollow();
const file = fileOf(demo, 12, [], [], {
  revisedAt: '2026-11-29T14:05:59.000Z',
  revisions: [{ revision: 12, name: 'As built', note: 'Handed over.', at: '2026-11-29T15:00:00.000Z', by: 'K. Weaver' }],
});
const book = bookOf(file);
const titled = (title: string) => book.chapters.find((chapter) => chapter.title === title)!;
const textOf = (part: unknown) => JSON.stringify(part);
/** Everything that is read in a part of a book. */
const tablesIn = (section: Section) => tablesOf({ chapters: [section] });

describe('A book', () => {
  it('has the chapters that are wanted, in their order', () => {
    expect(book.chapters.map(({ title }) => title)).toEqual(bookChapters.map(({ label }) => label));
    const few = { ...demo, project: { ...demo.project, book: { ...demo.project.book, chapters: ['routes' as const, 'lines' as const] } } };
    const heard: string[] = [];
    const made = bookOf(fileOf(few, 1, []), null, (done, of) => heard.push(`${done}/${of}`));
    expect(made.chapters.map(({ title }) => title)).toEqual(['Routes', 'Lines']);
    expect(heard).toEqual(['1/2', '2/2']);
  });

  it('is of some lines alone where that is wanted, with what has to do with them, reckoned in the whole', () => {
    const line = demo.lines.find(({ name }) => name === 'Kiln bus')!;
    const part = bookOf(file, [line.id]);
    const rowsOf = (made: typeof book, title: string) =>
      tablesIn(made.chapters.find((one) => one.title === title)!).flatMap(({ table }) => table.rows);
    const sectionsOf = (title: string) => part.chapters.find((one) => one.title === title)!.sections.map((section) => section.title);
    expect(part.titleBlock[0]).toEqual({ label: 'Part', text: 'Kiln bus' });
    expect(sectionsOf('Lines')).toEqual(['Kiln bus']);
    const members = new Set(demo.ports.filter(({ lineId }) => lineId === line.id).map(({ deviceId }) => deviceId));
    expect(sectionsOf('Settings')).toEqual(demo.devices.filter(({ id }) => members.has(id)).map(({ name }) => name));
    const ends = new Map(demo.points.map(({ id, deviceId }) => [id, members.has(deviceId)]));
    const touching = demo.routes.filter(({ sourceId, destinationId }) => ends.get(sourceId) || ends.get(destinationId));
    expect(touching.length).toBeLessThan(demo.routes.length);
    expect(
      rowsOf(part, 'Routes')
        .map(([name]) => name)
        .sort(),
    ).toEqual(touching.map(({ name }) => name).sort());
    for (const title of ['Routes', 'Requests', 'Rounds', 'Findings', 'Proofs', 'Protocol']) {
      const whole = new Set(rowsOf(book, title).map(textOf));
      const rows = rowsOf(part, title);
      expect(rows.length).withContext(title).toBeGreaterThan(0);
      if (title === 'Rounds') continue;
      expect(rows.length).withContext(title).toBeLessThan(whole.size);
      expect(rows.filter((row) => !whole.has(textOf(row))))
        .withContext(`${title} as in the whole`)
        .toEqual([]);
    }
    expect(textOf(part)).not.toContain('Burner control');
    expect(bookOf(file, [])).withContext('of nothing').not.toEqual(book);
    expect(
      bookOf(
        file,
        demo.lines.map(({ id }) => id),
      ).chapters,
    )
      .withContext('of all lines')
      .toEqual(book.chapters);
  });

  it('says of which revision it is, by its name, and when that was', () => {
    expect(book.revision).toBe('Revision 12, As built');
    expect(book.at).toBe('2026-11-29 14:05 UTC');
    expect(textOf(titled('Revisions'))).toContain('This book is of revision 12, 2026-11-29 14:05 UTC.');
    expect(bookOf(fileOf(demo, 3, [])).revision).toBe('Revision 3');
    expect(book.titleBlock).toContain({ label: 'Document', text: 'FHM-31-07' });
  });

  it('has every line, device, point and route of the project in it', () => {
    const sections = (title: string) => titled(title).sections.map((section) => section.title);
    expect(sections('Lines')).toEqual(demo.lines.map(({ name }) => name));
    expect(sections('Settings')).toEqual(demo.devices.map(({ name }) => name));
    const rows = (title: string) => tablesIn(titled(title)).reduce((sum, { table }) => sum + table.rows.length, 0);
    expect(rows('Register maps')).toBe(demo.points.length);
    expect(rows('Routes')).toBe(demo.routes.length);
    for (const { name } of demo.routes)
      expect(textOf(titled('Routes')))
        .withContext(name)
        .toContain(name);
  });

  it('says what devices said when they were looked at, on the real plant where they were, and in full what is otherwise', () => {
    expect(textOf(titled('As found'))).toContain('Nothing was looked at yet.');
    const drive = demo.devices.find(({ name }) => name === 'Fan drive north')!;
    const ramp = demo.points.find(({ deviceId, name }) => deviceId === drive.id && name === 'Ramp to top speed')!;
    const asked = whereAsked(demo, drive.id);
    const body = (on: string, word: number) => ({
      ...{
        kind: 'device',
        name: drive.name,
        on,
        asked: asked.ok ? asked.value : '',
        steps: [],
        identification: null,
        refused: [],
        ended: null,
      },
      held: [{ table: ramp.table, offset: ramp.offset, words: [word] }],
    });
    const kept = (minute: number, on: string, word: number): KeptEvidence => ({
      ...{ kind: 'found', of: drive.id, revision: 12, at: `2026-11-29T14:0${minute}:00.000Z`, by: 'K. Weaver', body: body(on, word) },
    });
    const seen = chapterOf(fileOf(demo, 12, [kept(1, 'stand-ins', 75), kept(2, 'real', 80), kept(3, 'stand-ins', 90)]), 'found');
    const [all, others] = tablesIn(seen).map(({ table }) => table.rows);
    expect(all).toEqual([[drive.name, 'the real plant', '2026-11-29 14:02 UTC', 'K. Weaver', 12, '1 differs, 3 not known']]);
    expect(others).toContain([ramp.name, '9.0 s', '8.0 s', 'differs']);
  });

  it('says what is wrong, what is lost when, and what was proved, as the rest of the product does', () => {
    const { plan, findings } = compile(demo);
    expect(tablesIn(titled('Findings')).flatMap(({ table }) => table.rows).length).toBe(findings.length);
    for (const { message, mend } of findings) {
      expect(textOf(titled('Findings'))).toContain(textOf(message).slice(1, -1));
      expect(textOf(titled('Findings'))).toContain(textOf(mend).slice(1, -1));
    }
    const losses = lostWhen(demo, plan);
    expect(titled('What is lost when').sections.length).toBe(losses.length);
    expect(titled('Requests').sections.map(({ title }) => title)).toContain('Kiln controller');
    expect(textOf(titled('Rounds'))).toContain('Forecast for a minute');
  });

  it('tells a proof that rests on what is still so from one that does not, and takes the newest', () => {
    const mended = mendedFernhollow();
    const { plan } = compile(mended);
    const proof = (index: number, state: string, at: string, mark: string | null): KeptEvidence => ({
      ...{ kind: 'proof', of: mended.routes[index]!.id, revision: 2, at, by: 'A. Tester' },
      body: {
        ...{ routeId: mended.routes[index]!.id, state, sentence: `It was ${state}.`, loss: null, echo: null, on: 'stand-ins', revision: 2 },
        ...{ fingerprint: mark, atMs: 0, checks: [{ shows: 'the sign', sent: '-1', expected: '-1', found: '-1', ms: 12 }] },
      },
    });
    const known = (index: number) => fingerprint(plan, mended.routes[index]!.id);
    const evidence = [
      proof(0, 'failed', '2026-01-02T03:04:05.000Z', known(0)),
      proof(0, 'proved', '2026-01-03T03:04:05.000Z', known(0)),
      proof(1, 'proved', '2026-01-03T03:04:05.000Z', 'another'),
    ];
    const chapter = chapterOf(fileOf(mended, 2, evidence), 'proofs');
    const [summary, ...values] = tablesIn(chapter);
    const states = summary!.table.rows.map((row) => row[1]);
    expect(states.slice(0, 3)).toEqual(['proved', 'proved, changed since', 'never proved']);
    expect(textOf(chapter.blocks)).toContain(`1 of ${mended.routes.length} routes are proved as they are now.`);
    expect(values.length).toBe(2);
    expect(values[0]!.table.rows).toEqual([['the sign', '-1', '-1', '-1', 12]]);
  });

  it('is the same for the same file, whatever the order of its fields', () => {
    expect(textOf(bookOf(turnedRound(file)))).toBe(textOf(book));
  });

  it('says in each chapter of an empty project that there is nothing, and fails nowhere', () => {
    const empty = ProjectDocument.parse({
      project: blankProject(demo.project.id, 'Empty'),
      lines: [],
      devices: [],
      ports: [],
      points: [],
      rounds: [],
      routes: [],
    });
    for (const chapter of bookOf(fileOf(empty, 0, [])).chapters) {
      expect(chapter.sections.flatMap(({ blocks }) => blocks))
        .withContext(chapter.title)
        .toEqual([]);
      expect(chapter.blocks.some(({ kind }) => kind === 'text'))
        .withContext(chapter.title)
        .toBeTrue();
    }
  });

  it('takes each chapter once, at least one, and nothing but a picture as its logo', () => {
    const problem = (fields: object) => Book.safeParse(fields).error?.issues[0]!.message;
    expect(problem({})).toBeUndefined();
    expect(problem({ chapters: ['lines', 'lines'] })).toBe('Each chapter once.');
    expect(problem({ chapters: [] })).toBe('At least one chapter.');
    expect(problem({ logo: 'https://example.org/logo.png' })).toBe('A PNG or JPEG picture.');
    expect(problem({ titleBlock: [{ label: ' ', text: 'x' }] })).toBe('What is it?');
  });
});
