import { diagnose, type Seen } from '@plain-envoy/core/diagnose';
import type { Finding } from '@plain-envoy/core/findings';
import { cutFor, type LossEvent, lostWhen, type MeasuredLoss } from '@plain-envoy/core/handover';
import { pointWidth, type ProjectDocument } from '@plain-envoy/core/model';
import { type Plan, type PlannedRoute } from '@plain-envoy/core/plan';
import { fingerprint, type KeptProof, type ProofEvent, type RouteProof } from '@plain-envoy/core/proof';
import { byPapers, measureLosses, type ProofBench, proveByHand, proveRoutes } from '@plain-envoy/engine/prove';
import { z } from 'zod';
import type { Bench } from '../bench/index.js';
import type { Evidence } from '../evidence/index.js';
import type { LiveFeed } from '../live/index.js';
import type { Held } from '../projects/index.js';
import { ProblemError, refuse } from '../problem/index.js';
import type { Played, StandInsControl } from '../standins/index.js';
import { ProgramRuns } from './program-runs.js';
import { NotWrittenDown, type Unfinished } from '../unfinished/index.js';
import { castsDoubt } from '@plain-envoy/core/doubt';
import { compile } from '@plain-envoy/core/compile';

export const AskProof = z.strictObject({
  /** Null for every route of the project. */
  routeIds: z.array(z.uuid()).min(1, 'Choose at least one route.').max(20_000).nullable(),
  withLoss: z.boolean(),
  /** On the real plant nothing is driven: a person is asked to move what is measured, and it is only read. */
  on: z.enum(['stand-ins', 'real']).default('stand-ins'),
  /** What controllers carry goes through their own programs, which run scan by scan in the place of their stand-ins; nothing else is proved then. */
  byPrograms: z.boolean().default(false),
});
export type AskProof = z.infer<typeof AskProof>;

/** Null for all that may fail. */
export const AskLosses = z.strictObject({ failingIds: z.array(z.uuid()).min(1).max(20_000).nullable() });
export type AskLosses = z.infer<typeof AskLosses>;

export interface ProofSurroundings {
  bench: Bench;
  standIns: StandInsControl;
  played: Played;
  evidence: Evidence;
  unfinished: Unfinished;
  /** What the bench has seen, and why it says that a route does not deliver. */
  live: Seen & Pick<LiveFeed, 'reason' | 'reading' | 'look'>;
}

/** What a proof may have changed on the stand-ins by the time it breaks off. */
export interface ProofNote {
  /** Points that it drives. */
  pointIds: string[];
  /** Devices that it cuts off. */
  deviceIds: string[];
}

/** How long a person has to move something, and what is granted until it has arrived, ms. */
const PATIENCE = { moveMs: 60_000, spareMs: 3000 };

/** Proves routes on the stand-ins, or with a person’s help on the plant, and keeps what came of it. One proof at a time; the bench is started for it if it does not run. */
export class RouteProofs {
  isProving = false;
  private readonly ending = new AbortController();
  private over: Promise<void> = Promise.resolve();
  /** Routes that a person passes over in the proof that goes on. */
  private readonly skipped = new Set<string>();

  constructor(private readonly around: ProofSurroundings) {}

  async kept(projectId: string): Promise<KeptProof[]> {
    return (await this.around.evidence.latest(projectId, 'proof')).map(({ body }) => body as unknown as KeptProof);
  }

  async measured(projectId: string): Promise<(MeasuredLoss & { atMs: number })[]> {
    const latest = await this.around.evidence.latest(projectId, 'loss');
    return latest.map(({ atMs, body }) => ({ ...(body as unknown as MeasuredLoss), atMs }));
  }

  async history(projectId: string, routeId: string): Promise<KeptProof[]> {
    return (await this.around.evidence.list(projectId, 'proof', 50, routeId)).map(({ body }) => body as unknown as KeptProof);
  }

  /** Passes a route over that a person is asked to move; the proof goes on with the next. */
  skip(routeId: string): void {
    if (!this.isProving) refuse('not-now', 'No proof goes on.');
    this.skipped.add(routeId);
  }

  /** Where `signal` stops it, what goes on ends at once, and all is put back. */
  async *prove(held: Held, ask: AskProof, signal: AbortSignal): AsyncGenerator<ProofEvent> {
    const { on, byPrograms } = ask;
    const { bench } = this.around;
    const whyNot = this.whyNot();
    if (whyNot) return yield { kind: 'failed', sentence: whyNot };
    if (byPrograms && on === 'real')
      return yield {
        kind: 'failed',
        sentence: 'Programs run in the place of stand-ins; on the real plant the controllers have their own.',
      };
    if (on !== bench.state.on && (on === 'real' || bench.state.running)) {
      const where = bench.state.on === 'real' ? 'runs on the real plant, where nothing is driven' : 'does not run on the real plant';
      return yield { kind: 'failed', sentence: `The bench ${where}. Run it where it is to be proved.` };
    }
    yield* this.alone(held.document, () => this.proving(held, ask, signal));
  }

