import type { Batch } from '@plain-envoy/core/feed';
import type { ErrandRun } from '@plain-envoy/core/errand';
import { atItsPlace, type Errand, type Point, pointsOfErrand, type ProjectDocument } from '@plain-envoy/core/model';
import { type ErrandEnd, runErrand } from '@plain-envoy/engine/errand';
import { v7 as newId } from 'uuid';
import type { Bench } from '../bench/index.js';
import type { Evidence } from '../evidence/index.js';
import { ProblemError, refuse } from '../problem/index.js';
import type { Held } from '../projects/index.js';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { inBackground } from '@plain-envoy/engine/background';

export interface ErrandSurroundings {
  bench: Bench;
  evidence: Evidence;
  project(projectId: string): Promise<Held>;
  /** Everyone who looks hears how a run goes on. */
  tell(run: ErrandRun): void;
}

interface Going {
  run: ErrandRun;
  devices: ReadonlySet<string>;
  overlaps: boolean;
  stop: AbortController;
}

/**
 * Runs errands on the bench: by hand, and when the bit that sets one off rises or its point changes. One errand runs once at a
 * time, and none works on a device on which another does, unless both may. What came of each run is kept.
 */
export class ErrandRunner {
  private readonly going = new Map<string, Going>();
  /** What the point that sets an errand off held last. */
  private readonly seen = new Map<string, string>();

  constructor(private readonly around: ErrandSurroundings) {}

  list(): ErrandRun[] {
    return [...this.going.values()].map(({ run }) => run);
  }

  async history(projectId: string, errandId: string): Promise<ErrandRun[]> {
    return (await this.around.evidence.list(projectId, 'errand', 30, errandId)).map(({ body }) => body as unknown as ErrandRun);
  }

  /** Starts an errand because a person wants it now. */
  async byHand(projectId: string, errandId: string): Promise<ErrandRun> {
    this.around.bench.allowByHand();
    return this.start(await this.around.project(projectId), errandId, 'by hand');
  }

  /** Starts an errand; refused, with the reason, where it may not run just now. */
  start({ document, revision }: Held, errandId: string, startedBy: string): ErrandRun {
    const errand =
      document.errands.find(({ id }) => id === errandId) ?? refuse('not-there', 'This errand is not in the project.', ['errandId']);
    const { state } = this.around.bench;
    if (!state.running || state.projectId !== document.project.id) refuse('not-now', 'The bench does not run this project.');
    const devices = devicesOf(errand, document);
    const why = this.whyNot(errand, devices, document);
    if (why) refuse('not-now', why);
    const common = { id: newId(), errandId, name: errand.name, startedBy, atMs: Date.now() };
    const run: ErrandRun = { ...common, endedAtMs: null, state: 'runs', sentence: '', steps: [] };
    const going: Going = { run, devices, overlaps: errand.overlaps, stop: new AbortController() };
    this.going.set(run.id, going);
    this.around.tell(run);
    inBackground(this.carryOut(going, errand, document, revision));
    return run;
  }

  stop(runId: string): void {
    this.going.get(runId)?.stop.abort();
  }

  /** Looks in what was read for what sets errands off. A value that was there at the start sets off nothing. */
  take({ readings }: Batch): void {
    const { running, projectId } = this.around.bench.state;
    if (!running || !projectId || readings.length === 0) return;
    const byPoint = new Map(readings.map((reading) => [reading.pointId, reading]));
    const look = (held: Held) => {
      for (const errand of held.document.errands) {
        const { trigger } = errand;
        const reading = trigger.on === 'hand' ? undefined : byPoint.get(trigger.pointId);
        if (trigger.on === 'hand' || !reading?.words || reading.quality !== 'good') continue;
        const point = held.document.points.find(({ id }) => id === trigger.pointId);
        const now = trigger.on === 'edge' ? String((reading.words[0]! >>> (point?.bit ?? 0)) & 1) : reading.words.join();
        const before = this.seen.get(errand.id);
        this.seen.set(errand.id, now);
        if (before === undefined || before === now || (trigger.on === 'edge' && now !== '1')) continue;
        this.setOff(held, errand, point);
      }
    };
    // While the project cannot be opened, nothing is set off; what comes next is looked at again.
    this.around.project(projectId).then(look, () => undefined);
  }

  /** The bench has stopped. */
  clear(): void {
    for (const { stop } of this.going.values()) stop.abort();
    this.seen.clear();
  }

  private setOff(held: Held, errand: Errand, point: Point | undefined): void {
    try {
      this.start(held, errand.id, `${point?.name ?? 'Its point'} ${errand.trigger.on === 'edge' ? 'went on' : 'changed'}`);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      const now = Date.now();
      const run: ErrandRun = {
        ...{ id: newId(), errandId: errand.id, name: errand.name, startedBy: `${point?.name ?? 'Its point'} set it off`, atMs: now },
        ...{ endedAtMs: now, state: 'failed', sentence: `It did not run: ${error.problem.message}`, steps: [] },
      };
      inBackground(this.keep(run, held.document.project.id, held.revision));
    }
  }

  private whyNot(errand: Errand, devices: ReadonlySet<string>, document: ProjectDocument): string | null {
    for (const other of this.going.values()) {
      if (other.run.errandId === errand.id) return `${errand.name} runs already; it runs to its end first.`;
      if (errand.overlaps && other.overlaps) continue;
      const shared = [...devices].find((id) => other.devices.has(id));
      if (shared)
        return `${other.run.name} works on ${document.devices.find(({ id }) => id === shared)?.name ?? 'a device of it'}, and only one errand may at a time.`;
    }
    return null;
  }

  /** Never rejects. */
  private async carryOut({ run, stop }: Going, errand: Errand, document: ProjectDocument, revision: number): Promise<void> {
    const { bench, tell } = this.around;
    const projectId = document.project.id;
    const points = new Map(document.points.map((point) => [point.id, point]));
    const end = await runErrand(
      errand,
      {
        point: (id) => points.get(id),
        read: (point) => asOutcome(bench.read(projectId, point)),
        write: (point, words, isBroadcast) =>
          asOutcome(bench.writePoint(projectId, point, atItsPlace(words, point), isBroadcast).then(() => null)),
      },
      stop.signal,
      (step) => {
        run.steps.push(step);
        tell(run);
      },
    ).catch((error: unknown): ErrandEnd => ({ ok: false, sentence: `It ended by a mistake of the server itself: ${String(error)}` }));
    Object.assign(run, {
      endedAtMs: Date.now(),
      state: end.ok ? 'done' : stop.signal.aborted ? 'stopped' : 'failed',
      sentence: end.sentence,
    });
    this.going.delete(run.id);
    await this.keep(run, projectId, revision);
  }

  private async keep(run: ErrandRun, projectId: string, revision: number): Promise<void> {
    this.around.tell(run);
    await this.around.evidence.keep(projectId, 'errand', run.errandId, revision, run).catch(() => undefined);
  }
}

function devicesOf(errand: Errand, { points }: ProjectDocument): ReadonlySet<string> {
  const ids = new Set(pointsOfErrand({ trigger: { on: 'hand' }, steps: errand.steps }));
  return new Set(points.flatMap(({ id, deviceId }) => (ids.has(id) ? [deviceId] : [])));
}

async function asOutcome<T>(promise: Promise<T>): Promise<Outcome<T>> {
  try {
    return good(await promise);
  } catch (error) {
    if (error instanceof ProblemError) return bad(error.problem.message);
    throw error;
  }
}
