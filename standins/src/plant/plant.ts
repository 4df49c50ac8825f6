import { BROADCAST_UNIT, standInPort } from '@plain-envoy/core/plan';
import { socketTransports } from '@plain-envoy/engine/transports';
import { Mutex } from 'async-mutex';
import { isDeepStrictEqual } from 'node:util';
import { type Failure, groupOf } from '@plain-envoy/core/failure';
import { type LoggedFrame, toSocketCan } from '@plain-envoy/core/can';
import type { CanLineState, Fault, HeardOnLine, LateOnLine } from '@plain-envoy/core/feed';
import { characterMs, type SerialSettings, settingsOf, standards } from '@plain-envoy/core/line';
import { BY_ITS_MAP, type Device, type DeviceRecording } from '@plain-envoy/core/model';
import { PreparedLink } from '@plain-envoy/core/link-program';
import type { Wiring } from '@plain-envoy/core/playing';
import { inBackground } from '@plain-envoy/engine/background';
import { gatewayResponder } from '@plain-envoy/engine/gateway';
import { objectsOf } from '@plain-envoy/core/identity';
import {
  answerInquiry,
  answerPdu,
  BusCounters,
  ChannelServer,
  type DeviceSelf,
  FileStore,
  LineServer,
  type Responder,
  type Snapshot,
} from '@plain-envoy/engine/server';
import { bankMemory } from '@plain-envoy/engine/text';
import {
  CanBus,
  type CanStation,
  type Channel,
  type LinkEnd,
  LineTransport,
  type PassedDatagram,
  type PassedFrame,
  type PassedText,
  TextLine,
  type TextStation,
  UdpLink,
  until,
  VirtualLine,
  type Where,
} from '@plain-envoy/engine/links';
import {
  CanSide,
  type CanSideOf,
  LinkSide,
  type LinkSideOf,
  PlayedDevice,
  type SideOf,
  StationSide,
  type StationSideOf,
  TextPort,
  TextSide,
} from '../played/index.js';
import { Adapter } from './adapter.js';
import { Faulty } from './faulty.js';
import { FrameLog } from './frame-log.js';
import { Traffic } from './traffic.js';
import { refusalOf, writtenBy } from './refusal.js';
import {
  type CanPort,
  type CyclicPort,
  type EthernetPort,
  isModbusLine,
  type Port,
  type SerialPort,
  type TelecontrolPort,
  telecontrolPort,
} from '@plain-envoy/core/media';

const STEP_MS = 50;
/** How long a device on a line that is lent is given beyond its own delay. */
const LENT_WAITS_MS = 1500;

/** One thing that can be taken off its line and put back: a device's server, on a socket or on a bus. */
interface Connection {
  start(): Promise<void> | void;
  stop(): Promise<void> | void;
  /** Lets those who are connected wait for ever. */
  abandon?(): void;
  /** Goes on without its line, and comes back; one that has none is stopped and started. */
  unplug?(): void;
  plug?(): Promise<void>;
  /** Begins anew, as after switching on. */
  restart?(): void;
}

/** A device of the plant as it is simulated. A gateway has connections but no registers of its own. */
export interface Member {
  device: Device;
  standIn: PlayedDevice | null;
  cut: boolean;
  faulty: Faulty;
  /** Answers of it that its gateway no longer waited for. */
  late: LateOnLine | null;
  heard: HeardOnLine | null;
}

interface Wired extends Member {
  /** What its connections were made from; they are made anew when this changes. */
  wiredAs: unknown;
  connections: Connection[];
  /** What its registers held when it was first switched on. */
  asNew: Snapshot | null;
}

interface LineOfPlant {
  madeAs: unknown;
  /** Of frames, or of text. */
  virtual: VirtualLine | TextLine;
  adapter: Adapter;
}

interface BusOfPlant {
  madeAs: unknown;
  bus: CanBus;
  /** What went over it last. */
  log: FrameLog;
}