  /** Makes all that may fail do so in turn on the stand-ins, and keeps what becomes of the values. */
  async *measure(held: Held, ask: AskLosses, signal: AbortSignal): AsyncGenerator<LossEvent> {
    const { bench } = this.around;
    const whyNot = this.whyNot();
    if (whyNot) return yield { kind: 'failed', sentence: whyNot };
    if (bench.state.on === 'real' && bench.state.running)
      return yield { kind: 'failed', sentence: 'The bench runs on the real plant, where nothing is cut off.' };
    yield* this.alone(held.document, () => this.measuring(held, ask, signal));
  }

  private async *measuring({ document, revision }: Held, { failingIds }: AskLosses, signal: AbortSignal): AsyncGenerator<LossEvent> {
    const { evidence, unfinished } = this.around;
    const { id } = document.project;
    const fromMs = performance.now();
    const { plan, findings } = compile(document);
    const losses = lostWhen(document, plan).filter(({ failing }) => failingIds === null || failingIds.includes(failing.id));
    const changes = whatProofChanges(plan.routes);
    const deviceIds = new Set([...changes.deviceIds, ...losses.flatMap(({ failing }) => cutFor(document, failing))]);
    await unfinished.write(id, 'proof', { ...changes, deviceIds: [...deviceIds] });
    const asked = { document, routes: plan.routes, losses };
    const ended = AbortSignal.any([signal, this.ending.signal]);
    for await (const event of measureLosses(asked, this.hands(document, plan, findings), { signal: ended })) {
      if (event.kind === 'measured') await evidence.keep(id, 'loss', event.measured.failingId, revision, event.measured);
      yield event;
    }
    yield { kind: 'done', tookMs: Math.round(performance.now() - fromMs) };
  }

  private whyNot(): string | null {
    return this.isProving ? 'Another proof goes on; it would see what this one does.' : null;
  }

  /** Does this with nothing beside it, on a bench that is started for it if it does not run. */
  private async *alone<Told>(
    document: ProjectDocument,
    work: () => AsyncGenerator<Told>,
  ): AsyncGenerator<Told | { kind: 'failed'; sentence: string }> {
    const { bench, played, unfinished } = this.around;
    let isOver: () => void = () => undefined;
    this.over = new Promise((done) => (isOver = done));
    this.isProving = true;
    const wasRunning = bench.state.running;
    try {
      if (!wasRunning) {
        await played.play(document);
        bench.run(document);
      }
      yield* work();
    } catch (error) {
      if (!(error instanceof NotWrittenDown)) throw error;
      yield { kind: 'failed', sentence: `Nothing was begun: ${error.message}` };
    } finally {
      this.isProving = false;
      if (!wasRunning) bench.stop();
      await unfinished.note(document.project.id, 'proof', null);
      isOver();
    }
  }

