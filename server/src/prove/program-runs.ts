import { controllersOf, profileFor } from '@plain-envoy/core/handover';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import type { RouteProof } from '@plain-envoy/core/proof';
import { CarrierRun } from '@plain-envoy/engine/programs';
import type { Bench } from '../bench/index.js';

interface Running {
  name: string;
  scanMs: number;
  run: CarrierRun;
}

/** The programs of all controllers that carry something, run on the stand-ins in the place of what the engine would do for them. */
export class ProgramRuns {
  /** Why they cannot be run; null where they can. */
  readonly problem: string | null;
  /** Routes that no program carries, and why. */
  readonly leftOut: ReadonlyMap<string, string>;
  private readonly running: Running[] = [];
  private readonly byRoute = new Map<string, Running>();

  constructor(
    private readonly document: ProjectDocument,
    plan: Plan,
    private readonly bench: Bench,
  ) {
    const way = bench.way(document.project.id, 'stand-ins');
    const leftOut = new Map<string, string>();
    const carriers = controllersOf(document).filter(({ id }) => plan.routes.some(({ carrierId }) => carrierId === id));
    for (const controller of way ? carriers : []) {
      const { portable, scanMs } = profileFor(document, controller.id);
      const run = new CarrierRun(document, plan, controller, way!, { portable, scanMs });
      const one = { name: controller.name, scanMs, run };
      this.running.push(one);
      for (const id of run.prepared.made!.routeIds) this.byRoute.set(id, one);
      for (const { routeId, why } of run.prepared.made!.leftOut)
        leftOut.set(routeId, `The program of ${controller.name} does not carry it: ${why}`);
    }
    this.leftOut = leftOut;
    const damaged = this.running.find(({ run }) => run.problem !== null);
    if (!way) this.problem = 'The bench does not run on the stand-ins.';
    else if (carriers.length === 0) this.problem = 'No controller carries anything, so none has a program.';
    else this.problem = damaged ? `The program of ${damaged.name} cannot be run. ${damaged.run.problem}` : null;
  }

  carries(routeId: string): boolean {
    return this.byRoute.has(routeId);
  }

  /** Resolves when all of them have begun: what they begin with stands at their stand-ins. */
  async start(): Promise<void> {
    const ids = this.running.map(({ run }) => run.prepared.made!.controller.id);
    this.bench.leaveToPrograms(this.document.project.id, new Set(ids));
    await Promise.all(this.running.map(({ run }) => run.start()));
  }

  stop(): void {
    for (const { run } of this.running) run.stop();
    this.bench.leaveToPrograms(this.document.project.id, new Set());
  }

  /** A proof with by whose program it was, and why that stands where it was stopped. */
  told(proof: RouteProof): RouteProof {
    const by = this.byRoute.get(proof.routeId);
    if (!by) return proof;
    const { problem } = by.run;
    const sentence = `${proof.sentence} By the program of ${by.name}, a scan each ${by.scanMs} ms.`;
    return problem ? { ...proof, state: 'failed', sentence: `${sentence} ${problem}` } : { ...proof, sentence };
  }
}
