import { networkInterfaces } from 'node:os';
import { formatAddress, tableNames } from '@plain-envoy/core/address';
import type { ProveEvent, ReadEvent } from '@plain-envoy/core/feed';
import { readFunction } from '@plain-envoy/core/frame';
import { likelySettings, type SerialSettings, silentTimeMs } from '@plain-envoy/core/line';
import type { Device, ProjectDocument } from '@plain-envoy/core/model';
import { contains, formatNetwork, ipNumber, ipText, maskBits, networkOf, parseNetwork } from '@plain-envoy/core/network';
import { frontOf, type ModbusLine } from '@plain-envoy/core/plan';
import { reachDevice, readSpan, searchSettings, sweepHosts, sweepUnits } from '@plain-envoy/engine/prove';
import { ChannelTransport, type ClientTransport, openSerialPort, openSocket, overEthernet } from '@plain-envoy/engine/transport';
import { refuse } from '../problem/index.js';
import { type AskHosts, type AskReach, type AskRead, type AskSettings, type AskUnits, MOST_TARGETS } from './asked.js';
import { type EthernetPort, type SerialLine, type SerialPort } from "@plain-envoy/core/media";

const PARALLEL_HOSTS = 64;
/** While the bench runs, a line is left to it twice as long as a silent unit has held it. */
const PAUSE_SHARE = 2;

export interface Surroundings {
  standInsPort: number;
  /** Where an adapter to a simulated line is, once it is set. */
  adapter(lineId: string, settings: SerialSettings): Promise<number>;
  /** Whether the bench runs this project, whose gateways then ask on its lines. */
  benchRuns(projectId: string): boolean;
}

/** The way to what is on a serial line: through the gateway in front of it, or a serial port of this machine. */
interface Way {
  open(): ClientTransport;
  gateway: { name: string; waitsMs: number; port: EthernetPort } | null;
}

/** Walks to devices, sweeps lines and searches for settings, on the stand-ins or, where a person has armed it, on the real plant. */
export class Prover {
  private readonly armed = new Set<string>();

  constructor(private readonly around: Surroundings) {}

  isArmed(projectId: string): boolean {
    return this.armed.has(projectId);
  }

  arm(projectId: string, armed: boolean): void {
    if (armed) this.armed.add(projectId);
    else this.armed.delete(projectId);
  }

  reach(document: ProjectDocument, { on, deviceId }: AskReach): AsyncGenerator<ProveEvent> {
    this.allow(document, on);
    const device = deviceOf(document, deviceId);
    const point = document.points.find((row) => row.deviceId === deviceId && row.access !== 'write');
    const register = point
      ? { functionCode: readFunction(point.table).code, offset: point.offset, what: `${point.name} (${formatAddress(point, 'pdu', [])})` }
      : { functionCode: 3, offset: 0, what: `The ${tableNames.holding.one} at offset 0` };
    const common = { name: device.name, timeoutMs: device.timeoutMs, register };
    const { unit, port, gateway, open } = this.wayToDevice(document, device, on);
    return reachDevice({ ...common, unit, gateway, open, socket: port && this.socketOf(document, port, on) });
  }

  /** Reads a span of a device's table, as far as it lets itself be read and is not known to refuse. */
  read(document: ProjectDocument, { on, deviceId, table, first, count, everyMs }: AskRead): AsyncGenerator<ReadEvent> {
    this.allow(document, on);
    const device = deviceOf(document, deviceId);
    const { unit: unitId, open } = this.wayToDevice(document, device, on);
    const { name, timeoutMs, tries } = device;
    const known = device.forbidden
      .filter((span) => span.table === table)
      .flatMap((span) => Array.from({ length: span.last - span.first + 1 }, (_, index) => span.first + index));
    return readSpan({ name, unitId, timeoutMs, tries, table, first, count, everyMs, known, open });
  }

  units(document: ProjectDocument, { on, lineId, first, last, timeoutMs }: AskUnits): AsyncGenerator<ProveEvent> {
    this.allow(document, on);
    if (last < first) refuse(422, `The last unit ID, ${last}, comes before the first, ${first}.`, ['last']);
    const line = lineOf(document, lineId);
    const { gateway, open } = this.wayTo(document, line, on);
    const waitsMs = gateway ? gateway.waitsMs : timeoutMs;
    const silentMs = silentTimeMs(line, line.framing === 'ascii' ? 'ascii' : 'rtu', waitsMs);
    // A gateway must have answered before it is asked again, so it is given its own wait and what the wire takes.
    const patience = gateway ? Math.max(timeoutMs, silentMs + 1000) : timeoutMs;
    const pauseMs = this.around.benchRuns(document.project.id) ? PAUSE_SHARE * silentMs : 0;
    return sweepUnits({ first, last, timeoutMs: patience, silentMs, gatewayWaitsMs: gateway?.waitsMs ?? null, pauseMs, open });
  }

  hosts(document: ProjectDocument, { on, lineId, first, last, ports, timeoutMs }: AskHosts): AsyncGenerator<ProveEvent> {
    this.allow(document, on);
    const line = document.lines.find(({ id }) => id === lineId);
    const network = line?.kind === 'ethernet' ? parseNetwork(line.network) : refuse(422, 'This is no Ethernet line.', ['lineId']);
    const [from, to] = [ipNumber(first)!, ipNumber(last)!];
    if (to < from) refuse(422, `The last address, ${last}, comes before the first, ${first}.`, ['last']);
    const count = (to - from + 1) * ports.length;
    if (count > MOST_TARGETS) refuse(422, `That is ${count} connections to try; one sweep tries at most ${MOST_TARGETS}.`, ['last']);
    if (on === 'real' && network.ok && !(contains(network.value, from) && contains(network.value, to))) {
      refuse(422, `A sweep stays on ${line!.name}, ${formatNetwork(network.value)}.`, ['first']);
    }
    const hosts = Array.from({ length: to - from + 1 }, (_, index) => {
      const ip = ipText(from + index);
      return { ip, dial: on === 'real' ? ip : onLoopback(ip) };
    });
    const dialled = ports.map((port) => ({ port, dial: on === 'real' ? port : this.standInPort(port) }));
    return sweepHosts({ hosts, ports: dialled, timeoutMs, parallel: PARALLEL_HOSTS });
  }