/**
 * All stand-ins of a project on real loopback sockets and on virtual lines. Each port answers as it is set on the device, so
 * a setting that differs, or a unit ID that two have, is heard here as on a real bus. It is reached by Modbus; `rewire`,
 * `cutOff`, the adapters' settings and the registers' hold are for the control interface.
 */
export class Plant {
  private readonly wired = new Map<string, Wired>();
  private readonly lines = new Map<string, LineOfPlant>();
  private readonly buses = new Map<string, BusOfPlant>();
  private readonly wires = new Map<string, UdpLink>();
  /** The outstations that listen, by their ports. */
  private readonly outstations = new Map<string, StationSide>();
  /** Which port of the project a station on a line of text or of CAN, or an end of a cyclic link, is. */
  private readonly portOf = new WeakMap<TextStation | CanStation | LinkEnd, string>();
  /** What a device on CAN does wrong, by its station. */
  private readonly faultyOf = new WeakMap<CanStation, Faulty>();
  readonly traffic = new Traffic();
  private timer: NodeJS.Timeout | null = null;
  private readonly turns = new Mutex();

  constructor(
    private wiring: Wiring,
    /** Where stand-ins listen in the place of TCP port 502. */
    private standInsPort: number,
  ) {}

  get port(): number {
    return this.standInsPort;
  }

  /** Rejects with the system's error where an address is taken; then nothing is left listening. */
  async start(): Promise<void> {
    try {
      await this.rewire(this.wiring);
    } catch (error) {
      await this.stop();
      throw error;
    }
    this.begin();
  }

  /** Lets time pass for what is there and what comes. */
  begin(): void {
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
    for (const { virtual, adapter } of this.lines.values()) {
      await adapter.stop();
      virtual.close();
    }
    for (const { bus } of this.buses.values()) bus.close();
    for (const wire of this.wires.values()) wire.close();
  }

  /** Follows an edited project: what is the same in both goes on undisturbed, and no device forgets its registers. `port` moves all to another. */
  rewire(wiring: Wiring, port = this.standInsPort): Promise<void> {
    return this.turns.runExclusive(() => {
      this.standInsPort = port;
      return this.follow(wiring);
    });
  }

  members(): Member[] {
    return [...this.wired.values()];
  }

  member(deviceId: string): Member | undefined {
    return this.wired.get(deviceId);
  }

  /** Where an adapter on this line is reached, after it was set as asked; undefined for a line that is not simulated. */
  async adapter(lineId: string, settings: SerialSettings): Promise<number | undefined> {
    const line = this.lines.get(lineId);
    if (!line) return undefined;
    line.adapter.set(settings);
    return line.adapter.port();
  }

  /**
   * Lets who asks on a channel, such as a serial port of this machine, ask the devices of a line, at the pace of that line. Who is silent
   * there is silent here. Gives what ends it; the channel is left open. Throws for a line that is not simulated.
   */
  lend(lineId: string, channel: Channel): () => void {
    const drawn = this.wiring.lines.find(({ id }) => id === lineId);
    const virtual = this.lines.get(lineId)?.virtual;
    if (virtual instanceof TextLine) return lendText(virtual, channel);
    if (!virtual || !isModbusLine(drawn)) throw new Error('This line is not simulated.');
    const transport = new LineTransport(virtual);
    const slowest = Math.max(0, ...this.members().map(({ device }) => device.delayMs));
    const respond: Responder = async (unit, pdu, wish) => {
      if (unit === BROADCAST_UNIT) {
        await transport.tell(unit, pdu.slice(), 0, undefined, wish);
        return null;
      }
      const exchange = await transport.exchange(unit, pdu.slice(), slowest + LENT_WAITS_MS, undefined, wish);
      return exchange.kind === 'answer' ? exchange.pdu : null;
    };
    const server = new ChannelServer(channel, respond, drawn.framing);
    return () => {
      server.stop();
      transport.close();
    };
  }

  /** The devices that play a recording which they have not been given yet. */
  lacking(): { deviceId: string; recording: DeviceRecording }[] {
    return [...this.wired].flatMap(([deviceId, { standIn }]) => (standIn?.lacks ? [{ deviceId, recording: standIn.lacks }] : []));
  }

