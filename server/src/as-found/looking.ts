import {
  canBeSwept,
  type KeptObserved,
  Observed,
  type ObservedDevice,
  type ObservedLine,
  type ObservingEvent,
  whereAsked,
} from '@plain-envoy/core/as-found';
import { isModbusLine, type Line, STANDARD_PORT } from '@plain-envoy/core/media';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import { hostsOf, ipText, parseNetwork } from '@plain-envoy/core/network';
import type { Target } from '@plain-envoy/core/plan';
import { readingOf } from '@plain-envoy/core/settings';
import type { Evidence, EvidenceEntry } from '../evidence/index.js';
import { ProblemError } from '../problem/index.js';
import type { Held } from '../projects/index.js';
import type { Prover } from '../prove/index.js';
import type { Settings } from '../settings/index.js';
import type { AskFound } from './asked.js';

/** How long a place of a line is waited for, ms. */
const SWEEP_MS = 300;
const LAST_UNIT = 247;

export interface LookingSurroundings {
  prover: Prover;
  settings: Settings;
  evidence: Evidence;
}

type State = Pick<Held, 'document' | 'revision'>;

/** Looks at a plant as it is: walks to devices, asks who they are, reads their registers, sees who is on lines; and keeps what was seen. */
export class Looking {
  constructor(private readonly around: LookingSurroundings) {}

  /** What was seen last of each device and line, on the stand-ins and on the real plant. */
  async kept(projectId: string): Promise<KeptObserved[]> {
    return (await this.around.evidence.latest(projectId, 'found', true)).flatMap(asObserved);
  }

  /** One after the other, so that nothing is asked twice at a time. A device that fails does not hold up the others. */
  async *look(state: State, { on, ids, sweeps }: AskFound): AsyncGenerator<ObservingEvent> {
    const { devices, lines } = state.document;
    const fromMs = performance.now();
    const wanted = ids && new Set(ids);
    const things = [
      ...devices.filter(({ id }) => wanted?.has(id) ?? true).map(({ id, name }) => ({ id, name, see: () => this.device(state, id, on) })),
      ...lines
        .filter((line) => (wanted ? wanted.has(line.id) : sweeps && canBeSwept(line)))
        .map((line) => ({ id: line.id, name: line.name, see: () => this.line(state, line, on) })),
    ];
    for (const [done, { id, name, see }] of things.entries()) {
      yield { kind: 'progress', done, total: things.length, doing: name };
      let body: Observed;
      try {
        body = await see();
      } catch (error) {
        if (!(error instanceof ProblemError) || error.code !== 'not-armed') throw error;
        return yield { kind: 'failed', sentence: error.message };
      }
      const entry = await this.around.evidence.keep(state.document.project.id, 'found', id, state.revision, body);
      for (const observed of asObserved(entry)) yield { kind: 'observed', observed };
    }
    yield { kind: 'done', tookMs: Math.round(performance.now() - fromMs) };
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
    seen.ended = await unlessRefused(
      async () => (await this.walk(document, deviceId, on, seen)) ?? (await this.read(state, deviceId, on, seen)),
    );
    return seen;
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
      return null;
    });
    return seen;
  }
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

/** What came of it; a refusal says why instead, unless nobody has armed the plant, which ends it all. */
async function unlessRefused(work: () => Promise<string | null>): Promise<string | null> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof ProblemError) || error.code === 'not-armed') throw error;
    return error.message;
  }
}

function asObserved({ of, revision, atMs, by, body }: EvidenceEntry): KeptObserved[] {
  const observed = Observed.safeParse(body);
  return observed.success ? [{ of, revision, atMs, by, body: observed.data }] : [];
}
