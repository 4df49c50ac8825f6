import type { Accepted, ImportEvent, ImportPreview, OfferEvent } from '@plain-envoy/core/feed';
import { type MapHome, MapOptions } from '@plain-envoy/core/format';
import { asPaperPoint, type Change, type PointBody, type ProjectDocument } from '@plain-envoy/core/model';
import { asPapers } from '@plain-envoy/core/papers';
import { v7 as newId } from 'uuid';
import type { Held, ProjectStore } from '../projects/index.js';
import { ProblemError, refuse } from '../problem/index.js';
import { progressOf } from '../progress/index.js';
import type { Words } from '../words/index.js';
import type { Reached, ThreadLimits } from '../thread/index.js';
import { type Mapped, Reader } from './reading/index.js';

/** Imports that wait for an answer at a time; the oldest makes way. */
const MAX_WAITING = 4;

interface Waiting {
  id: string;
  projectId: string;
  deviceId: string;
  reader: Reader;
  options: MapOptions;
  /** The revision of the project at which it was read last; read again only where that has moved on. */
  revision: number;
  mapped: Mapped;
}

/** Files that were given to be imported: each is read once, shown as often as options change, and written when accepted. */
export class Imports {
  private readonly waiting = new Map<string, Waiting>();

  constructor(
    private readonly projects: ProjectStore,
    private readonly words: Words,
    private readonly limits?: ThreadLimits,
  ) {}

  /** Reads a file and tells how far it has come; the last that it tells is what would become of it. `signal` ends it. */
  async *offer(projectId: string, deviceId: string, bytes: Uint8Array, signal: AbortSignal): AsyncGenerator<OfferEvent> {
    const reader = new Reader(this.limits);
    const stop = () => reader.close();
    signal.addEventListener('abort', stop, { once: true });
    const steps = progressOf<Reached, ImportPreview>((tell) => this.read(reader, projectId, deviceId, bytes, tell));
    let hasTold = false;
    try {
      let step = await steps.next();
      for (; !step.done; step = await steps.next()) {
        yield { kind: 'progress', ...step.value };
        hasTold = true;
      }
      yield { kind: 'offered', preview: step.value };
    } catch (error) {
      if (!hasTold || !(error instanceof ProblemError)) throw error;
      yield { kind: 'failed', sentence: error.problem.message };
    } finally {
      signal.removeEventListener('abort', stop);
    }
  }

  private async read(
    reader: Reader,
    projectId: string,
    deviceId: string,
    bytes: Uint8Array,
    tell: (reached: Reached) => void,
  ): Promise<ImportPreview> {
    try {
      const held = await this.projects.get(projectId);
      const home = await this.homeOf(held.document, deviceId);
      const read = await reader.ask<'read'>({ kind: 'read', bytes, areas: home.areas }, tell);
      if (!read.ok) refuse('does-not-fit', read.problem.message);
      const options = MapOptions.parse({});
      const mapped = await reader.ask<'map'>({ kind: 'map', home, options });
      const waiting: Waiting = { id: newId(), projectId, deviceId, reader, options, revision: held.revision, mapped };
      this.waiting.set(waiting.id, waiting);
      const oldest = this.waiting.keys().next().value;
      if (this.waiting.size > MAX_WAITING && oldest) this.drop(oldest);
      return previewOf(waiting);
    } catch (error) {
      reader.close();
      throw error;
    }
  }

  async choose(id: string, options: MapOptions): Promise<ImportPreview> {
    const waiting = this.find(id);
    const held = await this.projects.get(waiting.projectId);
    waiting.options = options;
    await this.map(waiting, held);
    return previewOf(waiting);
  }

  drop(id: string): void {
    this.waiting.get(id)?.reader.close();
    this.waiting.delete(id);
  }

  /**
   * Writes all rows that fit as one change set, which one undo takes back. Where it is said what they are from, they become the papers
   * of the device as well.
   */
  async *accept(id: string, papersFrom: string | null = null): AsyncGenerator<ImportEvent> {
    const waiting = this.find(id);
    const from = performance.now();
    const held = await this.projects.get(waiting.projectId);
    const { changes: rows, counts, name, drafts } = await this.changes(waiting, held);
    const changes = papersFrom === null ? rows : [...rows, fileAsPapers(held.document, waiting.deviceId, papersFrom, drafts)];
    const label = `Import ${rows.length} point${rows.length === 1 ? '' : 's'} into ${name}`;
    const steps = progressOf<number, Accepted>((tell) =>
      this.projects.apply(waiting.projectId, { label, baseRevision: held.revision, changes }, tell),
    );
    try {
      let step = await steps.next();
      for (; !step.done; step = await steps.next()) yield { kind: 'progress', done: step.value, total: changes.length };
      const { revision } = step.value;
      this.drop(id);
      yield { kind: 'accepted', revision, adds: counts.adds, changes: counts.changes, tookMs: Math.round(performance.now() - from) };
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      yield { kind: 'failed', sentence: error.problem.message };
    }
  }

  /** Ends the threads that wait. */
  end(): void {
    for (const id of [...this.waiting.keys()]) this.drop(id);
  }

  private async changes(waiting: Waiting, held: Held) {
    if (waiting.revision !== held.revision) await this.map(waiting, held);
    const { problem } = waiting.mapped;
    const found = await waiting.reader.ask<'changes'>({ kind: 'changes', home: homeOf(held.document, waiting.deviceId) });
    if (!found) return refuse('does-not-fit', problem ?? 'Nothing fits.');
    const name = held.document.devices.find(({ id }) => id === waiting.deviceId)!.name;
    return { ...found, name };
  }

  private async map(waiting: Waiting, { revision, document }: Held): Promise<void> {
    const home = await this.homeOf(document, waiting.deviceId);
    waiting.mapped = await waiting.reader.ask<'map'>({ kind: 'map', home, options: waiting.options });
    waiting.revision = revision;
  }

  private async homeOf(document: ProjectDocument, deviceId: string): Promise<MapHome> {
    return { ...homeOf(document, deviceId), words: await this.words.list() };
  }

  private find(id: string): Waiting {
    return this.waiting.get(id) ?? refuse('not-there', 'This import is not waiting any more; give the file again.');
  }
}

/** The change that makes what a file says of a device its papers. */
function fileAsPapers(document: ProjectDocument, deviceId: string, source: string, drafts: readonly PointBody[]): Change {
  const of = { deviceId, projectId: document.project.id, source, newId };
  return asPapers(
    document,
    of,
    drafts.map((draft) => asPaperPoint(draft)),
  );
}

function previewOf({ id, options, mapped }: Waiting): ImportPreview {
  return { id, ...mapped, options };
}

function homeOf({ project, devices, points }: ProjectDocument, deviceId: string): MapHome {
  const device = devices.find(({ id }) => id === deviceId) ?? refuse('not-there', 'This device is not in the project.', ['deviceId']);
  const { notation, areas } = device;
  return { projectId: project.id, deviceId, notation, areas, points: points.filter((point) => point.deviceId === deviceId) };
}
