import type { Place } from '../address/index.js';
import type { EthernetLine, EthernetPort, Line, Port, SerialLine, SerialPort } from '../media/index.js';
import {
  blankDevice,
  blankLine,
  blankPoint,
  blankPort,
  type Device,
  plainRoute,
  type Point,
  type Project,
  type ProjectDocument,
  type Round,
  type Route,
} from '../model/index.js';

/** A project made piece by piece. Everything is as new, but for what is said. */
export class ProjectMaker {
  readonly document: ProjectDocument;

  constructor(
    project: Project,
    readonly nextId: () => string,
  ) {
    this.document = {
      project,
      lines: [],
      devices: [],
      ports: [],
      points: [],
      papers: [],
      rounds: [],
      routes: [],
      errands: [],
      telegrams: [],
      frames: [],
      watchLists: [],
      variables: [],
      listProfiles: [],
    };
  }

  net(name = 'Net', fields: Partial<EthernetLine> = {}): EthernetLine {
    return this.line({ ...(blankLine('ethernet', this.named(name)) as EthernetLine), ...fields });
  }

  bus(name = 'Bus', fields: Partial<SerialLine> = {}): SerialLine {
    return this.line({ ...(blankLine('serial', this.named(name)) as SerialLine), ...fields });
  }

  device(name: string, fields: Partial<Device> = {}): Device {
    const device: Device = { ...blankDevice(name), ...this.ids(), ...fields };
    this.document.devices.push(device);
    return device;
  }

  /** A controller that may ask and be asked. */
  controller(name: string, net: EthernetLine, fields: Partial<Device> = {}): Device {
    const device = this.device(name, { kind: 'controller', ...fields });
    this.port(device, net, { role: 'both' });
    return device;
  }

  /** Asks on the bus what it is asked from the net. */
  gateway(name: string, net: EthernetLine, bus: SerialLine, fields: Partial<Device> = {}): Device {
    const device = this.device(name, { kind: 'gateway', ...fields });
    this.port(device, net, {});
    this.master(device, bus);
    return device;
  }

  /** The one that asks on a bus. */
  master(device: Device, bus: SerialLine, fields: Partial<SerialPort> = {}): SerialPort {
    return this.put({ ...(this.blankPort(device, bus, true) as SerialPort), ...fields });
  }

  port(device: Device, line: EthernetLine, fields?: Partial<EthernetPort>): EthernetPort;
  port(device: Device, line: SerialLine, fields?: Partial<SerialPort>): SerialPort;
  port(device: Device, line: Line, fields: Partial<Port> = {}): Port {
    return this.put({ ...this.blankPort(device, line, false), ...fields } as Port);
  }

  point(device: Device, name: string, fields: Partial<Point> & Partial<Place> = {}): Point {
    const point: Point = { ...blankPoint({ ...this.ids(), deviceId: device.id }), name, ...fields };
    this.document.points.push(point);
    return point;
  }

  round(periodMs: number, fields: Partial<Round> = {}): Round {
    const round: Round = { ...this.named(`${periodMs} ms`), periodMs, priority: 5, phaseMs: 0, pauseMs: null, ...fields };
    this.document.rounds.push(round);
    return round;
  }

  /** Carried by Plain Envoy, unless it is said by whom. */
  route(source: Point, destination: Point, round: Round, fields: Partial<Route> = {}): Route {
    const ends = { sourceId: source.id, destinationId: destination.id, roundId: round.id };
    const route: Route = {
      ...this.named(`${source.name} to ${destination.name}`),
      note: '',
      ...ends,
      ...plainRoute,
      carry: 'registers',
      ...fields,
    };
    this.document.routes.push(route);
    return route;
  }

  private line<Kind extends Line>(line: Kind): Kind {
    this.document.lines.push(line);
    return line;
  }

  private blankPort(device: Device, line: Line, asks: boolean): Port {
    return blankPort(this.document, line, { id: this.nextId(), deviceId: device.id }, asks);
  }

  private put<Kind extends Port>(port: Kind): Kind {
    this.document.ports.push(port);
    return port;
  }

  private named(name: string) {
    return { ...this.ids(), name };
  }

  private ids() {
    return { id: this.nextId(), projectId: this.document.project.id };
  }
}