  /** Takes a device off its lines, as a pulled plug does, or puts it back. Its process goes on. */
  async cutOff(deviceId: string, cut: boolean): Promise<void> {
    const member = this.wired.get(deviceId);
    if (!member || member.cut === cut) return;
    member.cut = cut;
    for (const connection of member.connections) await (cut ? takeOff(connection) : putBack(connection));
  }

  /** Makes a device do these things wrong from now on; an empty list mends it. */
  setFaults(deviceId: string, faults: readonly Fault[]): void {
    const member = this.wired.get(deviceId);
    if (!member) return;
    const wasHalfOpen = member.faulty.isHalfOpen;
    member.faulty.set(faults);
    if (member.faulty.isHalfOpen && !wasHalfOpen) for (const connection of member.connections) connection.abandon?.();
  }

  /** Takes a device away for a while; it comes back as new, with nothing of what it held. */
  async reboot(deviceId: string, ms: number): Promise<void> {
    const member = this.wired.get(deviceId);
    if (!member || member.cut) return;
    await this.cutOff(deviceId, true);
    if (member.asNew) member.standIn?.bank.restore(member.asNew);
    member.standIn?.restart();
    for (const connection of member.connections) connection.restart?.();
    await new Promise((done) => setTimeout(done, ms));
    await this.cutOff(deviceId, false);
  }

  private async follow(wiring: Wiring): Promise<void> {
    this.wiring = wiring;
    const renewed = new Set([...(await this.followLines()), ...this.followBuses()]);
    this.followWires();
    const devices = new Map(
      wiring.devices.filter((device) => device.standIn && known(device.standIn)).map((device) => [device.id, device]),
    );
    for (const [id, member] of this.wired) {
      const device = devices.get(id);
      if (device && device.standIn === member.device.standIn) continue;
      for (const connection of member.connections) await connection.stop();
      this.wired.delete(id);
    }
    const begin: Connection[] = [];
    for (const device of devices.values()) {
      const ports = wiring.ports.filter((port) => port.deviceId === device.id);
      const turnarounds = wiring.lines.map((line) => (isModbusLine(line) ? line.turnaroundMs : null));
      const wiredAs = [
        this.standInsPort,
        device.timeoutMs,
        device.delayMs,
        device.recording !== null,
        ports,
        device.kind === 'gateway' ? turnarounds : null,
        ports.map(
          (port) =>
            this.sideOf(device, port)?.telegrams ??
            this.canSideOf(device, port)?.frames ??
            wiring.links[port.lineId] ??
            wiring.stations[port.lineId] ??
            null,
        ),
        device.image,
      ];
      const member = this.wired.get(device.id);
      const same = isDeepStrictEqual(member?.wiredAs, wiredAs) && !ports.some((port) => renewed.has(port.lineId));
      if (member) member.device = device;
      // A gateway passes on and has no registers, whatever plays it.
      const standIn = device.kind === 'gateway' ? null : (member?.standIn ?? new PlayedDevice());
      if (member) member.standIn = standIn;
      standIn?.takeSettings(device, wiring.maps[device.id] ?? { extents: {}, points: [] });
      if (same) continue;
      for (const connection of member?.connections ?? []) await connection.stop();
      const faulty = member?.faulty ?? new Faulty();
      const connections =
        device.kind === 'gateway' ? this.wireGateway(device, ports, faulty) : this.wireDevice(device, ports, standIn!, faulty);
      const cut = member?.cut ?? false;
      const asNew = member ? member.asNew : (standIn?.bank.snapshot() ?? null);
      this.wired.set(device.id, {
        device,
        standIn,
        cut,
        faulty,
        late: member?.late ?? null,
        heard: member?.heard ?? null,
        wiredAs,
        connections,
        asNew,
      });
      if (!cut) begin.push(...connections);
    }
    // All that was given up is free before anything new is taken: two devices may have exchanged their addresses.
    const refused: unknown[] = [];
    for (const connection of begin) await Promise.resolve(connection.start()).catch((error: unknown) => refused.push(error));
    if (refused.length) throw refused[0];
  }

