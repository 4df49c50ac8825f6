import { fernhollow } from '@plain-envoy/core/demo';
import { openSerialPort } from '@plain-envoy/engine/links';
import type { FastifyInstance } from 'fastify';
import { Arming } from './arming/index.js';
import { Bench } from './bench/index.js';
import { Database, isConnectionError } from './database/index.js';
import { Imports } from './files/index.js';
import { buildApp } from './http/index.js';
import { LiveFeed } from './live/index.js';
import { ProjectStore } from './projects/index.js';
import { ErrandRunner } from './errands/index.js';
import { Evidence } from './evidence/index.js';
import { Prover, RouteProofs } from './prove/index.js';
import { Played, StandInsControl } from './standins/index.js';

export interface ServiceOptions {
  databaseUrl: string;
  /** How long it may take to answer, ms. */
  databaseAnswersMs?: number;
  host: string;
  port: number;
  standInsPort: number;
  standInsControl: number | null;
  webFolder: string | null;
}

export interface Service {
  app: FastifyInstance;
  database: Database;
  port: number;
  /** Says of a mistake that nobody caught, in the log and on the page; what runs goes on. */
  trouble(error: unknown): void;
  stop(): Promise<void>;
}

/** Puts the parts together: what is edited reaches the bench, and what either does reaches every open page. */
export async function startService(options: ServiceOptions): Promise<Service> {
  const database = new Database(
    options.databaseUrl,
    (health) => {
      live.tell({ type: 'database', database: health });
      if (health.ok) caughtUp().catch(trouble);
    },
    options.databaseAnswersMs,
  );
  /** Projects whose edits did not get to what runs, because they could not be opened just then. */
  const behind = new Set<string>();
  const follow = async (projectId: string) => {
    behind.add(projectId);
    const { document } = await projects.get(projectId);
    behind.delete(projectId);
    bench.edited(document);
    played.edited(document);
  };
  const caughtUp = async () => {
    await projects.settle();
    for (const projectId of behind) await follow(projectId);
  };
  const trouble = (error: unknown) => {
    console.error(error);
    live.tell({
      type: 'trouble',
      message: `The server made a mistake of its own and went on: ${error instanceof Error ? error.message : String(error)}`,
    });
  };
  const live = new LiveFeed((pointIds) => bench.watch(pointIds));
  let runsSince: number | null = null;
  const arming = new Arming((projectId, because) => bench.disarmed(projectId, because));
  const bench = new Bench(options.standInsPort, arming, {
    batch(batch) {
      live.batch(batch);
      errands.take(batch);
    },
    state(state) {
      if (state.running && state.sinceMs !== runsSince) live.clear();
      if (!state.running) errands.clear();
      runsSince = state.sinceMs;
      live.tell({ type: 'bench', bench: state });
    },
    adapter: (lineId, settings) => standIns.adapter(lineId, settings),
  });
  const standIns = new StandInsControl(options.standInsControl);
  const played = new Played(standIns, (problem) => live.tell({ type: 'stand-ins', problem }));
  const projects = new ProjectStore(
    database,
    (accepted) => {
      live.tell({ type: 'changed', accepted });
      // Whoever made the edit is answered first; a large project takes a while to compile. Where the database is away, it is caught up later.
      setImmediate(() => {
        follow(accepted.projectId).catch((error: unknown) => {
          if (!isConnectionError(error)) trouble(error);
        });
      });
    },
    (settled) => live.tell({ type: 'settled', settled }),
  );
  const prover = new Prover({
    arming,
    standInsPort: options.standInsPort,
    adapter: (lineId, settings) => standIns.adapter(lineId, settings),
    serial: openSerialPort,
    benchRuns: (projectId) => bench.state.running && bench.state.projectId === projectId,
  });
  const evidence = new Evidence(database);
  const errands = new ErrandRunner({
    bench,
    evidence,
    project: (id) => projects.get(id),
    tell: (run) => live.tell({ type: 'errand', run }),
  });
  const routeProofs = new RouteProofs({ bench, standIns, played, evidence, live });
  const imports = new Imports(projects);
  await database.open();
  await projects.seed(fernhollow());
  const hosts = new Set(['localhost', '127.0.0.1', '[::1]', options.host]);
  await played.play((await projects.get(fernhollow().project.id)).document);
  const app = await buildApp({
    ...{ database, projects, arming, bench, standIns, played, prover, routeProofs, evidence, errands, imports, live, hosts },
    webFolder: options.webFolder,
  });
  await app.listen({ host: options.host, port: options.port });
  const address = app.server.address();
  return {
    app,
    database,
    trouble,
    port: typeof address === 'object' && address ? address.port : options.port,
    async stop() {
      arming.end();
      await bench.end();
      live.end();
      await app.close();
      await database.close();
    },
  };
}