  settings(document: ProjectDocument, { on, lineId, unitId, timeoutMs }: AskSettings): AsyncGenerator<ProveEvent> {
    this.allow(document, on);
    const line = lineOf(document, lineId);
    if (line.framing === 'text') refuse(422, `${line.name} carries text, not Modbus.`, ['lineId']);
    if (this.around.benchRuns(document.project.id)) {
      refuse(
        409,
        `The bench runs, so ${line.name} is being asked already; two that ask at once damage each other’s frames. Stop the bench first.`,
      );
    }
    if (on === 'real' && !line.boundTo) refuse(422, `${line.name} is not bound to a serial port of this machine.`, ['lineId']);
    const { framing } = line;
    const open = (settings: SerialSettings) => this.onLine({ ...line, framing }, settings, on);
    return searchSettings({ unit: unitId, candidates: likelySettings(line, framing), timeoutMs, open });
  }

  private allow(document: ProjectDocument, on: 'stand-ins' | 'real'): void {
    if (on === 'real' && !this.armed.has(document.project.id)) {
      refuse(403, 'Real lines are not armed: a person arms them first, because frames then go to the real plant.', ['on']);
    }
  }

  /** How a device is asked: at its own address, or by its unit ID on a serial line. */
  private wayToDevice(
    document: ProjectDocument,
    { id, name }: Device,
    on: 'stand-ins' | 'real',
  ): Way & { unit: number; port: EthernetPort | null } {
    const ports = document.ports.filter((port) => port.deviceId === id);
    const direct = ports.find((port): port is EthernetPort => port.kind === 'ethernet');
    if (direct) return { unit: direct.unitId, port: direct, gateway: null, open: () => this.dial(direct, on) };
    const serial = ports.find((port): port is SerialPort => port.kind === 'serial');
    if (!serial?.unitId) refuse(422, `${name} has no unit ID by which it could be asked.`, ['deviceId']);
    const way = this.wayTo(document, lineOf(document, serial.lineId), on);
    return { ...way, unit: serial.unitId, port: way.gateway?.port ?? null };
  }

  private wayTo(document: ProjectDocument, line: SerialLine, on: 'stand-ins' | 'real'): Way {
    const { framing } = line;
    if (framing === 'text') refuse(422, `${line.name} carries text, not Modbus.`, ['lineId']);
    const front = frontOf(document, line.id);
    const device = document.devices.find(({ id }) => id === front?.deviceId);
    if (on === 'real' ? line.boundTo : !front) return { gateway: null, open: () => this.onLine({ ...line, framing }, line, on) };
    if (!front || !device)
      refuse(422, `Nothing leads to ${line.name}: no gateway asks on it, and no serial port of this machine is bound to it.`);
    return { gateway: { name: device.name, waitsMs: device.timeoutMs, port: front }, open: () => this.dial(front, on) };
  }

  /** Asks on a line itself: by the serial port of this machine that is bound to it, or by the adapter to the simulated one. */
  private onLine({ id, boundTo, framing }: ModbusLine, settings: SerialSettings, on: 'stand-ins' | 'real'): ClientTransport {
    const open = async () =>
      on === 'real' ? openSerialPort(boundTo!, settings) : openSocket('127.0.0.1', await this.around.adapter(id, settings));
    return new ChannelTransport(open, framing);
  }

  private dial(port: EthernetPort, on: 'stand-ins' | 'real'): ClientTransport {
    const { host, tcpPort } = this.address(port, on);
    return overEthernet(port.framing, host, tcpPort);
  }

  private address(port: EthernetPort, on: 'stand-ins' | 'real'): { host: string; tcpPort: number } {
    if (on === 'real') return { host: port.ip, tcpPort: port.tcpPort };
    if (!port.standInAddress) refuse(422, 'This device has no stand-in.', ['deviceId']);
    return { host: port.standInAddress, tcpPort: this.standInPort(port.tcpPort) };
  }

  /** Stand-ins listen on one port, which stands for 502. */
  private standInPort(port: number): number {
    return port === 502 ? this.around.standInsPort : port;
  }

  private socketOf(document: ProjectDocument, port: EthernetPort, on: 'stand-ins' | 'real') {
    const { host, tcpPort } = this.address(port, on);
    const line = document.lines.find(({ id }) => id === port.lineId)?.name ?? 'its line';
    const network =
      on === 'real' ? ownNetwork(host) : `the loopback network, where the stand-ins of ${line} listen (${port.ip} on the plant)`;
    return { host, port: tcpPort, network };
  }
}

function deviceOf(document: ProjectDocument, deviceId: string): Device {
  return document.devices.find(({ id }) => id === deviceId) ?? refuse(404, 'This device is not in the project.', ['deviceId']);
}

function lineOf(document: ProjectDocument, lineId: string): SerialLine {
  const line = document.lines.find(({ id }) => id === lineId);
  if (line?.kind !== 'serial') refuse(422, 'This is no serial line of the project.', ['lineId']);
  return line;
}

/** The stand-in of 10.40.8.10 listens at 127.40.8.10. */
function onLoopback(ip: string): string {
  return ip.replace(/^\d+/, '127');
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