  /** Which lines were made anew, so that everything on them must be wired again. */
  private async followLines(): Promise<Set<string>> {
    const renewed = new Set<string>();
    const wanted = new Map(this.wiring.lines.map((line) => [line.id, line]));
    for (const [id, line] of this.lines) {
      if (wanted.get(id)?.kind === 'serial') continue;
      await line.adapter.stop();
      line.virtual.close();
      this.lines.delete(id);
    }
    for (const line of wanted.values()) {
      if (line.kind !== 'serial') continue;
      const { framing, standard } = line;
      const settings = settingsOf(line);
      const madeAs = [settings, framing, standard];
      const known = this.lines.get(line.id);
      if (isDeepStrictEqual(known?.madeAs, madeAs)) continue;
      await known?.adapter.stop();
      known?.virtual.close();
      const isHalfDuplex = standards[standard].duplex === 'half';
      const virtual = framing === 'text' ? new TextLine(settings, isHalfDuplex) : new VirtualLine(settings, framing);
      if (virtual instanceof TextLine) virtual.onPassed = (passed) => this.passed(line.id, passed);
      this.lines.set(line.id, { madeAs, virtual, adapter: new Adapter(virtual) });
      renewed.add(line.id);
    }
    return renewed;
  }

  /** Which buses were made anew. */
  private followBuses(): Set<string> {
    const renewed = new Set<string>();
    const wanted = new Map(this.wiring.lines.flatMap((line) => (line.kind === 'can' ? [[line.id, line]] : [])));
    for (const [id, { bus }] of this.buses) {
      if (wanted.has(id)) continue;
      bus.close();
      this.buses.delete(id);
    }
    for (const { id, bitrate } of wanted.values()) {
      const known = this.buses.get(id);
      if (known?.madeAs === bitrate) continue;
      known?.bus.close();
      const bus = new CanBus(bitrate);
      const log = new FrameLog();
      bus.spoils = (station) => this.faultyOf.get(station)?.destroys() ?? false;
      bus.onPassed = (passed) => (log.add(passed), this.passedFrame(id, passed));
      this.buses.set(id, { madeAs: bitrate, bus, log });
      renewed.add(id);
    }
    return renewed;
  }

  private followWires(): void {
    const wanted = new Set(this.wiring.lines.flatMap(({ id, kind }) => (kind === 'cyclic' ? [id] : [])));
    for (const [id, wire] of this.wires) {
      if (wanted.has(id)) continue;
      wire.close();
      this.wires.delete(id);
    }
    for (const id of wanted) {
      if (this.wires.has(id)) continue;
      const wire = new UdpLink();
      wire.onPassed = (passed) => this.passedDatagram(id, passed);
      this.wires.set(id, wire);
    }
  }

  private passedDatagram(lineId: string, { from, datagram: sent, atMs, end }: PassedDatagram): void {
    const where = { endpointId: lineId, requestId: this.portOf.get(from) ?? lineId, framing: 'cyclic', unit: 0, functionCode: 0 } as const;
    this.traffic.add({ ...where, atMs, ms: 0, sent, got: end === 'arrived' ? sent : null, end, failure: null });
  }

  private passedFrame(lineId: string, { from, frame, atMs, ms, end }: PassedFrame): void {
    const where = { endpointId: lineId, requestId: this.portOf.get(from) ?? lineId, framing: 'can', unit: 0, functionCode: 0 } as const;
    const sent = toSocketCan(frame);
    this.traffic.add({ ...where, atMs, ms, sent, got: end === 'arrived' ? sent : null, end, failure: null });
  }

  /** How a bus of CAN is, and what was seen there; undefined for a line that is none. */
  canLine(lineId: string): { state(): CanLineState; frames: readonly LoggedFrame[] } | undefined {
    const known = this.buses.get(lineId);
    return known && { state: () => ({ load: known.bus.load, ...known.log.seen() }), frames: known.log.frames };
  }

