import { fernhollow } from '@plain-envoy/core/demo';
import '@plain-envoy/core/formula';
import '@plain-envoy/core/re2';
import { inBackground } from '@plain-envoy/engine/background';
import { Mutex } from 'async-mutex';
import type { FastifyInstance } from 'fastify';
import { hostNames, isLoopback } from './access/index.js';
import { Attachments } from './attachments/index.js';
import { Claims } from './claims/index.js';
import { Database, isConnectionError } from './database/index.js';
import { Imports } from './files/index.js';
import { buildApp } from './http/index.js';
import { Library } from './library/index.js';
import { Words } from './words/index.js';
import { ProblemError } from './problem/index.js';
import { Catalogue, Judgements, ProjectStore, Revisions } from './projects/index.js';
import { Evidence } from './evidence/index.js';
import { Unfinished, type UnfinishedEntry } from './unfinished/index.js';
import { Workplaces } from './workplaces/index.js';

/** How long the end waits until it is written down what was going on. */
const NOTED_MS = 1000;
const AGAIN_MS = 1000;
const PURGE_MS = 3_600_000;

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
      else workplaces.tell({ type: 'database', database: health });
    },
    options.databaseAnswersMs,
  );
  /** Projects whose edits did not get to what runs, because they could not be opened just then. */
  const behind = new Set<string>();
  const follow = async (projectId: string) => {
    const workplace = workplaces.there(projectId);
    if (!workplace) return;
    behind.add(projectId);
    const { document } = await projects.get(projectId);
    behind.delete(projectId);
    workplace.edited(document);
  };
  let hasEnded = false;
  /** The database is there again, or for the first time. Where it goes away on the way, all is done when it is there. */
  const back = async () => {
    try {
      await begin();
      workplaces.tell({ type: 'database', database: database.health });
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
    workplaces.tell({
      type: 'trouble',
      message: `The server made a mistake of its own and went on: ${error instanceof Error ? error.message : String(error)}`,
    });
  };
  const unfinished = new Unfinished(database);
  const projects = new ProjectStore(
    database,
    (accepted) => {
      workplaces.there(accepted.projectId)?.live.tell({ type: 'changed', accepted });
      // Whoever made the edit is answered first; a large project takes a while to compile. Where the database is away, it is caught up later.
      setImmediate(() => {
        follow(accepted.projectId).catch((error: unknown) => {
          if (!isConnectionError(error)) trouble(error);
        });
      });
    },
    (settled) => workplaces.there(settled.projectId)?.live.tell({ type: 'settled', settled }),
  );
  const evidence = new Evidence(database);
  const claims = new Claims();
  const library = new Library(database);
  const attachments = new Attachments(database);
  const workplaces = new Workplaces({
    ...{ database, projects, evidence, unfinished, trouble, claims, library, attachments },
    standInsPort: options.standInsPort,
    standInsControl: options.standInsControl,
    standInsToken: options.standInsToken ?? '',
  });
  const judgements = new Judgements((projectId) => projects.read(projectId));
  const catalogue = new Catalogue(database, projects, judgements, attachments);
  const revisions = new Revisions(database, projects);
  const purge = setInterval(
    () => void catalogue.purge().catch((error: unknown) => isConnectionError(error) || trouble(error)),
    PURGE_MS,
  ).unref();
  const words = new Words(database);
  const imports = new Imports(projects, words);
  const beginning = new Mutex();
  let hasBegun = false;
  /** What can only be done once the database has answered; done once. */
  const begin = () =>
    beginning.runExclusive(async () => {
      if (hasBegun || !database.health.ok) return;
      await catalogue.purge();
      if (await catalogue.wantsDemo()) {
        const demo = fernhollow();
        await projects.seed(demo);
        const { id } = demo.project;
        await workplaces.of(id).played.play((await projects.get(id)).document);
      }
      await resume(await unfinished.list());
      hasBegun = true;
    });
  /** What was going on when the last start ended: first what has to be put back, then what goes on. */
  const resume = async (entries: readonly UnfinishedEntry[]) => {
    for (const projectId of new Set(entries.map((entry) => entry.projectId))) {
      const own = entries.filter((entry) => entry.projectId === projectId);
      const held = await projects.get(projectId).catch(unlessGone);
      if (held) await workplaces.of(projectId).resume(held.document, own);
      else for (const { kind } of own) await unfinished.note(projectId, kind, null);
    }
  };
  await database.open();
  if (database.health.ok) await back();
  const hosts = hostNames(options.host, options.names ?? []);
  const app = await buildApp({
    ...{ database, projects, catalogue, revisions, workplaces, evidence, imports, hosts, library, words, attachments, claims },
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
      await Promise.race([workplaces.note(Date.now()), new Promise((done) => setTimeout(done, NOTED_MS).unref())]);
      clearInterval(purge);
      judgements.end();
      imports.end();
      await workplaces.end();
      await app.close();
      await database.close();
    },
  };
}

/** A project that was thrown away goes on with nothing. */
function unlessGone(error: unknown): null {
  if (error instanceof ProblemError) return null;
  throw error;
}
