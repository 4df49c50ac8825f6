import type { WebSocket } from '@fastify/websocket';
import type { ToPage } from '@plain-envoy/core/feed';
import type { SerialSettings } from '@plain-envoy/core/line';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { openSerialPort } from '@plain-envoy/engine/links';
import type { Attachments } from '../attachments/index.js';
import { Arming } from '../arming/index.js';
import { Looking } from '../as-found/index.js';
import { Bench, FileCaptures, TrafficFollower } from '../bench/index.js';
import type { Claims } from '../claims/index.js';
import type { Database } from '../database/index.js';
import { ErrandRunner } from '../errands/index.js';
import type { Evidence } from '../evidence/index.js';
import type { Library } from '../library/index.js';
import { LiveFeed } from '../live/index.js';
import type { ProjectStore } from '../projects/index.js';
import { type ProofNote, Prover, RouteProofs } from '../prove/index.js';
import { Settings } from '../settings/index.js';
import { Played, StandInsControl } from '../standins/index.js';
import { Terminals } from '../terminal/index.js';
import { BenchNotes, takeUp, type Unfinished, type UnfinishedEntry } from '../unfinished/index.js';

/** How often it is looked whether the stand-ins are still those that were set. */
const LOOK_MS = 2000;

/** What all workplaces have in common. */
export interface Shared {
  database: Database;
  projects: ProjectStore;
  evidence: Evidence;
  unfinished: Unfinished;
  claims: Claims;
  library: Library;
  attachments: Attachments;
  standInsPort: number;
  standInsControl: number | null;
  standInsToken: string;
  /** Says of a mistake that nobody caught. */
  trouble(error: unknown): void;
}

/** All that goes on around one project: its bench and stand-ins, what is proved and run there, and what its pages are told. */
export class Workplace {
  readonly live = new LiveFeed((looked) => this.bench.watch(looked));
  readonly arming = new Arming((projectId, because) => this.bench.disarmed(projectId, because));
  readonly standIns: StandInsControl;
  readonly played: Played;
  readonly bench: Bench;
  readonly prover: Prover;
  readonly settings: Settings;
  readonly looking: Looking;
  readonly terminals: Terminals;
  readonly errands: ErrandRunner;
  readonly routeProofs: RouteProofs;
  readonly captures = new FileCaptures();
  private readonly traffic = new TrafficFollower({
    traffic: (after) => this.standIns.traffic(after),
    pass: (entries) => this.bench.passed(entries),
  });
  private readonly notes: BenchNotes;
  private readonly look: NodeJS.Timeout;
  private runsSince: number | null = null;

  constructor(
    readonly projectId: string,
    private readonly shared: Shared,
  ) {
    const { database, projects, evidence, unfinished, claims, library, trouble } = shared;
    const { live, arming } = this;
    this.standIns = new StandInsControl(
      shared.standInsControl,
      shared.standInsToken,
      projectId,
      () => this.played.again(),
      (deviceId, recording) => shared.attachments.reelOf(projectId, deviceId, recording),
    );
    this.played = new Played(
      this.standIns,
      shared.standInsPort,
      (problem, port) => live.tell({ type: 'stand-ins', problem, port }),
      (document) => this.bench.moved(document),
    );
    const standInsPort = () => this.played.port;
    this.notes = new BenchNotes(unfinished, trouble);
    this.bench = new Bench(standInsPort, arming, claims, {
      batch: (batch) => {
        live.batch(batch);
        this.errands.take(batch);
      },
      looked: (at) => live.keep(at),
      state: (state) => {
        if (state.running && state.sinceMs !== this.runsSince) live.clear();
        if (!state.running) this.errands.clear();
        this.runsSince = state.sinceMs;
        this.notes.take(state);
        this.traffic.follow(state.running && state.on === 'stand-ins');
        live.tell({ type: 'bench', bench: state });
      },
      adapter: (lineId, settings) => this.standIns.adapter(lineId, settings),
    });
    const { bench, standIns, played } = this;
    const grounds = {
      ...{ arming, claims, standInsPort, serial: openSerialPort },
      adapter: (lineId: string, settings: SerialSettings) => standIns.adapter(lineId, settings),
    };
    this.prover = new Prover({ ...grounds, benchRuns: () => bench.state.running, kept: () => library.withMaps() });
    this.settings = new Settings({ ...grounds, bench, evidence });
    this.looking = new Looking({ arming, bench, prover: this.prover, settings: this.settings, evidence });
    this.terminals = new Terminals(grounds);
    this.errands = new ErrandRunner({
      bench,
      evidence,
      // On the real plant only what was confirmed is done, whatever was edited since.
      project: async (id) => {
        const held = await projects.get(id);
        return { ...held, document: bench.confirmedDocument(id) ?? held.document };
      },
      tell: (run) => live.tell({ type: 'errand', run }),
    });
    this.routeProofs = new RouteProofs({ bench, standIns, played, evidence, unfinished, live });
    this.look = setInterval(() => standIns.areThere && standIns.list().catch(() => undefined), LOOK_MS).unref();
    this.greeting = () => [
      { type: 'bench', bench: bench.state },
      { type: 'database', database: database.health },
      { type: 'stand-ins', problem: played.problem, port: played.port },
    ];
  }

  private readonly greeting: () => ToPage[];

  /** Whether somebody looks, or something goes on that is not to be ended unasked. */
  get isInUse(): boolean {
    const { live, bench, arming, routeProofs, captures, projectId } = this;
    const isArmed = arming.until(projectId, 'read') !== null;
    return live.pageCount > 0 || bench.state.running || isArmed || routeProofs.isProving || captures.list().length > 0;
  }

  /** Adds a page. */
  join(socket: WebSocket): void {
    this.live.join(socket, this.greeting());
    // Whoever opens a project finds its stand-ins at their places.
    this.shared.projects.get(this.projectId).then(
      ({ document }) => this.played.ensure(document),
      () => undefined,
    );
  }

  /** Takes an edited project over. */
  edited(document: ProjectDocument): void {
    this.bench.edited(document);
    this.played.edited(document);
  }

  /** Takes up what was going on here when the last start ended: first what has to be put back, then what goes on. */
  async resume(document: ProjectDocument, entries: readonly UnfinishedEntry[]): Promise<void> {
    const { unfinished } = this.shared;
    const said: string[] = [];
    for (const { body } of entries.filter(({ kind }) => kind === 'proof')) {
      await this.played.play(document);
      await this.routeProofs.putBack(document, body as unknown as ProofNote);
      said.push('A proof went on when the server broke down; what it had changed on the stand-ins was put back.');
      await unfinished.note(this.projectId, 'proof', null);
    }
    for (const entry of entries.filter(({ kind }) => kind === 'bench')) {
      const { goesOn, sentence } = takeUp(entry, document, Date.now());
      said.push(sentence);
      if (goesOn) {
        await this.played.play(document);
        this.bench.run(document, 'stand-ins', said.join(' '));
      } else await unfinished.note(this.projectId, 'bench', null);
    }
    if (said.length && !this.bench.state.running) this.bench.say(said.join(' '));
  }

  /** Writes down what runs, as it is when Plain Envoy is ended. */
  note(nowMs: number): Promise<void> {
    return this.notes.end(nowMs);
  }

  async end(): Promise<void> {
    clearInterval(this.look);
    this.arming.end();
    await this.routeProofs.end();
    await this.bench.end();
    this.traffic.follow(false);
    this.live.end();
  }

  /** The same, and its stand-ins go, because nobody needs them any more. */
  async leave(): Promise<void> {
    await this.end();
    await this.standIns.leave().catch(() => undefined);
  }
}
