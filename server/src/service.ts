import { fernhollow } from '@plain-envoy/core/demo';
import { inBackground } from '@plain-envoy/engine/background';
import { openSerialPort } from '@plain-envoy/engine/links';
import { Mutex } from 'async-mutex';
import type { FastifyInstance } from 'fastify';
import { hostNames, isLoopback } from './access/index.js';
import { Arming } from './arming/index.js';
import { Bench } from './bench/index.js';
import { Database, isConnectionError } from './database/index.js';
import { Imports } from './files/index.js';
import { buildApp } from './http/index.js';
import { LiveFeed } from './live/index.js';
import { ProjectStore } from './projects/index.js';
import { ErrandRunner } from './errands/index.js';
import { Evidence } from './evidence/index.js';
import { type ProofNote, Prover, RouteProofs } from './prove/index.js';
import { Played, StandInsControl } from './standins/index.js';
import { BenchNotes, takeUp, Unfinished, type UnfinishedEntry } from './unfinished/index.js';

/** How long the end waits until it is written down what was going on. */
const NOTED_MS = 1000;
const AGAIN_MS = 1000;
/** How often it is looked whether the stand-ins are still those that were set. */
const LOOK_MS = 2000;

export interface ServiceOptions {
  databaseUrl: string;
  /** How long it may take to answer, ms. */
  databaseAnswersMs?: number;
  host: string;
  port: number;
  standInsPort: number;
  standInsControl: number | null;
  /** What the stand-ins' control interface wants to hear. */
  standInsToken?: string;
  webFolder: string | null;
  /** Names by which it is reached, beside its address. */
  names?: readonly string[];
  /** What is kept of the passphrase to sign in with; it has to be set where others than this machine reach the server. */
  passphrase?: string | null;
  tls?: { cert: string; key: string } | null;
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
  if (!isLoopback(options.host) && !options.passphrase)
    throw new Error(`Others reach ${options.host} too, so a passphrase is needed: --passphrase-file FILE.`);
  const database = new Database(
    options.databaseUrl,
    (health) => {
      if (health.ok) back().catch(trouble);
      else live.tell({ type: 'database', database: health });
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
  let hasEnded = false;
  /** The database is there again, or for the first time. Where it goes away on the way, all is done when it is there. */
  const back = async () => {
    try {
      await begin();
      live.tell({ type: 'database', database: database.health });
      await projects.settle();
      for (const projectId of behind) await follow(projectId);
      await unfinished.catchUp();
    } catch (error) {
      if (hasEnded) return;
      if (!isConnectionError(error)) throw error;
      setTimeout(() => !hasEnded && inBackground(back()), AGAIN_MS).unref();
    }
  };
  const trouble = (error: unknown) => {
    console.error(error);
    live.tell({
      type: 'trouble',
      message: `The server made a mistake of its own and went on: ${error instanceof Error ? error.message : String(error)}`,
    });
  };
  const live = new LiveFeed((looked) => bench.watch(looked));
  const unfinished = new Unfinished(database);
  let runsSince: number | null = null;
  const notes = new BenchNotes(unfinished, trouble);
  const arming = new Arming((projectId, because) => bench.disarmed(projectId, because));
  const bench = new Bench(options.standInsPort, arming, {
    batch(batch) {
      live.batch(batch);
      errands.take(batch);
    },
    looked: (at) => live.keep(at),
    state(state) {
      if (state.running && state.sinceMs !== runsSince) live.clear();
      if (!state.running) errands.clear();
      runsSince = state.sinceMs;
      notes.take(state);
      live.tell({ type: 'bench', bench: state });
    },
    adapter: (lineId, settings) => standIns.adapter(lineId, settings),
  });
  const standIns = new StandInsControl(options.standInsControl, options.standInsToken ?? '', () => played.again());
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
    // On the real plant only what was confirmed is done, whatever was edited since.
    project: async (id) => {
      const held = await projects.get(id);
      return { ...held, document: bench.confirmedDocument(id) ?? held.document };
    },
    tell: (run) => live.tell({ type: 'errand', run }),
  });
  const routeProofs = new RouteProofs({ bench, standIns, played, evidence, unfinished, live });
  const imports = new Imports(projects);
  const look = setInterval(() => options.standInsControl !== null && standIns.list().catch(() => undefined), LOOK_MS).unref();
  const beginning = new Mutex();
  let hasBegun = false;
  /** What can only be done once the database has answered; done once. */
  const begin = () =>
    beginning.runExclusive(async () => {
      if (hasBegun || !database.health.ok) return;
      const demo = fernhollow();
      await projects.seed(demo);
      await played.play((await projects.get(demo.project.id)).document);
      await resume(await unfinished.list());
      hasBegun = true;
    });
  /** What was going on when the last start ended: first what has to be put back, then what goes on. */
  const resume = async (entries: readonly UnfinishedEntry[]) => {
    const said: string[] = [];
    for (const { projectId, body } of entries.filter(({ kind }) => kind === 'proof')) {
      await routeProofs.putBack((await projects.get(projectId)).document, body as unknown as ProofNote);
      said.push('A proof went on when the server broke down; what it had changed on the stand-ins was put back.');
      await unfinished.note(projectId, 'proof', null);
    }
    for (const entry of entries.filter(({ kind }) => kind === 'bench')) {
      const { document } = await projects.get(entry.projectId);
      const { goesOn, sentence } = takeUp(entry, document, Date.now());
      said.push(sentence);
      if (goesOn) {
        await played.play(document);
        bench.run(document, 'stand-ins', said.join(' '));
      } else await unfinished.note(entry.projectId, 'bench', null);
    }
    if (said.length && !bench.state.running) bench.say(said.join(' '));
  };
  await database.open();
  if (database.health.ok) await back();
  const hosts = hostNames(options.host, options.names ?? []);
  const app = await buildApp({
    ...{ database, projects, arming, bench, standIns, played, prover, routeProofs, evidence, errands, imports, live, hosts },
    webFolder: options.webFolder,
    passphrase: options.passphrase ?? null,
    tls: options.tls ?? null,
  });
  await app.listen({ host: options.host, port: options.port });
  const address = app.server.address();
  return {
    app,
    database,
    trouble,
    port: typeof address === 'object' && address ? address.port : options.port,
    async stop() {
      hasEnded = true;
      clearInterval(look);
      arming.end();
      await Promise.race([notes.end(Date.now()), new Promise((done) => setTimeout(done, NOTED_MS).unref())]);
      imports.end();
      await routeProofs.end();
      await bench.end();
      live.end();
      await app.close();
      await database.close();
    },
  };
}
