import { frontOn, wayToLine, standInPort, dialOnLine, type Target, type Endpoint, type Front } from '@plain-envoy/core/plan';
import { type OwnPorts, openDial } from '@plain-envoy/engine/transports';
import { networkInterfaces } from 'node:os';
import { formatAddress, tableNames } from '@plain-envoy/core/address';
import type { ProveEvent, ReadEvent } from '@plain-envoy/core/feed';
import { readFunction } from '@plain-envoy/core/frame';
import { likelySettings, type SerialSettings, silentTimeMs } from '@plain-envoy/core/line';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { contains, formatNetwork, ipNumber, ipText, maskBits, networkOf, parseNetwork, standInAddressOf } from '@plain-envoy/core/network';
import { type LookAtRegisters, reachDevice, readSpan, searchSettings, sweepHosts, sweepUnits } from '@plain-envoy/engine/prove';
import { refuse } from '../problem/index.js';
import { type AskHosts, type AskReach, type AskRead, type AskSettings, type AskUnits, MAX_TARGETS } from './asked.js';
import { type KeptDevice, lookingFor } from './look.js';
import { deviceOf, type Grounds, Ways } from './ways.js';
import { type ModbusLine, isModbusLine } from '@plain-envoy/core/media';

const PARALLEL_HOSTS = 64;
/** While the bench runs, a line is left to it twice as long as a silent unit has held it. */
const PAUSE_SHARE = 2;

export interface ProverSurroundings extends OwnPorts, Grounds {
  /** Whether the bench runs this project, whose gateways then ask on its lines. */
  benchRuns(projectId: string): boolean;
  /** The devices of the library, with their maps. */
  kept(): Promise<KeptDevice[]>;
}

/** Walks to devices, sweeps lines and searches for settings, on the stand-ins or, where a person has armed it, on the real plant. */
export class Prover {
  private readonly ways: Ways;

  constructor(private readonly around: ProverSurroundings) {
    this.ways = new Ways(around);
  }

  reach(document: ProjectDocument, { on, deviceId }: AskReach): AsyncGenerator<ProveEvent> {
    this.ways.allow(document, on, 'read');
    const device = deviceOf(document, deviceId);
    const point = document.points.find((row) => row.deviceId === deviceId && row.access !== 'write');
    const register = point
      ? { functionCode: readFunction(point.table).code, offset: point.offset, what: `${point.name} (${formatAddress(point, 'pdu', [])})` }
      : { functionCode: 3, offset: 0, what: `The ${tableNames.holding.one} at offset 0` };
    const common = { name: device.name, timeoutMs: device.timeoutMs, register };
    const way = this.ways.to(document, deviceId);
    const front = frontOn(way, on);
    const dial = this.ways.dial(way.endpoint, on);
    const walk = reachDevice({
      ...common,
      unit: way.unitId,
      gateway: front && gatewayOf(front),
      openTransactions: dial.kind === 'socket' && dial.framing === 'tcp' && !front ? way.endpoint.concurrent : null,
      open: () => openDial(dial, this.around),
      socket:
        dial.kind === 'socket' ? { host: dial.host, port: dial.port, network: networkOfDial(document, way.endpoint, dial, on) } : null,
    });
    return this.ways.whileAllowed(document, on, walk, dial);
  }

  /** Reads a span of a device's table, as far as it lets itself be read and is not known to refuse. */
  read(document: ProjectDocument, { on, deviceId, table, first, count, everyMs }: AskRead): AsyncGenerator<ReadEvent> {
    this.ways.allow(document, on, 'read');
    const device = deviceOf(document, deviceId);
    const { endpoint, unitId } = this.ways.to(document, deviceId);
    const dial = this.ways.dial(endpoint, on);
    const open = () => openDial(dial, this.around);
    const { name, timeoutMs, tries } = device;
    const known = device.forbidden
      .filter((span) => span.table === table)
      .flatMap((span) => Array.from({ length: span.last - span.first + 1 }, (_, index) => span.first + index));
    const reading = readSpan({ name, unitId, timeoutMs, tries, table, first, count, everyMs, known, open });
    return this.ways.whileAllowed(document, on, reading, dial);
  }

  units(document: ProjectDocument, { on, lineId, first, last, timeoutMs, registers }: AskUnits): AsyncGenerator<ProveEvent> {
    this.ways.allow(document, on, 'read');
    if (last < first) refuse('does-not-fit', `The last unit ID, ${last}, comes before the first, ${first}.`, ['last']);
    const line = modbusLineOf(document, lineId);
    const way = wayToLine(document, line);
    const dial = this.ways.dial(way.endpoint, on);
    const front = frontOn(way, on);
    const gateway = front && gatewayOf(front);
    const silentMs = silentTimeMs(line, line.framing, gateway?.waitsMs ?? timeoutMs);
    // A gateway must have answered before it is asked again, so it is given its own wait and what the wire takes.
    const patience = gateway ? Math.max(timeoutMs, silentMs + 1000) : timeoutMs;
    const pauseMs = this.around.benchRuns(document.project.id) ? PAUSE_SHARE * silentMs : 0;
    const sweep = sweepUnits({
      first,
      last,
      designed: new Set(document.ports.flatMap((port) => (port.kind === 'serial' && port.lineId === lineId ? (port.unitId ?? []) : []))),
      timeoutMs: patience,
      silentMs,
      gatewayWaitsMs: gateway?.waitsMs ?? null,
      pauseMs,
      look: this.look(document, lineId, registers),
      open: () => openDial(dial, this.around),
    });
    return this.ways.whileAllowed(document, on, sweep, dial);
  }

