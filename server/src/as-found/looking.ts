import {
  canBeSwept,
  type KeptObserved,
  type Observed,
  observedIn,
  type ObservedDevice,
  type ObservedLine,
  type ObservingEvent,
  whereAsked,
} from '@plain-envoy/core/as-found';
import { isModbusLine, type Line, STANDARD_PORT } from '@plain-envoy/core/media';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import { hostsOf, ipText, parseNetwork } from '@plain-envoy/core/network';
import { type Target, wayTo, wayToLine } from '@plain-envoy/core/plan';
import { readingOf } from '@plain-envoy/core/settings';
import type { Arming } from '../arming/index.js';
import type { Bench } from '../bench/index.js';
import type { Evidence } from '../evidence/index.js';
import { ProblemError } from '../problem/index.js';
import { sideBySide } from '../progress/index.js';
import type { Held } from '../projects/index.js';
import type { Prover } from '../prove/index.js';
import type { Settings } from '../settings/index.js';
import type { AskFound } from './asked.js';

/** Connections over which devices are looked at side by side. */
const AT_A_TIME = 8;
/** How long a place of a line is waited for, ms. */
const SWEEP_MS = 300;
const LAST_UNIT = 247;
const TAKEN = 'The bench runs, and a device that takes one connection only takes none beside it. Stop the bench and look again.';

export interface LookingSurroundings {
  arming: Arming;
  bench: Bench;
  prover: Prover;
  settings: Settings;
  evidence: Evidence;
}

type State = Pick<Held, 'document' | 'revision'>;

/** A device or a line that is looked at; what shares a lane is looked at one after the other. */
interface Thing {
  id: string;
  name: string;
  lane: string;
  see(): Promise<Observed>;
}

interface Count {
  done: number;
  readonly total: number;
}

/** Looks at a plant as it is: walks to devices, asks who they are, reads their registers, sees who is on lines; and keeps what was seen. */
export class Looking {
  constructor(private readonly around: LookingSurroundings) {}

  /** What was seen last of each device and line, on the stand-ins and on the real plant. */
  async kept(projectId: string): Promise<KeptObserved[]> {
    return (await this.around.evidence.latest(projectId, 'found', true)).flatMap((entry) => observedIn(entry) ?? []);
  }

  /** What is asked over one connection comes one after the other, others beside it. A device that fails does not hold up the rest. */
  async *look(state: State, asked: AskFound): AsyncGenerator<ObservingEvent> {
    const fromMs = performance.now();
    const whyNot = refusalOf(() => this.around.arming.allow(state.document.project.id, asked.on, 'read'));
    if (whyNot) return yield { kind: 'failed', sentence: whyNot };
    const phases = this.phasesOf(state, asked);
    const count: Count = { done: 0, total: phases.flat(2).length };
    for (const lanes of phases) {
      const works = lanes.map((lane) => () => this.along(lane, state, count));
      for await (const event of sideBySide(works, AT_A_TIME)) {
        yield event;
        if (event.kind === 'failed') return;
      }
    }
    yield { kind: 'done', tookMs: Math.round(performance.now() - fromMs) };
  }

  /** Devices by the connections that they are asked over, then serial lines in the same way, and last each network, as a sweep of it takes all of its devices. */
  private phasesOf(state: State, { on, ids, sweeps }: AskFound): Thing[][][] {
    const { document } = state;
    const wanted = ids && new Set(ids);
    const devices = document.devices
      .filter(({ id }) => wanted?.has(id) ?? true)
      .map(({ id, name }): Thing => {
        const way = wayTo(document, id);
        return { id, name, lane: way.ok ? way.value.endpoint.id : id, see: () => this.device(state, id, on) };
      });
    const lines = document.lines
      .filter((line) => (wanted ? wanted.has(line.id) : sweeps && canBeSwept(line)))
      .map((line): Thing & { isSerial: boolean } => {
        const { id, name } = line;
        const lane = isModbusLine(line) ? wayToLine(document, line).endpoint.id : id;
        return { id, name, lane, isSerial: isModbusLine(line), see: () => this.line(state, line, on) };
      });
    const serial = lines.filter(({ isSerial }) => isSerial);
    const others = lines.filter(({ isSerial }) => !isSerial);
    return [lanesOf(devices), lanesOf(serial), ...others.map((line) => [[line]])];
  }

  private async *along(lane: readonly Thing[], { document, revision }: State, count: Count): AsyncGenerator<ObservingEvent> {
    for (const { id, name, see } of lane) {
      yield { kind: 'progress', ...count, doing: name };
      let body: Observed;
      try {
        body = await see();
      } catch (error) {
        if (!(error instanceof ProblemError) || error.code !== 'not-armed') throw error;
        return yield { kind: 'failed', sentence: error.message };
      }
      const entry = await this.around.evidence.keep(document.project.id, 'found', id, revision, body);
      count.done += 1;
      const observed = observedIn(entry);
      if (observed) yield { kind: 'observed', observed };
    }
  }

  private async device(state: State, deviceId: string, on: Target): Promise<ObservedDevice> {
    const { document } = state;
    const { name } = document.devices.find(({ id }) => id === deviceId)!;
    const asked = whereAsked(document, deviceId);
    const seen: ObservedDevice = {
      kind: 'device',
      name,
      on,
      asked: '',
      steps: [],
      identification: null,
      held: [],
      refused: [],
      ended: null,
    };
    if (!asked.ok) return { ...seen, ended: asked.problem.message };
    seen.asked = asked.value;
    seen.ended = await unlessRefused(async () => {
      const why = await this.walk(document, deviceId, on, seen);
      return why === null ? this.read(state, deviceId, on, seen) : this.byBench(state, deviceId, on, seen, why);
    });
    return seen;
  }