  private async *proving(
    { document, revision }: Held,
    { routeIds, withLoss, on, byPrograms }: AskProof,
    signal: AbortSignal,
  ): AsyncGenerator<ProofEvent> {
    const { bench, live } = this.around;
    let endLook: () => void = () => undefined;
    let programs: ProgramRuns | null = null;
    this.skipped.clear();
    const fromMs = performance.now();
    try {
      const wanted = new Set(routeIds ?? document.routes.map(({ id }) => id));
      const { plan, findings } = compile(document);
      if (byPrograms) {
        programs = new ProgramRuns(document, plan, bench);
        if (programs.problem !== null) return yield { kind: 'failed', sentence: programs.problem };
        await programs.start();
      }
      const keep = async (proof: RouteProof): Promise<ProofEvent> => {
        const kept: KeptProof = {
          ...doubted(programs?.told(proof) ?? proof, plan, findings),
          atMs: Date.now(),
          revision,
          fingerprint: fingerprint(plan, proof.routeId),
          on,
        };
        await this.around.evidence.keep(document.project.id, 'proof', proof.routeId, revision, kept);
        return { kind: 'proof', proof: kept };
      };
      const planned = plan.routes.filter(({ id }) => wanted.has(id) && (programs === null || programs.carries(id)));
      const carried = new Set(planned.map(({ id }) => id));
      for (const [routeId, sentence] of programs?.leftOut ?? [])
        if (wanted.has(routeId)) yield await keep({ routeId, state: 'not proved', sentence, checks: [], loss: null, echo: null });
      for (const route of programs ? [] : document.routes) {
        if (!wanted.has(route.id) || carried.has(route.id)) continue;
        const why = findings.find(({ at, severity }) => at.id === route.id && severity === 'stop');
        yield await keep({
          routeId: route.id,
          state: 'failed',
          sentence: why?.message ?? 'It is not carried.',
          checks: [],
          loss: null,
          echo: null,
        });
      }
      if (on === 'stand-ins') await this.around.unfinished.write(document.project.id, 'proof', whatProofChanges(planned));
      const hands = this.hands(document, plan, findings);
      endLook = live.look({ routes: planned.map(({ id }) => id), requests: plan.requests.map(({ id }) => id) });
      if (on === 'real')
        bench.follow(
          document.project.id,
          planned.flatMap(({ source, destination }) => [source.id, destination.id]),
        );
      const proving =
        on === 'real'
          ? proveByHand(
              planned,
              {
                reading: (id) => live.reading(id),
                reason: (id) => hands.reason(id),
                skips: (id) => signal.aborted || this.skipped.has(id),
              },
              PATIENCE,
            )
          : proveRoutes(planned, hands, {
              // A controller that is cut off says nothing any more, also not that its own values are lost.
              withLoss: programs ? ({ source, carrierId }) => withLoss && source.deviceId !== carrierId : withLoss,
              signal: AbortSignal.any([signal, this.ending.signal]),
            });
      for await (const event of proving) yield event.kind === 'proof' ? await keep(event.proof) : event;
      yield { kind: 'done', tookMs: Math.round(performance.now() - fromMs) };
    } finally {
      endLook();
      programs?.stop();
    }
  }

  /** Puts back what a proof had changed on the stand-ins when the server broke down. */
  async putBack(document: ProjectDocument, { pointIds, deviceIds }: ProofNote): Promise<void> {
    const { standIns } = this.around;
    const { letGo } = this.atTheirPlaces(document);
    const wanted = new Set(pointIds);
    for (const deviceId of deviceIds) await standIns.cut(deviceId, { cut: false }).catch(unlessGone);
    for (const point of document.points.filter(({ id }) => wanted.has(id))) await letGo(point).catch(unlessGone);
  }

  /** Ends the proof that goes on, and waits until all is put back. */
  async end(): Promise<void> {
    this.ending.abort();
    await this.over;
  }

  private atTheirPlaces(document: ProjectDocument): ReturnType<typeof byPapers> {
    const { standIns } = this.around;
    return byPapers(document, {
      drive: (point, value) => standIns.drive(point, value),
      look: (points) => standIns.look(points),
      letGo: async (point) => {
        const { table, offset } = point;
        await standIns.release(point.deviceId, { table, offset, count: pointWidth(point) });
      },
    });
  }

  private hands(document: ProjectDocument, plan: Plan, findings: readonly Finding[]): ProofBench {
    const { standIns, live } = this.around;
    /** What is diagnosed of an end says more than what the route knows of itself. */
    const reason = (routeId: string) => {
      const route = plan.routes.find(({ id }) => id === routeId);
      const ends = [route?.source.deviceId, route?.destination.deviceId];
      const found = diagnose(document, plan, findings, live).find(({ deviceId }) => ends.includes(deviceId));
      const [cause] = found?.causes ?? [];
      return cause ? `${cause.sentence} ${cause.evidence}` : live.reason(routeId);
    };
    return {
      ...this.atTheirPlaces(document),
      cut: async (deviceId, cut) => {
        await standIns.cut(deviceId, { cut });
      },
      reason,
    };
  }
}

function whatProofChanges(routes: readonly PlannedRoute[]): ProofNote {
  const driven = routes.flatMap(({ source, others }) => [source, ...others]);
  return { pointIds: [...new Set(driven.map(({ id }) => id))], deviceIds: [...new Set(driven.map(({ deviceId }) => deviceId))] };
}

/** A stand-in that is not there any more has nothing to be put back. */
function unlessGone(error: unknown): void {
  if (!(error instanceof ProblemError)) throw error;
}

/** Values that arrive prove nothing where it is found that they mean something else. */
function doubted(proof: RouteProof, plan: Plan, findings: readonly Finding[]): RouteProof {
  const route = plan.routes.find(({ id }) => id === proof.routeId);
  const doubt = route && findings.find((finding) => castsDoubt(finding, route));
  if (proof.state !== 'proved' || !doubt) return proof;
  return { ...proof, state: 'carried', sentence: `${proof.sentence} But it is not proved while this is found: ${doubt.message}` };
}
