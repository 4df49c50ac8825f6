import type { ByRegisters, ProveEvent } from '@plain-envoy/core/feed';
import { isOfGateway, readFunction } from '@plain-envoy/core/frame';
import type { Identification } from '@plain-envoy/core/identity';
import type { Span } from '@plain-envoy/core/library';
import { ask } from '../client/index.js';
import { type ClientTransport, TcpTransport } from '../links/index.js';
import { connectable } from './connectable.js';
import { describeIdentity, identify, probe, probeAfterClosing } from './probe.js';

const PROGRESS_MS = 200;
/** How many times a unit is asked at which somebody should be. */
const TRIES = 3;
/** As which a device on TCP is asked that has no line behind it. */
const UNIT_OF_HOST = 255;

/** What answered, and a way to ask it for registers: true when it gives them, false when it refuses, null when it is silent. */
export interface Answering {
  place: { unitId: number } | { ip: string; tcpPort: number };
  identity: string | null;
  identification: Identification | null;
  gives(span: Span): Promise<boolean | null>;
}

/** Tells what answered by its registers; null where they are not looked at. */
export type LookAtRegisters = (answering: Answering) => Promise<ByRegisters | null>;

export interface UnitSweep {
  first: number;
  last: number;
  /** Units at which somebody should be: one that is silent is asked again, as an answer may be lost. */
  designed: ReadonlySet<number>;
  /** How long a unit is waited for. */
  timeoutMs: number;
  /** Time that a silent unit takes at worst, on the wire and in the gateway. */
  silentMs: number;
  /** How long the gateway in front gives a silent device; null on a serial port of this machine. */
  gatewayWaitsMs: number | null;
  /** How long the line is left to whoever else uses it after each silent unit. */
  pauseMs: number;
  look: LookAtRegisters;
  open(): ClientTransport;
}

/**
 * Asks every unit ID in turn, one at a time, so that whoever else uses the line gets its turn in between. Says first how
 * long it takes at worst, and then who is there as they come. Ending the generator ends the sweep.
 */
export async function* sweepUnits({
  first,
  last,
  designed,
  timeoutMs,
  silentMs,
  gatewayWaitsMs,
  pauseMs,
  look,
  open,
}: UnitSweep): AsyncGenerator<ProveEvent> {
  const total = last - first + 1;
  const again = (TRIES - 1) * [...designed].filter((unit) => unit >= first && unit <= last).length;
  yield { kind: 'forecast', worstMs: (total + again) * (silentMs + pauseMs), total, pauses: pauseMs > 0 };
  const from = performance.now();
  const transport = open();
  let found = 0;
  let told = from;
  try {
    for (let unit = first; unit <= last; unit++) {
      let presence = await probe(transport, unit, timeoutMs, gatewayWaitsMs);
      const leave = () => new Promise((done) => setTimeout(done, pauseMs));
      for (let tries = 1; presence.kind === 'silent' && designed.has(unit) && tries < TRIES; tries++) {
        if (pauseMs) await leave();
        presence = await probe(transport, unit, timeoutMs, gatewayWaitsMs);
      }
      if (presence.kind === 'no way') {
        yield { kind: 'failed', sentence: presence.why };
        return;
      }
      if (presence.kind === 'silent' && pauseMs) await leave();
      if (presence.kind !== 'silent') {
        found += 1;
        const at = { kind: 'unit' as const, unit };
        if (presence.kind === 'damaged') yield { ...at, state: 'damaged', sentence: presence.why, ...nothingSaid };
        else
          yield { ...at, state: 'answers', sentence: presence.how, ...(await saidBy(transport, unit, timeoutMs, { unitId: unit }, look)) };
      }
      if (performance.now() - told > PROGRESS_MS || unit === last) {
        told = performance.now();
        yield { kind: 'progress', done: unit - first + 1, total };
      }
    }
    yield { kind: 'done', found, tookMs: Math.round(performance.now() - from) };
  } finally {
    transport.close();
  }
}

