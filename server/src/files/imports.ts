import type { ImportEvent } from '@plain-envoy/core/feed';
import {
  emptyReason,
  mapChanges,
  type MapHome,
  MapOptions,
  type MapReading,
  type MapRow,
  readEntries,
  readMap,
} from '@plain-envoy/core/format';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import type { Held, ProjectStore } from '../projects/index.js';
import { ProblemError, refuse } from '../problem/index.js';
import { readSource, type Source } from './sources/index.js';
import { good } from '@plain-envoy/core/outcome';

/** Imports that wait for an answer at a time; the oldest makes way. */
const MAX_WAITING = 8;
const SHOWN_ROWS = 300;

interface Waiting {
  id: string;
  projectId: string;
  deviceId: string;
  source: Source;
  options: MapOptions;
  /** What the rows are at a revision of the project; read again only where it has moved on. */
  read: { revision: number; home: MapHome; reading: MapReading | null; problem: string | null };
}

/** What would become of a file, before anything is written. */
export interface Preview {
  id: string;
  what: string;
  kind: Source['kind'];
  /** Why nothing can be made of it; null where something can. */
  problem: string | null;
  reading: Omit<MapReading, 'rows'> | null;
  total: number;
  /** The first rows, and the first that have a problem. */
  rows: Omit<MapRow, 'before'>[];
  problems: Omit<MapRow, 'before'>[];
  options: MapOptions;
}

/** Files that were given to be imported: each is read once, shown as often as options change, and written when accepted. */
export class Imports {
  private readonly waiting = new Map<string, Waiting>();

  constructor(private readonly projects: ProjectStore) {}

  async offer(projectId: string, deviceId: string, bytes: Buffer): Promise<Preview> {
    const held = await this.projects.get(projectId);
    const source = await readSource(bytes, homeOf(held.document, deviceId).areas);
    if (!source.ok) refuse('does-not-fit', source.problem.message);
    const options = MapOptions.parse({});
    const waiting = { id: newId(), projectId, deviceId, source: source.value, options, read: read(source.value, options, held, deviceId) };
    this.waiting.set(waiting.id, waiting);
    const oldest = this.waiting.keys().next().value;
    if (this.waiting.size > MAX_WAITING && oldest) this.waiting.delete(oldest);
    return previewOf(waiting);
  }

  async choose(id: string, options: MapOptions): Promise<Preview> {
    const waiting = this.find(id);
    const held = await this.projects.get(waiting.projectId);
    waiting.options = options;
    waiting.read = read(waiting.source, options, held, waiting.deviceId);
    return previewOf(waiting);
  }

  drop(id: string): void {
    this.waiting.delete(id);
  }

  /** Writes all rows that fit as one change set, which one undo takes back. */
  async *accept(id: string): AsyncGenerator<ImportEvent> {
    const waiting = this.find(id);
    const from = performance.now();
    const held = await this.projects.get(waiting.projectId);
    const { changes, counts, name } = this.changes(waiting, held);
    const steps: number[] = [];
    let wake = () => undefined as void;
    let ended = false;
    const label = `Import ${changes.length} point${changes.length === 1 ? '' : 's'} into ${name}`;
    const writing = this.projects
      .apply(waiting.projectId, { label, baseRevision: held.revision, changes }, (done) => {
        steps.push(done);
        wake();
      })
      .finally(() => {
        ended = true;
        wake();
      });
    writing.catch(() => undefined);
    while (!ended || steps.length) {
      const done = steps.splice(0).at(-1);
      if (done === undefined) await new Promise<void>((resume) => (wake = resume));
      else yield { kind: 'progress', done, total: changes.length };
    }
    try {
      const { revision } = await writing;
      this.drop(id);
      yield { kind: 'accepted', revision, adds: counts.adds, changes: counts.changes, tookMs: Math.round(performance.now() - from) };
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      yield { kind: 'failed', sentence: error.problem.message };
    }
  }

  private changes(waiting: Waiting, held: Held) {
    const { source, options, deviceId } = waiting;
    if (waiting.read.revision !== held.revision) waiting.read = read(source, options, held, deviceId);
    const { reading, problem, home } = waiting.read;
    if (!reading || problem) return refuse('does-not-fit', problem ?? 'Nothing fits.');
    const name = held.document.devices.find(({ id }) => id === deviceId)!.name;
    return { changes: mapChanges(reading, home, newId), counts: reading.counts, name };
  }

  private find(id: string): Waiting {
    return this.waiting.get(id) ?? refuse('not-there', 'This import is not waiting any more; give the file again.');
  }
}

function previewOf({ id, source, options, read: { reading, problem } }: Waiting): Preview {
  const raw = source.kind === 'table' ? source.table.rows : [];
  const rows = reading
    ? reading.rows.slice(0, SHOWN_ROWS).map(bare)
    : raw
        .slice(0, 20)
        .map((cells, index) => ({ line: index + 1, cells, fate: 'problem' as const, draft: null, problems: [], remarks: [] }));
  const problems = reading ? reading.rows.filter(({ fate }) => fate === 'problem').slice(0, SHOWN_ROWS) : [];
  return {
    id,
    what: source.what,
    kind: source.kind,
    problem,
    reading: reading && withoutRows(reading),
    total: reading?.rows.length ?? raw.length,
    rows,
    problems: problems.map(bare),
    options,
  };
}

function bare({ before, ...row }: MapRow): Omit<MapRow, 'before'> {
  return row;
}

function withoutRows({ rows, ...about }: MapReading): Omit<MapReading, 'rows'> {
  return about;
}

/** What the rows are, and why nothing would be added: told with what the file was read as. */
function read(source: Source, options: MapOptions, { revision, document }: Held, deviceId: string): Waiting['read'] {
  const home = homeOf(document, deviceId);
  const reading = source.kind === 'table' ? readMap(source.table, home, options) : good(readEntries(source.entries, home));
  if (!reading.ok) return { revision, home, reading: null, problem: `${source.what}: ${reading.problem.message}` };
  const empty = emptyReason(reading.value);
  const problem = empty && `${source.what}: ${reading.value.rows.length} rows were read. ${empty}`;
  return { revision, home, reading: reading.value, problem };
}

function homeOf({ project, devices, points }: ProjectDocument, deviceId: string): MapHome {
  const device = devices.find(({ id }) => id === deviceId) ?? refuse('not-there', 'This device is not in the project.', ['deviceId']);
  const { notation, areas } = device;
  return { projectId: project.id, deviceId, notation, areas, points: points.filter((point) => point.deviceId === deviceId) };
}
