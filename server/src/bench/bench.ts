import {
  type Batch,
  type BenchState,
  type Counters,
  idleBench,
  type ListenedText,
  type Looked,
  newCounters,
  type Series,
  type TripEvent,
} from '@plain-envoy/core/feed';
import { leftToPrograms } from '@plain-envoy/core/controller-program';
import { whyNotCompared } from '@plain-envoy/core/errand';
import { type Fact, inquiryOf } from '@plain-envoy/core/codec';
import { describeException, GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '@plain-envoy/core/frame';
import {
  atItsPlace,
  type Device,
  isSame,
  type Point,
  pointsOfErrand,
  pointWidth,
  type ProjectDocument,
  wordsFromInput,
} from '@plain-envoy/core/model';
import type { SerialSettings } from '@plain-envoy/core/line';
import { type Plan, wayTo } from '@plain-envoy/core/plan';
import { keepsAll, type TraceEntry, type TraceFilter, type TraceTrigger } from '@plain-envoy/core/trace';
import { typeOf } from '@plain-envoy/core/types';
import { failureText } from '@plain-envoy/engine/client';
import { failed, type Failed } from '@plain-envoy/engine/links';
import type { RequestWay } from '@plain-envoy/engine/settings';
import type { Found } from '@plain-envoy/engine/trace';
import { EngineEnded, EngineHost, type TracePart } from '@plain-envoy/engine/worker';
import { z } from 'zod';
import type { Arming } from '../arming/index.js';
import { type Claims, thingOf } from '../claims/index.js';
import { refuse } from '../problem/index.js';
import { type AskForce, type AskInquiry, type AskPattern, type AskWrite, ByHand, type Running } from './by-hand.js';
import { type AskArm, type AskConfirm, Confirmed } from './confirmed.js';
import type { Since } from './file-captures.js';
import { type CountersRead, readCounters } from './device-counters.js';
import { History } from './history.js';
import { compileInquiry, compileRead, compileWatch, compiler, compileWrite, type HandWrite } from '@plain-envoy/core/compile';

export const AskTrips = z.strictObject({
  outId: z.uuid(),
  backId: z.uuid(),
  times: z.int('A whole number.').min(1, 'At least once.').max(1000, 'At most 1000 times.'),
});
export type AskTrips = z.infer<typeof AskTrips>;

/** So many points of the lists are followed without anybody looking. */
const MAX_FOLLOWED = 200;

const CHANGED = 'What would be done on the real plant was changed since you looked. Look at it again.';

const emptyPlan: Plan = { endpoints: [], requests: [], routes: [] };

/** What a device said of itself, and what was changed in it; null where nothing was. */
export interface Told {
  device: Device;
  changes: string | null;
  facts: Fact[];
}

/** Who hears of what the bench does. */
export interface Listeners {
  batch(batch: Batch): void;
  /** This alone is told of in what follows. */
  looked(at: Looked): void;
  state(state: BenchState): void;
  /** Where an adapter to a simulated line is, once it is set like this. */
  adapter(lineId: string, settings: SerialSettings): Promise<number>;
}

/** Where the plan runs: it hands the compiled plan to the engine's thread, follows every edit, and passes on what comes back. */
export class Bench {
  state: BenchState = idleBench;
  private engine: EngineHost | null = null;
  private confirmed: Confirmed | null = null;
  private tracedId: string | null = null;
  private document: ProjectDocument | null = null;
  private plan = emptyPlan;
  private watched: Looked = { points: [], routes: [], requests: [] };
  /** Carriers whose own programs do what the plan has for them. */
  private programmed: ReadonlySet<string> = new Set();
  private readonly history = new History();
  /** What an edit leaves as it was is not worked out again. */
  private readonly compile = compiler();
  /** The engine's counters of each device, as they were told last. */
  private readonly counted = new Map<string, Counters>();
  private readonly hands = new ByHand(() => this.enter({ ...this.state, byHand: this.hands.list() }));

  /** `standInsPort` is where the stand-ins listen now. */
  constructor(
    private readonly standInsPort: () => number,
    private readonly arming: Arming,
    private readonly claims: Claims,
    private readonly listeners: Listeners,
  ) {}

  /** Runs a project on its stand-ins, or on the plant itself where a person has armed that. */
  run(document: ProjectDocument, on: BenchState['on'] = 'stand-ins', byItself: string | null = null): void {
    this.arming.allow(document.project.id, on, 'write');
    const { plan } = this.compile(document);
    if (on === 'real' && this.awaits(document, plan))
      refuse('not-confirmed', 'What would be done on the real plant is not what was confirmed. Look at the difference first.', ['on']);
    // What is refused leaves what runs as it is.
    if (on === 'real') this.claim(document, plan);
    if (this.state.running) this.stop();
    if (on === 'real') this.claim(document, plan);
    this.document = document;
    this.programmed = new Set();
    this.plan = plan;
    this.engine ??= new EngineHost(
      (batch) => {
        this.history.take(batch.readings);
        for (const counters of batch.devices) this.counted.set(counters.id, counters);
        this.listeners.batch(batch);
      },
      (error) => this.crashed(error),
      (lineId, settings) => this.listeners.adapter(lineId, settings),
    );
    this.engine.start(this.plan, on, this.standInsPort());
    this.tracedId = document.project.id;
    this.followLists(document);
    this.look();
    this.enter({ ...this.state, running: true, projectId: document.project.id, sinceMs: Date.now(), on, byHand: [], byItself });
  }

  stop(because: string | null = null): void {
    if (!this.state.running) return;
    this.engine?.stop();
    this.hands.clear();
    this.history.clear();
    this.counted.clear();
    this.document = null;
    this.plan = emptyPlan;
    this.rest(because);
  }

  /** The stand-ins listen elsewhere from now on: what runs on them goes on there. */
  moved(document: ProjectDocument): void {
    if (this.state.running && this.state.on === 'stand-ins')
      this.run(document, 'stand-ins', 'Its stand-ins had to move to another TCP port, so it was run anew.');
  }

  /** Lets the bench run on the real plant for a while; then it falls back. The word is the name of the project. */
  arm(document: ProjectDocument, { word, minutes, mark, onEdit }: AskArm): Confirmed {
    const { project } = document;
    if (word.trim() !== project.name)
      refuse('does-not-fit', `Type the name of the project, ${project.name}, so that nobody arms it by a slip.`, ['word']);
    const confirmed = new Confirmed(document, this.compile(document).plan, onEdit);
    if (confirmed.mark !== mark) refuse('changed-meanwhile', CHANGED, ['mark']);
    this.arming.arm(project.id, 'write', minutes);
    this.confirmed = confirmed;
    this.enter({ ...this.state, armedUntilMs: this.arming.until(project.id, 'write'), readingUntilMs: null, awaiting: null });
    return confirmed;
  }

  /** What edits would do otherwise on the armed plant is done from now on. */
  confirm(document: ProjectDocument, { mark }: AskConfirm): Confirmed {
    this.arming.allow(document.project.id, 'real', 'write');
    const { plan } = this.compile(document);
    const confirmed = new Confirmed(document, plan, this.confirmed?.onEdit ?? 'goes on');
    if (confirmed.mark !== mark) refuse('changed-meanwhile', CHANGED, ['mark']);
    if (this.confirmedDocument(document.project.id)) this.claim(document, plan);
    this.confirmed = confirmed;
    this.enter({ ...this.state, awaiting: null });
    this.edited(document);
    return confirmed;
  }

  /** Lets real devices be asked for a while. */
  armReading({ project }: ProjectDocument, minutes: number): void {
    this.arming.arm(project.id, 'read', minutes);
    if (this.state.armedUntilMs === null) this.enter({ ...this.state, readingUntilMs: this.arming.until(project.id, 'read') });
  }

  /** The project as it was confirmed for the real plant on which it runs; null where it runs elsewhere, or not at all. */
  confirmedDocument(projectId: string): ProjectDocument | null {
    return this.state.running && this.state.on === 'real' && this.state.projectId === projectId ? this.document : null;
  }

  /** Refuses what a person wants done by hand while an edit waits: who asks has another project before the eyes than the plant has. */
  allowByHand(on: BenchState['on'] = this.state.on): void {
    if (on === 'real' && this.state.awaiting)
      refuse('not-now', 'An edit waits until it is confirmed what it does on the real plant. Confirm it or take it back first.');
  }

  /** Tells everybody what became of the run before this start. */
  say(sentence: string): void {
    this.enter({ ...this.state, byItself: sentence });
  }

  /** Nothing may be written to the plant of this project any more. */
  disarmed(projectId: string, because: string | null): void {
    if (this.state.running && this.state.on === 'real' && this.state.projectId === projectId) this.stop(because);
    if (this.confirmed?.document.project.id === projectId) this.confirmed = null;
    this.enter({ ...this.state, armedUntilMs: null, readingUntilMs: null, awaiting: null });
  }

  /** Takes an edited project over while it runs; on the real plant only where that is what was confirmed. */
  edited(document: ProjectDocument): void {
    const isConfirmed = this.confirmed?.document.project.id === document.project.id;
    const runs = this.state.running && this.state.projectId === document.project.id;
    if (!runs && !isConfirmed) return;
    const { plan } = this.compile(document);
    const waits = isConfirmed && this.awaits(document, plan);
    if (!runs) return;
    if (this.state.on === 'real' && waits) {
      if (this.confirmed!.onEdit === 'stops') this.stop('An edit would do something else on the real plant than was confirmed.');
      return;
    }
    this.document = document;
    this.plan = leftToPrograms(plan, this.programmed);
    this.engine?.load(this.plan);
    this.look();
  }

  /** What these carriers have to do is left to their own programs from now on, on the stand-ins; to none: the engine does all. */
  leaveToPrograms(projectId: string, carrierIds: ReadonlySet<string>): void {
    if (!this.state.running || this.state.projectId !== projectId || this.state.on !== 'stand-ins') return;
    this.programmed = carrierIds;
    this.edited(this.document!);
  }

  /** What somebody looks at; points that the plan does not read anyway are fetched as well. */
  watch(looked: Looked): void {
    this.watched = looked;
    this.look();
  }

  /** Writes a point of the running project once, by hand; refused where that cannot be. Resolves when its device has confirmed it, or it was sent to all. */
  async write(projectId: string, { pointId, value, broadcast }: AskWrite): Promise<{ point: Point; words: number[] }> {
    this.engineFor(projectId);
    this.allowByHand();
    const point = this.point(pointId, ['pointId']);
    const read = wordsFromInput(value, point);
    if (!read.ok) refuse('does-not-fit', read.problem.message, ['value']);
    const words = atItsPlace(read.value, point);
    await this.writePoint(projectId, point, words, broadcast);
    return { point, words };
  }

  /** The same for words that are laid out already; a bit of a register is at its place. */
  async writePoint(projectId: string, point: Point, words: readonly number[], isBroadcast = false): Promise<void> {
    const engine = this.engineFor(projectId);
    const outcome = await answered(engine.write(this.handWrite(point.id, ['pointId'], isBroadcast), [...words]));
    if (outcome.kind !== 'written') refuse('device-failed', `It was not written. ${failureText(outcome)}`);
  }

  /** Reads a point of the running project once, now. */
  async read(projectId: string, point: Point): Promise<number[]> {
    const engine = this.engineFor(projectId);
    const read = compileRead(this.document!, point);
    if (!read.ok) refuse('does-not-fit', read.problem.message, ['pointId']);
    const outcome = await answered(engine.read(read.value));
    if (outcome.kind !== 'values') refuse('device-failed', `It was not read. ${failureText(outcome)}`);
    return outcome.values.slice(0, pointWidth(point));
  }

  /** How single requests go out among all else that the bench does; null where it does not run this project there. */
  way(projectId: string, on: BenchState['on']): RequestWay | null {
    const { engine } = this;
    if (!engine || !this.state.running || this.state.projectId !== projectId || this.state.on !== on) return null;
    return {
      read: (read) => engine.read(read).catch(ended),
      write: (write, words) => engine.write(write, [...words]).catch(ended),
      close: () => undefined,
    };
  }

  /** The same to a device where this state of the project has it; null, too, where its connections, which lead where its own project says, lead elsewhere. */
  wayFor(document: ProjectDocument, on: BenchState['on'], deviceId: string): RequestWay | null {
    if (!this.document) return null;
    const [own, wanted] = [wayTo(this.document, deviceId), wayTo(document, deviceId)];
    return own.ok && wanted.ok && isSame(own.value.endpoint, wanted.value.endpoint) ? this.way(document.project.id, on) : null;
  }

  /** Asks a device about itself, once, now; what changes it has to be confirmed. */
  async inquire(projectId: string, { deviceId, ask, confirmed }: AskInquiry): Promise<Told> {
    const engine = this.engineFor(projectId);
    const device =
      this.document!.devices.find(({ id }) => id === deviceId) ?? refuse('not-there', 'This device is not in the project.', ['deviceId']);
    const changes = inquiryOf(ask.functionCode)!.changes(ask);
    if (changes !== null) {
      this.arming.allow(projectId, this.state.on, 'write');
      this.allowByHand();
      if (!confirmed) refuse('not-confirmed', `This ${changes}. Confirm that ${device.name} may be changed so.`, ['confirmed']);
    }
    const inquiry = compileInquiry(this.document!, deviceId, ask);
    if (!inquiry.ok) refuse('does-not-fit', inquiry.problem.message, ['ask']);
    const outcome = await answered(engine.inquire(inquiry.value));
    if (outcome.kind === 'failed') {
      const exception = outcome.failure.code === 'exception' ? outcome.failure.exception : null;
      const isRefusal = exception !== null && exception !== GATEWAY_TARGET_FAILED && exception !== GATEWAY_PATH_UNAVAILABLE;
      const why = exception === null ? failureText(outcome) : `It answers ${describeException(exception)}.`;
      refuse('device-failed', why, ['ask'], { isRefusal });
    }
    return { device, changes, facts: outcome.facts };
  }

  /** What a device on a serial line has counted of its own communication, and what we have. */
  counters(projectId: string, deviceId: string): Promise<CountersRead> {
    return readCounters(
      async (ask) => (await this.inquire(projectId, { deviceId, ask, confirmed: false })).facts,
      () => this.counted.get(deviceId) ?? newCounters(deviceId),
    );
  }

  force(projectId: string, asked: AskForce): string {
    if (asked.value !== null) this.allowByHand();
    return this.hands.force(this.running(projectId), asked);
  }

  /** Lets a value move by itself for a while. */
  move(projectId: string, asked: AskPattern): string {
    this.allowByHand();
    return this.hands.start(this.running(projectId), asked);
  }

  endMove(id: string): void {
    this.hands.end(id);
  }

  /** Reads these points from now on, whether somebody looks or not. */
  follow(projectId: string, pointIds: readonly string[]): void {
    this.engineFor(projectId);
    this.history.follow(this.document!, pointIds);
    this.look();
  }

  /** The values of points over the last hour, as far as they were followed; from now on they are. */
  series(projectId: string, pointIds: readonly string[], sinceMs: number): Series[] {
    this.follow(projectId, pointIds);
    return this.history.since(pointIds, sinceMs);
  }

  /** Times a bit or a word out by one route and back by another. */
  trips(projectId: string, { outId, backId, times }: AskTrips): AsyncGenerator<TripEvent> {
    const engine = this.engineFor(projectId);
    const [out, back] = [outId, backId].map((id) => this.plan.routes.find((route) => route.id === id));
    if (!out) refuse('does-not-fit', 'The way out is not carried just now.', ['outId']);
    if (!back) refuse('does-not-fit', 'The way back is not carried just now.', ['backId']);
    if (!isTimed(out.source))
      refuse('does-not-fit', `${out.source.name} is no bit and no word of 16 bits, so it cannot be turned over.`, ['outId']);
    const write = this.handWrite(out.source.id, ['outId']);
    const withinMs = 2000 + 3 * (out.periodMs + back.periodMs);
    return engine.trips(outId, backId, write, { times, withinMs });
  }

  /** Exchanges of the project that ran last; none where the bench has not run it. */
  async trace(projectId: string, filter: TraceFilter, part: TracePart): Promise<Found> {
    if (!this.engine || this.tracedId !== projectId) return { kept: { first: 0, last: 0 }, capture: keepsAll, matching: 0, records: [] };
    return answered(this.engine.trace(filter, part));
  }

  /** What was heard on lines of text that are listened to without a converter; nothing while this project does not run. */
  async texts(projectId: string): Promise<ListenedText[]> {
    if (!this.engine || !this.state.running || this.state.projectId !== projectId) return [];
    return answered(this.engine.texts());
  }

  /** Adds to the trace of what runs on the stand-ins what went over their lines. */
  passed(entries: readonly Omit<TraceEntry, 'number'>[]): void {
    if (entries.length > 0 && this.state.running && this.state.on === 'stand-ins') this.engine?.passed([...entries]);
  }

  /** The exchanges after a number of this run; null once it has ended. */
  since(projectId: string): Since {
    const { sinceMs } = this.state;
    this.engineFor(projectId);
    return async (after, count) => {
      if (!this.engine || !this.state.running || this.state.sinceMs !== sinceMs) return null;
      return this.engine.traceSince(after, count).catch(nothingMore);
    };
  }

  /** Lets the trace of the running bench begin or end by itself; null keeps all from now on. */
  capture(projectId: string, trigger: TraceTrigger | null): void {
    const engine = this.engineFor(projectId);
    const point = trigger?.on.kind === 'value' ? this.point(trigger.on.pointId, ['on', 'pointId']) : null;
    if (point && trigger?.on.kind === 'value') {
      const problem = whyNotCompared(point, trigger.on.is, trigger.on.value);
      if (problem) refuse('does-not-fit', problem.message, ['on', 'value']);
    }
    engine.capture(trigger, point);
  }

  async end(): Promise<void> {
    this.stop();
    await this.engine?.end();
  }

  /** What is on a list to be watched is followed from the start, so that its past is there when somebody looks. */
  private followLists(document: ProjectDocument): void {
    const ends = new Map(document.routes.map(({ id, sourceId, destinationId }) => [id, [sourceId, destinationId]]));
    const ids = document.watchLists.flatMap(({ items }) => items.flatMap(({ of, id }) => (of === 'route' ? (ends.get(id) ?? []) : [id])));
    this.history.follow(document, ids.slice(0, MAX_FOLLOWED));
  }

  private running(projectId: string): Running {
    const engine = this.engineFor(projectId);
    return { engine, document: this.document!, plan: this.plan, write: (point, words) => this.writePoint(projectId, point, words) };
  }

  private engineFor(projectId: string): EngineHost {
    if (!this.engine || !this.state.running || this.state.projectId !== projectId)
      refuse('not-now', 'The bench does not run this project.');
    return this.engine;
  }

  private point(pointId: string, path: string[]): Point {
    return this.document?.points.find(({ id }) => id === pointId) ?? refuse('not-there', 'This point is not in the project.', path);
  }

  private handWrite(pointId: string, path: string[], isBroadcast = false): HandWrite {
    const write = compileWrite(this.document!, this.point(pointId, path), isBroadcast);
    return write.ok ? write.value : refuse('does-not-fit', write.problem.message, path);
  }

  /** Whether this plan would do something else on the real plant than was confirmed; everybody is told what. */
  private awaits(document: ProjectDocument, plan: Plan): boolean {
    const awaiting = this.confirmed?.awaiting(document, plan) ?? null;
    if (awaiting?.mark !== this.state.awaiting?.mark) this.enter({ ...this.state, awaiting });
    return awaiting !== null;
  }

  private look(): void {
    if (!this.document) return;
    const triggers = this.document.errands.flatMap((errand) => pointsOfErrand({ trigger: errand.trigger, steps: [] }));
    const { points, routes, requests } = this.watched;
    const wanted = new Set([...points, ...triggers, ...this.history.followed()]);
    const looked = { points: [...wanted], routes, requests };
    this.engine?.look(looked);
    this.engine?.watch(compileWatch(this.document, this.plan, wanted));
    this.listeners.looked(looked);
  }

  private crashed(error: Error): void {
    this.engine = null;
    this.document = null;
    this.hands.clear();
    this.rest(`The engine stopped with an error of its own: ${error.message}`);
  }

  /** Takes what this plan uses of the real plant, and nothing else; refused where another project has it. */
  private claim({ project }: ProjectDocument, plan: Plan): void {
    this.claims.take(this, { ...project, doing: 'whose bench runs on the real plant' }, plan.endpoints.flatMap(thingOf));
  }

  /** Nothing runs any more; what a person has allowed goes on. */
  private rest(because: string | null): void {
    this.claims.leave(this);
    const { armedUntilMs, readingUntilMs, awaiting } = this.state;
    this.enter({ ...idleBench, armedUntilMs, readingUntilMs, awaiting, byItself: because });
  }

  private enter(state: BenchState): void {
    this.state = state;
    this.listeners.state(state);
  }
}

/** Whether the lowest bit of its first register can be turned over without changing another number than that. */
function isTimed({ type }: Point): boolean {
  const { kind, width } = typeOf(type);
  return kind === 'bit' || kind === 'bits' || (kind === 'whole' && width === 1);
}

async function answered<T>(asked: Promise<T>): Promise<T> {
  return asked.catch((error: unknown) => {
    if (error instanceof EngineEnded) refuse('no-engine', error.message);
    throw error;
  });
}

function ended(error: unknown): Failed {
  if (error instanceof EngineEnded) return failed({ code: 'not-running' });
  throw error;
}

function nothingMore(error: unknown): null {
  if (error instanceof EngineEnded) return null;
  throw error;
}