  hosts(document: ProjectDocument, { on, lineId, first, last, ports, timeoutMs, registers }: AskHosts): AsyncGenerator<ProveEvent> {
    this.ways.allow(document, on, 'read');
    const line = document.lines.find(({ id }) => id === lineId);
    const network =
      line?.kind === 'ethernet' ? parseNetwork(line.network) : refuse('does-not-fit', 'This is no Ethernet line.', ['lineId']);
    const [from, to] = [ipNumber(first)!, ipNumber(last)!];
    if (to < from) refuse('does-not-fit', `The last address, ${last}, comes before the first, ${first}.`, ['last']);
    const count = (to - from + 1) * ports.length;
    if (count > MAX_TARGETS)
      refuse('does-not-fit', `That is ${count} connections to try; one sweep tries at most ${MAX_TARGETS}.`, ['last']);
    if (on === 'real' && network.ok && !(contains(network.value, from) && contains(network.value, to))) {
      refuse('does-not-fit', `A sweep stays on ${line!.name}, ${formatNetwork(network.value)}.`, ['first']);
    }
    const hosts = Array.from({ length: to - from + 1 }, (_, index) => {
      const ip = ipText(from + index);
      return { ip, dial: on === 'real' ? ip : standInAddressOf(ip) };
    });
    const dialled = ports.map((port) => ({ port, dial: on === 'real' ? port : standInPort(port, this.around.standInsPort()) }));
    const { claims } = this.around;
    const isFree = (dial: { host: string; port: number }) => claims.otherThan(document.project.id, `${dial.host}:${dial.port}`) === null;
    const mayBe = on === 'real' ? isFree : standInsOf(document, this.around.standInsPort());
    const look = this.look(document, lineId, registers);
    return this.ways.whileAllowed(document, on, sweepHosts({ hosts, ports: dialled, mayBe, timeoutMs, parallel: PARALLEL_HOSTS, look }));
  }

  settings(document: ProjectDocument, { on, lineId, unitId, timeoutMs }: AskSettings): AsyncGenerator<ProveEvent> {
    this.ways.allow(document, on, 'read');
    const line = modbusLineOf(document, lineId);
    if (this.around.benchRuns(document.project.id)) {
      refuse(
        'not-now',
        `The bench runs, so ${line.name} is being asked already; two that ask at once damage each other’s frames. Stop the bench first.`,
      );
    }
    const own = dialOnLine(line, line, on);
    if (own.kind === 'nowhere') refuse('does-not-fit', own.why, ['lineId']);
    const open = (settings: SerialSettings) => openDial(dialOnLine(line, settings, on), this.around);
    const search = searchSettings({ unit: unitId, candidates: likelySettings(line, line.framing), timeoutMs, open });
    return this.ways.whileAllowed(document, on, search, own);
  }

  private look(document: ProjectDocument, lineId: string, registers: boolean): LookAtRegisters {
    return registers ? lookingFor(document, lineId, () => this.around.kept()) : () => Promise.resolve(null);
  }
}

/** Where stand-ins of this project may listen; other programs of this machine are none of it. */
function standInsOf({ ports }: ProjectDocument, standInsPort: number): (dial: { host: string; port: number }) => boolean {
  const own = new Set(
    ports.flatMap((port) => (port.kind === 'ethernet' ? [`${port.standInAddress}:${standInPort(port.tcpPort, standInsPort)}`] : [])),
  );
  return ({ host, port }) => own.has(`${host}:${port}`);
}

function gatewayOf({ device: { name, timeoutMs } }: Front): { name: string; waitsMs: number } {
  return { name, waitsMs: timeoutMs };
}

/** The network in which an address is; a sentence that goes on after “is in”. */
function networkOfDial(document: ProjectDocument, endpoint: Endpoint, { host }: { host: string }, on: Target): string {
  if (on === 'real') return ownNetwork(host);
  const port = document.ports.find(({ deviceId, kind }) => deviceId === endpoint.id && kind === 'ethernet');
  const line = document.lines.find(({ id }) => id === port?.lineId)?.name ?? 'its line';
  const ip = endpoint.via === 'ethernet' ? endpoint.ip : host;
  return `the loopback network, where the stand-ins of ${line} listen (${ip} on the plant)`;
}

function modbusLineOf(document: ProjectDocument, lineId: string): ModbusLine {
  const line = document.lines.find(({ id }) => id === lineId);
  if (line?.kind !== 'serial') refuse('does-not-fit', 'This is no serial line of the project.', ['lineId']);
  if (!isModbusLine(line)) refuse('does-not-fit', `${line.name} carries text, not Modbus.`, ['lineId']);
  return line;
}

/** Which of this machine’s networks an address is in; a sentence that goes on after “is in”. */
function ownNetwork(host: string): string {
  const ip = ipNumber(host)!;
  for (const [name, addresses] of Object.entries(networkInterfaces())) {
    for (const { family, address, netmask } of addresses ?? []) {
      const [own, bits] = [ipNumber(address), maskBits(netmask)];
      if (family !== 'IPv4' || own === null || bits === null) continue;
      const network = networkOf(own, bits);
      if (contains(network, ip)) return `${formatNetwork(network)}, the network of this machine at ${name}`;
    }
  }
  return 'none of this machine’s own networks, so a router must lead there';
}
