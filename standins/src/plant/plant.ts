import type { Device, EthernetPort, Port, ProjectDocument, SerialPort } from '@plain-envoy/core/model';
import { gatewayResponder } from '@plain-envoy/engine/gateway';
import { answerPdu, ModbusTcpServer, type Responder, RtuServer } from '@plain-envoy/engine/server';
import { RtuTransport, VirtualLine } from '@plain-envoy/engine/transport';
import { kinds, type StandIn } from '../kinds/index.js';

const STEP_MS = 50;
const GATEWAY_WAITS_MS = 250;
const DEVICE_THINKS_MS = 3;

/** One thing that can be taken off its line and put back: a device's server, on a socket or on a bus. */
interface Connection {
  start(): Promise<void> | void;
  stop(): Promise<void> | void;
}

/** A device of the plant as it is simulated. A gateway has connections but no registers of its own. */
export interface Member {
  device: Device;
  standIn: StandIn | null;
  cut: boolean;
}

interface Wired extends Member {
  connections: Connection[];
}

/**
 * All stand-ins of a project on real loopback sockets and on virtual lines of the project's settings. It is reached by
 * Modbus only; `members`, `cutOff` and the registers' hold are for the control interface.
 */
export class Plant {
  private readonly wired = new Map<string, Wired>();
  private readonly lines = new Map<string, VirtualLine>();
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly document: ProjectDocument,
    private readonly tcpPort: number,
  ) {
    for (const line of document.lines) if (line.kind === 'serial') this.lines.set(line.id, new VirtualLine(line));
    for (const device of document.devices) if (device.standIn) this.wired.set(device.id, this.wire(device));
  }

  /** Rejects with the system's error where an address is taken; then nothing is left listening. */
  async start(): Promise<void> {
    try {
      for (const { connections } of this.wired.values()) for (const connection of connections) await connection.start();
    } catch (error) {
      await this.stop();
      throw error;
    }
    let last = performance.now();
    this.timer = setInterval(() => {
      const now = performance.now();
      for (const { standIn } of this.wired.values()) standIn?.step(now - last);
      last = now;
    }, STEP_MS);
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    for (const { connections } of this.wired.values()) for (const connection of connections) await connection.stop();
    for (const line of this.lines.values()) line.close();
  }

  members(): Member[] {
    return [...this.wired.values()];
  }

  member(deviceId: string): Member | undefined {
    return this.wired.get(deviceId);
  }

  /** Takes a device off its lines, as a pulled plug does, or puts it back. Its process goes on. */
  async cutOff(deviceId: string, cut: boolean): Promise<void> {
    const member = this.wired.get(deviceId);
    if (!member || member.cut === cut) return;
    member.cut = cut;
    for (const connection of member.connections) await (cut ? connection.stop() : connection.start());
  }

  private wire(device: Device): Wired {
    const ports = this.document.ports.filter((port) => port.deviceId === device.id);
    if (device.kind === 'gateway') return { device, standIn: null, cut: false, connections: this.wireGateway(ports) };
    const make = kinds[device.standIn!];
    if (!make) throw new Error(`There is no stand-in of the kind “${device.standIn}” for ${device.name}.`);
    const standIn = make();
    const respond: Responder = (_unit, pdu) => {
      standIn.heard?.();
      return answerPdu(standIn.bank, pdu);
    };
    return { device, standIn, cut: false, connections: ports.flatMap((port) => this.wirePort(port, respond)) };
  }

  private wirePort(port: Port, respond: Responder): Connection[] {
    if (port.kind === 'ethernet') return this.listen(port, respond);
    const line = this.lines.get(port.lineId);
    if (!line || port.unitId === null) return [];
    return [new RtuServer(line, respond, { unitId: port.unitId, delayMs: DEVICE_THINKS_MS })];
  }

  private wireGateway(ports: readonly Port[]): Connection[] {
    const asker = ports.find((port): port is SerialPort => port.kind === 'serial' && port.unitId === null);
    const line = asker && this.lines.get(asker.lineId);
    if (!line) return [];
    const respond = gatewayResponder(new RtuTransport(line), { timeoutMs: GATEWAY_WAITS_MS });
    return ports.filter((port) => port.kind === 'ethernet').flatMap((port) => this.listen(port, respond));
  }

  private listen(port: EthernetPort, respond: Responder): Connection[] {
    if (!port.standInAddress) return [];
    return [new ModbusTcpServer(respond, { host: port.standInAddress, port: this.tcpPort, connections: port.connections })];
  }
}