  /** What is sent by nobody of the project comes from a terminal. */
  private passed(lineId: string, { from, atMs, ms, sent, got, isDamaged }: PassedText): void {
    const end = got === null ? 'silent' : isDamaged ? 'damaged' : 'arrived';
    const where = { endpointId: lineId, requestId: this.portOf.get(from) ?? lineId, framing: 'text', unit: 0, functionCode: 0 } as const;
    this.traffic.add({ ...where, atMs, ms, sent, got, end, failure: null });
  }

  private wireDevice(device: Device, ports: readonly Port[], standIn: PlayedDevice, faulty: Faulty): Connection[] {
    // As it is set now: an edit of what it says takes it off no line.
    const now = () => this.wired.get(device.id)?.device ?? device;
    const self: DeviceSelf = {
      bank: standIn.bank,
      files: new FileStore(FILES),
      get serverId() {
        return saidBy(now()).serverId;
      },
      get objects() {
        return saidBy(now()).objects;
      },
    };
    const respond =
      (counters: BusCounters | null, byteMs: number): Responder =>
      (_unit, pdu) => {
        standIn.heard();
        if (!standIn.answers()) return null;
        if (device.recording) return replayed(standIn, pdu.slice(), byteMs);
        const refusal = refusalOf(now(), pdu) ?? answerInquiry(self, counters, pdu);
        if (refusal) return refusal;
        const answer = answerPdu(standIn.bank, pdu);
        if ((answer[0]! & EXCEPTION) === 0) for (const span of writtenBy(pdu)) standIn.wrote(span);
        return answer;
      };
    return ports.flatMap((port) => {
      const text = port.kind === 'serial' && port.framing === 'text' ? this.lines.get(port.lineId)?.virtual : undefined;
      if (text instanceof TextLine) {
        const side = this.sideOf(device, port, standIn);
        const own = port as SerialPort;
        return [side ? this.wireSide(text, own, standIn, faulty, side) : this.wireText(text, own, standIn, faulty)];
      }
      if (port.kind === 'can') return this.wireCan(device, port, standIn, faulty);
      if (port.kind === 'cyclic') return this.wireLink(device, port, standIn, faulty);
      if (port.kind === 'telecontrol') return this.wireStation(device, port, standIn, faulty);
      const counters = port.kind === 'serial' ? new BusCounters() : null;
      const byteMs = port.kind === 'serial' ? characterMs(settingsOf(port)) : 0;
      // A recorded device takes the time that it took.
      const delayMs = device.recording ? 0 : device.delayMs;
      return this.wirePort(delayMs, port, faulty.around(respond(counters, byteMs)), faulty, counters);
    });
  }

  /** A port on a text line, which is the program's for as long as it is connected. */
  private wireText(line: TextLine, port: SerialPort, standIn: PlayedDevice, faulty: Faulty): Connection {
    const { textPorts } = standIn;
    const around = { onHeard: () => standIn.heard(), spoil: (bytes: Uint8Array) => faulty.texts(bytes) };
    const own = new TextPort(line, settingsOf(port), around, undefined, port.handshake);
    this.portOf.set(own, port.id);
    return {
      start: () => void (own.start(), textPorts.add(own), this.takesAsTold(line, own, faulty)),
      stop: () => void (own.stop(), textPorts.delete(own), faulty.takers.delete(own)),
    };
  }

  /** What a port on a text line is for beside a program: the far side of a converter, or a device that sends what its map holds. */
  private sideOf(device: Device, port: Port, standIn?: PlayedDevice): SideOf | null {
    const all = this.wiring.texts[port.lineId];
    if (!all || device.kind === 'gateway') return null;
    const image = standIn?.memory;
    if (device.image) {
      // A converter lays values into its image as its windows say, whatever the project thinks of their order.
      const telegrams = all.map((telegram) => ({
        ...telegram,
        points: telegram.points.map((point) => ({ ...point, order: 'ABCD' as const })),
      }));
      return { telegrams, as: 'converter', memory: image ? image.of(port.lineId) : nowhere };
    }
    const telegrams = all.filter(({ deviceId }) => deviceId === device.id);
    if (telegrams.length === 0 || device.program.trim() !== '' || device.recording) return null;
    return { telegrams, as: 'device', memory: standIn ? bankMemory(standIn.bank) : nowhere };
  }