  /** A device that does not answer over a connection of its own may take no other than the one that the bench has already. */
  private async byBench(state: State, deviceId: string, on: Target, seen: ObservedDevice, why: string): Promise<string | null> {
    const failed = seen.steps.at(-1);
    if (!failed || failed.passed || this.around.bench.wayFor(state.document, on, deviceId) === null) return why;
    seen.steps.pop();
    const whyNotRead = await this.read(state, deviceId, on, seen);
    if (seen.held.length) {
      seen.steps.push({ name: 'answer', passed: true, sentence: 'It answers the bench, over the connection that this has already.' });
      return whyNotRead;
    }
    if (whyNotRead === null)
      return `${why} The bench has a connection to it, which may be the only one that it takes: stop the bench and look again.`;
    seen.steps.push(failed);
    return why;
  }

  /** Why it came to no answer; null where it did. */
  private async walk(document: ProjectDocument, deviceId: string, on: Target, seen: ObservedDevice): Promise<string | null> {
    for await (const event of this.around.prover.reach(document, { deviceId, on })) {
      if (event.kind === 'failed') return event.sentence;
      if (event.kind !== 'step') continue;
      const { name, passed, sentence, identification } = event;
      seen.steps.push({ name, passed, sentence });
      seen.identification ??= identification;
      if (!passed && name !== 'register' && name !== 'open') return sentence;
    }
    return null;
  }

  /** Reads all that the map says can be read. Why it was not read to the end; null where it was. */
  private async read(state: State, deviceId: string, on: Target, seen: ObservedDevice): Promise<string | null> {
    const own = state.document.points.filter((point) => point.deviceId === deviceId);
    const unread = new Set(readingOf(state.document, deviceId, own).unread.map(({ point }) => point.id));
    const points = own.filter(({ id }) => !unread.has(id));
    if (points.length === 0) return null;
    const byId = new Map(points.map((point) => [point.id, point]));
    const asked = { on, deviceId, pointIds: [...byId.keys()], everyMs: null };
    for await (const event of this.around.settings.read(state, asked)) {
      if (event.kind === 'failed') return event.sentence;
      if (event.kind === 'held') hold(seen, byId.get(event.pointId)!, event.words);
      if (event.kind === 'unread') {
        const { table, offset } = byId.get(event.pointId)!;
        seen.refused.push({ table, offset, why: event.why });
      }
    }
    return null;
  }

  private async line({ document }: State, line: Line, on: Target): Promise<ObservedLine> {
    const seen: ObservedLine = { kind: 'line', name: line.name, on, places: [], swept: null, ended: null };
    const range = sweptOn(document, line);
    if (!range) return { ...seen, ended: 'Nobody can be asked for on this line.' };
    const common = { on, lineId: line.id, timeoutMs: SWEEP_MS, registers: false };
    seen.ended = await unlessRefused(async () => {
      const { prover } = this.around;
      const sweep =
        range.kind === 'units' ? prover.units(document, { ...common, ...range }) : prover.hosts(document, { ...common, ...range });
      for await (const event of sweep) {
        if (event.kind === 'failed') return event.sentence;
        if (event.kind === 'done') seen.swept = range;
        if (event.kind !== 'unit' && event.kind !== 'host') continue;
        const { registers, ...place } = event;
        seen.places.push(place);
      }
      return range.kind === 'hosts' && this.around.bench.way(document.project.id, on) ? TAKEN : null;
    });
    return seen;
  }
}

function lanesOf(things: readonly Thing[]): Thing[][] {
  const lanes = new Map<string, Thing[]>();
  for (const thing of things) lanes.set(thing.lane, [...(lanes.get(thing.lane) ?? []), thing]);
  return [...lanes.values()];
}

/** All units of a serial line, or all addresses of a network with the TCP ports that its devices have. */
function sweptOn({ ports }: ProjectDocument, line: Line): ObservedLine['swept'] {
  if (isModbusLine(line)) return { kind: 'units', first: 1, last: LAST_UNIT };
  const network = line.kind === 'ethernet' ? parseNetwork(line.network) : null;
  if (!network?.ok) return null;
  const { first, last } = hostsOf(network.value);
  const own = ports.flatMap((port) => (port.kind === 'ethernet' && port.lineId === line.id && port.role !== 'asks' ? [port.tcpPort] : []));
  return { kind: 'hosts', first: ipText(first), last: ipText(last), ports: [...new Set([STANDARD_PORT, ...own])] };
}

/** Adds what a point holds; what lies side by side is one stretch. */
function hold({ held }: ObservedDevice, { table, offset }: Point, words: readonly number[]): void {
  const last = held.at(-1);
  if (last?.table === table && last.offset + last.words.length === offset) last.words.push(...words);
  else held.push({ table, offset, words: [...words] });
}

function refusalOf(work: () => void): string | null {
  try {
    work();
    return null;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return error.message;
  }
}

/** What came of it; a refusal says why instead, unless nobody has armed the plant, which ends it all. */
async function unlessRefused(work: () => Promise<string | null>): Promise<string | null> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof ProblemError) || error.code === 'not-armed') throw error;
    return error.message;
  }
}