export interface HostSweep {
  /** Each with the address that is really dialled: a stand-in listens elsewhere than the device that it plays. */
  hosts: readonly { ip: string; dial: string }[];
  ports: readonly { port: number; dial: number }[];
  timeoutMs: number;
  /** Whether somebody may be there; nobody else is dialled. */
  mayBe(dial: { host: string; port: number }): boolean;
  /** Connections being tried at a time. */
  parallel: number;
  look: LookAtRegisters;
}

/** Tries to connect to every address and port, and asks for Modbus where a connection is taken. */
export async function* sweepHosts({ hosts, ports, mayBe, timeoutMs, parallel, look }: HostSweep): AsyncGenerator<ProveEvent> {
  const targets = hosts.flatMap((host) => ports.map((port) => ({ host, port })));
  yield { kind: 'forecast', worstMs: Math.ceil(targets.length / parallel) * timeoutMs, total: targets.length, pauses: false };
  const from = performance.now();
  const ready: ProveEvent[] = [];
  let done = 0;
  let found = 0;
  let ended = false;
  let wake: () => void = () => undefined;
  const lane = async () => {
    for (let target; !ended && (target = targets.shift());) {
      const event = mayBe({ host: target.host.dial, port: target.port.dial }) ? await visit(target, timeoutMs, look) : null;
      done += 1;
      if (event) {
        found += 1;
        ready.push(event);
      }
      wake();
    }
  };
  const total = targets.length;
  const lanes = Array.from({ length: Math.min(parallel, total) }, lane);
  try {
    for (let told = 0; done < total || ready.length;) {
      if (ready.length) yield ready.shift()!;
      else if (performance.now() - told > PROGRESS_MS) {
        told = performance.now();
        yield { kind: 'progress', done, total };
      } else await Promise.race([new Promise<void>((woken) => (wake = woken)), new Promise((late) => setTimeout(late, PROGRESS_MS))]);
    }
    yield { kind: 'progress', done, total };
    yield { kind: 'done', found, tookMs: Math.round(performance.now() - from) };
  } finally {
    ended = true;
    await Promise.all(lanes);
  }
}

async function visit(
  { host, port }: { host: HostSweep['hosts'][number]; port: HostSweep['ports'][number] },
  timeoutMs: number,
  look: LookAtRegisters,
): Promise<ProveEvent | null> {
  const { state } = await connectable(host.dial, port.dial, timeoutMs);
  if (state !== 'open') return null;
  const transport = new TcpTransport(host.dial, port.dial);
  try {
    const at = { kind: 'host' as const, ip: host.ip, port: port.port };
    const presence = await probeAfterClosing(transport, UNIT_OF_HOST, timeoutMs);
    switch (presence.kind) {
      case 'silent':
        return { ...at, state: 'open', sentence: `takes a connection, but does not answer as unit ${UNIT_OF_HOST}`, ...nothingSaid };
      case 'damaged':
        return { ...at, state: 'damaged', sentence: presence.why, ...nothingSaid };
      case 'no way':
        return { ...at, state: presence.byGateway ? 'gateway' : 'open', sentence: presence.why, ...nothingSaid };
      case 'answers': {
        const place = { ip: host.ip, tcpPort: port.port };
        return { ...at, state: 'answers', sentence: presence.how, ...(await saidBy(transport, UNIT_OF_HOST, timeoutMs, place, look)) };
      }
    }
  } finally {
    transport.close();
  }
}

const nothingSaid = { identity: null, identification: null, registers: null };

/** What a unit that answers says of itself, and what its registers tell. */
async function saidBy(transport: ClientTransport, unitId: number, timeoutMs: number, place: Answering['place'], look: LookAtRegisters) {
  const told = await identify(transport, unitId, timeoutMs);
  const said = { identity: told && describeIdentity(told), identification: told?.identification ?? null };
  const gives = async ({ table, first, count }: Span): Promise<boolean | null> => {
    const functionCode = readFunction(table).code;
    const outcome = await ask(transport, { unitId, functionCode, offset: first, count, timeoutMs, tries: 2 });
    if (outcome.kind === 'values') return true;
    return outcome.kind === 'failed' && outcome.failure.code === 'exception' && !isOfGateway(outcome.failure.exception) ? false : null;
  };
  return { ...said, registers: await look({ place, ...said, gives }) };
}