  /** What a port on CAN is for: the far side of a converter, or a device whose frames say what its registers hold. */
  private canSideOf(device: Device, port: Port, standIn?: PlayedDevice): CanSideOf | null {
    const all = this.wiring.frames[port.lineId];
    if (!all || device.kind === 'gateway') return null;
    if (device.image) {
      const frames = all.map((frame) => ({ ...frame, points: frame.points.map((point) => ({ ...point, order: 'ABCD' as const })) }));
      return { frames, as: 'converter', memory: standIn?.memory?.of(port.lineId) ?? nowhere };
    }
    const frames = all.filter(({ deviceId }) => deviceId === device.id);
    return { frames, as: 'device', memory: standIn ? bankMemory(standIn.bank) : nowhere };
  }

  private wireCan(device: Device, port: CanPort, standIn: PlayedDevice, faulty: Faulty): Connection[] {
    const bus = this.buses.get(port.lineId)?.bus;
    const of = this.canSideOf(device, port, standIn);
    if (!bus || !of) return [];
    const own = new CanSide(bus, port.bitrate, of, (frame) => faulty.canFrames(frame));
    this.portOf.set(own, port.id);
    this.faultyOf.set(own, faulty);
    return [
      {
        start: () => void (own.start(), standIn.canSides.set(port.id, own)),
        stop: () => void (own.stop(), standIn.canSides.delete(port.id)),
      },
    ];
  }

  /** An end of a cyclic link: who opens it keeps the values in its image, the station has them as its registers hold them. */
  private wireLink(device: Device, port: CyclicPort, standIn: PlayedDevice, faulty: Faulty): Connection[] {
    const [wire, link] = [this.wires.get(port.lineId), this.wiring.links[port.lineId]];
    if (!wire || !link) return [];
    const { inputBytes, outputBytes } = port;
    const points = link.points.map((point) => ({ ...point, order: 'ABCD' as const }));
    const of: LinkSideOf =
      port.role === 'opens'
        ? {
            link: { ...link, points },
            as: 'opener',
            sizes: { inputBytes, outputBytes },
            memory: standIn.memory?.of(port.lineId) ?? nowhere,
            // A controller has the raw bytes, and a program for them; a converter does it itself.
            program:
              device.kind === 'controller' ? new PreparedLink({ ...link, line: { ...link.line, inputBytes, outputBytes }, points }) : null,
          }
        : { link, as: 'station', sizes: { inputBytes, outputBytes }, memory: bankMemory(standIn.bank) };
    const own = new LinkSide(wire, of, () => faulty.timesOut());
    this.portOf.set(own, port.id);
    return [
      {
        start: () => own.start().then(() => void standIn.linkSides.set(port.id, own)),
        stop: () => void (own.stop(), standIn.linkSides.delete(port.id)),
      },
    ];
  }

  /** An end of a telecontrol link: an outstation listens, a control station calls each of its own. */
  private wireStation(device: Device, port: TelecontrolPort, standIn: PlayedDevice, faulty: Faulty): Connection[] {
    const as = port.role === 'asks' ? 'control station' : 'outstation';
    const memory = device.image ? (standIn.memory?.of(port.lineId) ?? nowhere) : bankMemory(standIn.bank);
    const sides = (this.wiring.stations[port.lineId] ?? []).flatMap((pair, index) => {
      if ((as === 'outstation' ? pair.outstation : pair.control)?.portId !== port.id) return [];
      const points = device.image ? pair.points.map((point) => ({ ...point, order: 'ABCD' as const })) : pair.points;
      const of: StationSideOf = { station: { ...pair, points }, memory, tells: device.image !== null, as };
      const framing = pair.line.standard === 'ieee1815' ? 'ieee1815' : 'iec104';
      const entry = {
        endpointId: port.lineId,
        requestId: port.id,
        framing,
        unit: index + 1,
        functionCode: 0,
        ms: 0,
        failure: null,
      } as const;
      const onSent = (sent: Uint8Array, isSent: boolean) =>
        this.traffic.add({
          ...entry,
          atMs: performance.timeOrigin + performance.now(),
          sent,
          got: isSent ? sent : null,
          end: isSent ? 'arrived' : 'silent',
        });
      const tcpPort = standInPort(telecontrolPort(pair.line) ?? 0, this.standInsPort);
      const at = (host: string | undefined): Where | null => (host ? { host, port: tcpPort } : null);
      // Where nobody of the project is the outstation, Plain Envoy may be.
      const where = () => (pair.outstation ? (this.outstations.get(pair.outstation.portId)?.at ?? null) : at(pair.loopback));
      return [new StationSide(of, faulty, onSent, where, at(pair.outstation?.loopback))];
    });
    return sides.map((side) => ({
      start: async () => {
        await side.start();
        standIn.stationSides.set(port.id, sides);
        if (as === 'outstation') this.outstations.set(port.id, side);
      },
      stop: () => {
        side.stop();
        standIn.stationSides.delete(port.id);
        if (this.outstations.get(port.id) === side) this.outstations.delete(port.id);
      },
      plug: () => side.plug(),
      unplug: () => side.unplug(),
      restart: () => side.restart(),
    }));
  }

  /** Says on the line whether a port takes what comes, now and whenever its faults change. */
  private takesAsTold(line: TextLine, own: TextStation, faulty: Faulty): void {
    const tell = () => line.takes(own, !faulty.takesNothing);
    faulty.takers.set(own, tell);
    tell();
  }

  private wireSide(line: TextLine, port: SerialPort, standIn: PlayedDevice, faulty: Faulty, side: SideOf): Connection {
    const own = new TextSide(line, settingsOf(port), port.handshake, side, (bytes) => faulty.texts(bytes));
    this.portOf.set(own, port.id);
    return {
      start: () => void (own.start(), standIn.sides.set(port.id, own), this.takesAsTold(line, own, faulty)),
      stop: () => void (own.stop(), standIn.sides.delete(port.id), faulty.takers.delete(own)),
    };
  }

  private wirePort(delayMs: number, port: Port, respond: Responder, spoil: Faulty, counters: BusCounters | null): Connection[] {
    if (port.kind === 'ethernet') return this.listen(port, after(delayMs, respond), spoil);
    const line = this.lines.get(port.lineId)?.virtual;
    if (port.kind !== 'serial' || !(line instanceof VirtualLine) || !port.unitId || port.framing === 'text') return [];
    const settings = settingsOf(port);
    return [new LineServer(line, respond, { unitId: port.unitId, delayMs, settings, spoil, ...(counters ? { counters } : {}) })];
  }

  private wireGateway(device: Device, ports: readonly Port[], faulty: Faulty): Connection[] {
    const master = ports.find((port): port is SerialPort => port.kind === 'serial' && port.unitId === null);
    const line = master && this.lines.get(master.lineId)?.virtual;
    const drawn = this.wiring.lines.find(({ id }) => id === master?.lineId);
    if (!master || !(line instanceof VirtualLine) || !isModbusLine(drawn)) return [];
    const { turnaroundMs } = drawn;
    const transport = new LineTransport(line, settingsOf(master));
    transport.onStray = (frame, afterMs) => this.cameLate(master.lineId, line.codec.decode(frame)?.unit, afterMs ?? 0);
    const { timeoutMs } = device;
    const onOutcome = (unit: number, failure: Failure | null) => this.heard(master.lineId, unit, failure);
    const passing = gatewayResponder(transport, { timeoutMs, forwardedUnits: master.forwardedUnits, turnaroundMs, onOutcome });
    const respond = after(device.delayMs, faulty.around(passing));
    const listening = ports
      .filter((port): port is EthernetPort => port.kind === 'ethernet')
      .flatMap((port) => this.listen(port, respond, faulty));
    return [...listening, { start: () => line.attach(transport), stop: () => line.detach(transport) }];
  }

  /** A gateway of this line heard an answer for which it no longer waited. */
  private cameLate(lineId: string, unit: number | undefined, afterMs: number): void {
    const member = this.memberOn(lineId, unit);
    if (!member) return;
    const { count, worstMs } = member.late ?? { count: 0, worstMs: 0 };
    member.late = { count: count + 1, worstMs: Math.max(worstMs, Math.round(afterMs)), lastAtMs: Date.now(), missedSince: 0 };
  }

  /** What a gateway of this line heard of a question: a sound answer, or something else. */
  private heard(lineId: string, unit: number, failure: Failure | null): void {
    const member = this.memberOn(lineId, unit);
    if (!member) return;
    if (failure && groupOf(failure) === 'damaged') member.heard = { failure, count: (member.heard?.count ?? 0) + 1, soundSince: 0 };
    else if (!failure && member.heard) member.heard.soundSince += 1;
    if (failure && member.late) member.late.missedSince += 1;
  }

  private memberOn(lineId: string, unit: number | undefined): Member | undefined {
    const port = this.wiring.ports.find((row) => row.kind === 'serial' && row.lineId === lineId && row.unitId === unit);
    return port && this.wired.get(port.deviceId);
  }

  private listen(port: EthernetPort, respond: Responder, spoil: Faulty): Connection[] {
    if (!port.standInAddress || port.role === 'asks') return [];
    const { standInAddress: host, connections } = port;
    const options = { host, port: standInPort(port.tcpPort, this.standInsPort), connections, spoil };
    return [socketTransports[port.framing].server(respond, options)];
  }
}

async function takeOff(connection: Connection): Promise<void> {
  if (connection.unplug) connection.unplug();
  else await connection.stop();
}

async function putBack(connection: Connection): Promise<void> {
  if (connection.plug) await connection.plug();
  else await connection.start();
}

/** Text that comes in a channel goes to all on a line, and what they send goes out. */
function lendText(line: TextLine, channel: Channel): () => void {
  const station: TextStation = { settings: line.settings, hear: (bytes) => inBackground(channel.write(bytes)) };
  line.attach(station);
  channel.listen(
    (bytes) => inBackground(line.send(station, bytes.slice())),
    () => line.detach(station),
  );
  return () => line.detach(station);
}

/** Where nothing is kept. */
const nowhere: SideOf['memory'] = { read: () => [], write: () => undefined };

/** Set in the function code of an answer that refuses. */
const EXCEPTION = 0x80;
/** Files of a stand-in. */
const FILES = 10;

/** What a stand-in says of itself: what its device says, or who is played where that is not known. */
function saidBy({ name, identification }: Device): Pick<DeviceSelf, 'serverId' | 'objects'> {
  const own = objectsOf(identification);
  const player = new Map([
    [0, 'Plain Envoy'],
    [1, name],
    [2, '1.0'],
    [4, name],
  ]);
  const { productName, productCode } = identification;
  return { serverId: productName || productCode || name, objects: own.size ? own : player };
}

/** What a recorded device answers, after as long as it took then without its frames on the wire, a byte of which takes `byteMs` here. */
async function replayed({ replay, bank }: PlayedDevice, pdu: Uint8Array, byteMs: number): Promise<Uint8Array | null> {
  const answer = replay?.answerTo(pdu);
  if (!answer || answer.kind === 'silent') return null;
  const own = answer.kind === 'words' ? answer.pdu : answerPdu(bank, pdu);
  await until(performance.now() + Math.max(0, answer.ms - answer.bytes * byteMs));
  return own;
}

/** A device takes its time before it answers. */
function after(delayMs: number, respond: Responder): Responder {
  if (delayMs === 0) return respond;
  return async (unit, pdu, wish) => {
    const own = pdu.slice();
    await until(performance.now() + delayMs);
    return respond(unit, own, wish);
  };
}

function known(standIn: string): boolean {
  return standIn === 'gateway' || standIn === BY_ITS_MAP;
}
