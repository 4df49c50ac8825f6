import { isBitTable, tableNames } from '../address/index.js';
import { describeException, functionOf } from '../frame/index.js';
import { bestFit, type MapOf, pointAt } from '../library/index.js';
import { ProjectMaker, routeBetween } from '../making/index.js';
import type { EthernetLine, EthernetPort, SerialLine } from '../media/index.js';
import {
  blankProject,
  BY_ITS_MAP,
  type Device,
  freeName,
  type Point,
  pointWidth,
  type ProjectDocument,
  type Round,
} from '../model/index.js';
import { type Guess, guessAll } from './guesses.js';
import type { HeardRequest } from './requests.js';

/** What a recording was made into, in figures and sentences. */
export interface Proposal {
  document: ProjectDocument;
  remarks: string[];
}

const BROADCAST = 0;
const DIRECT = 255;
/** So many bits of one question are points, all of them; of more, those that moved or are set. */
const FEW_BITS = 32;
const PERIOD_NEAR = 0.05;
const played = { standIn: BY_ITS_MAP } as const;

/** A device that is kept, by which one that was heard may be named. */
export interface KeptMap extends MapOf {
  name: string;
}

/**
 * A project that asks as was heard: who asks, its devices with the registers that were used, and when each is asked. Where the map of a
 * kept device fits to what was heard of one, that one has its name, and its values are what the map says at their places.
 */
export function proposalOf(requests: readonly HeardRequest[], name: string, newId: () => string, kept: readonly KeptMap[] = []): Proposal {
  const plain = madeOf(requests, name, newId, new Map());
  if (kept.length === 0) return plain;
  const { devices, points } = plain.document;
  const fitting = devices.flatMap((device): [string, KeptMap][] => {
    const own = device.kind === 'field' ? points.filter(({ deviceId }) => deviceId === device.id) : [];
    const map = bestFit(kept, own);
    return map ? [[device.name, map]] : [];
  });
  return fitting.length ? madeOf(requests, name, newId, new Map(fitting)) : plain;
}

/** `maps`: of which kept device each is, by the name that it has while nothing is known of it. */
function madeOf(requests: readonly HeardRequest[], name: string, newId: () => string, maps: ReadonlyMap<string, KeptMap>): Proposal {
  const maker = new ProjectMaker(blankProject(newId(), name, ''), newId);
  const remarks: string[] = [];
  const own = requests.filter(({ unit, framing }) => unit !== BROADCAST || framing === 'tcp');
  const toAll = requests.length - own.length;
  if (toAll)
    remarks.push(`${toAll} question${toAll === 1 ? ' goes' : 's go'} to every unit at once, and ${toAll === 1 ? 'is' : 'are'} left out.`);
  const askers = [...new Set(own.flatMap(({ askedBy }) => askedBy ?? []))];
  if (askers.length > 1) remarks.push(`${askers.length} clients ask (${askers.join(', ')}); one controller stands for all of them.`);
  const plant = new Plant(maker, askers[0] ?? null, maps);
  for (const [endpointId, heard] of groups(own, ({ endpointId }) => endpointId)) {
    const byUnit = groups(heard, ({ unit }) => unit);
    const isSerial = heard[0]!.framing !== 'tcp';
    const bus = isSerial ? plant.serial() : byUnit.size > 1 ? plant.behind(endpointId) : null;
    for (const [unit, asked] of byUnit) {
      const device = bus ? plant.onBus(bus, unit, isSerial ? null : endpointId) : plant.direct(endpointId, unit);
      device.note = noteOf(asked);
      const codes = [...new Set(asked.map(({ functionCode }) => functionCode))].filter((code) => !device.functionCodes.includes(code));
      device.functionCodes.push(...codes);
      const usual = Math.max(0, ...asked.map(({ responseMs }) => responseMs?.usual ?? 0));
      if (usual) device.delayMs = Math.min(60_000, Math.round(usual));
      addPoints(plant, device, asked);
    }
  }
  return { document: maker.document, remarks: [...remarks, ...plant.named()] };
}

function addPoints(plant: Plant, device: Device, asked: readonly HeardRequest[]): void {
  const known = new Map<string, Point>();
  // What was read tells more than what was written; the fastest of several is what is wanted.
  const inOrder = [...asked].sort((a, b) => Number(a.writes) - Number(b.writes) || (a.periodMs ?? Infinity) - (b.periodMs ?? Infinity));
  const apart = new Set(asked.flatMap(({ span: { table, offset, count } }) => [`${table} ${offset}`, `${table} ${offset + count}`]));
  for (const heard of inOrder) {
    const { writes } = heard;
    const round = plant.roundOf(heard);
    for (const point of pointsIn(plant, device, heard, known, apart)) {
      if (writes) plant.written(device, point, round);
      else plant.read(device, point, round);
    }
  }
}

/** The points that a question reaches: those that are known already, and new ones where none is. */
function pointsIn(plant: Plant, device: Device, heard: HeardRequest, known: Map<string, Point>, apart: ReadonlySet<string>): Point[] {
  const { span, writes } = heard;
  const found = new Set<Point>();
  const guesses = wholeSpan(heard, apart);
  const at = (offset: number) => known.get(`${span.table} ${offset}`);
  const isWithin = ({ offset, ...point }: Point) => offset >= span.offset && offset + pointWidth(point) <= span.offset + span.count;
  for (const guess of guesses) {
    const offsets = Array.from({ length: isBitTable(span.table) ? 1 : guess.width }, (_, index) => span.offset + guess.at + index);
    const there = offsets.flatMap((offset) => at(offset) ?? []);
    if (there.length === 0) {
      const point = plant.point(device, span.table, offsets[0]!, guess, writes);
      for (const offset of offsets) known.set(`${span.table} ${offset}`, point);
      found.add(point);
    }
    for (const point of there) if (isWithin(point)) found.add(point);
  }
  return [...found];
}

/** What is in a span; its first and last register too where nothing is known of them, so that all of it is asked again. */
function wholeSpan({ span, samples }: HeardRequest, apart: ReadonlySet<string>): Guess[] {
  const open = (at: number): Guess => ({ at, width: 1, type: 'uint16', order: 'ABCD', why: 'it always held 0, or was not seen', sure: 0 });
  if (isBitTable(span.table)) {
    const told = Array.from({ length: span.count }, (_, at) => {
      const values = new Set(samples.map(({ values: bits }) => bits[at]));
      return {
        ...open(at),
        why: values.size > 1 ? 'it goes on and off' : `it always was ${values.has(1) ? 'on' : 'off'}`,
        isUsed: values.size > 1 || values.has(1),
      };
    });
    return span.count <= FEW_BITS ? told : told.filter(({ at, isUsed }) => isUsed || at === 0 || at === span.count - 1);
  }
  const guesses = guessAll(samples, (at) => apart.has(`${span.table} ${span.offset + at}`));
  const isCovered = (at: number) => guesses.some((guess) => at >= guess.at && at < guess.at + guess.width);
  const ends = [...new Set([0, span.count - 1])].filter((at) => !isCovered(at)).map(open);
  return [...guesses, ...ends].sort((a, b) => a.at - b.at);
}

/** How a device answered, in sentences. */
function noteOf(asked: readonly HeardRequest[]): string {
  const answered = asked.some((heard) => heard.answered > 0);
  const silent = asked.reduce((sum, heard) => sum + heard.silent, 0);
  const refusals = asked.flatMap(({ functionCode, span, refused }) =>
    [...refused].map(
      ([code, times]) =>
        `${functionOf(functionCode)?.name ?? `function ${functionCode}`} at offset ${span.offset} was refused ${times} time${times === 1 ? '' : 's'}: ${describeException(code)}`,
    ),
  );
  return [
    answered ? '' : 'It never answered in the recording.',
    answered && silent ? `${silent} question${silent === 1 ? '' : 's'} got no answer in the recording.` : '',
    ...refusals.slice(0, 5),
  ]
    .filter(Boolean)
    .join('\n')
    .slice(0, 2000);
}

/** The project while it is made: lines and devices as addresses are met, and the memory of the controller as it is filled. */
class Plant {
  private readonly nets = new Map<string, EthernetLine>();
  private readonly rounds = new Map<number, Round>();
  private controller: Device | null = null;
  private bus: SerialLine | null = null;
  private next = { holding: 0, coil: 0 };
  private readonly known = new Map<Device, { map: KeptMap; was: string }>();
  /** Points that have a route already, from them and to them. */
  private readonly carried = new Set<string>();
  private readonly driven = new Set<string>();

  constructor(
    private readonly maker: ProjectMaker,
    private readonly askedFrom: string | null,
    private readonly maps: ReadonlyMap<string, KeptMap>,
  ) {}

  /** Which devices go by a kept one, in a sentence each. */
  named(): string[] {
    return [...this.known].map(
      ([device, { map, was }]) => `${was} has the registers of “${map.name}” of the library, and is called ${device.name}.`,
    );
  }

  /** The same device by the name of what it is, where that is known. */
  private called(device: Device): Device {
    const map = this.maps.get(device.name);
    if (!map) return device;
    this.known.set(device, { map, was: device.name });
    const others = this.maker.document.devices.filter((other) => other !== device).map((other) => other.name);
    device.name = freeName(map.name.slice(0, 74), others);
    return device;
  }

  /** Behind an address at which several units answer. */
  behind(endpointId: string): SerialLine {
    const { net, fields } = this.at(endpointId);
    const bus = this.maker.bus(`Behind ${hostOf(endpointId)}`);
    const gateway = this.maker.gateway(`Gateway ${hostOf(endpointId)}`, net, bus, { ...played, timeoutMs: 500 });
    const port = this.maker.document.ports.find((own) => own.deviceId === gateway.id && own.kind === 'ethernet') as EthernetPort;
    Object.assign(port, fields);
    return bus;
  }

  /** The line on which was listened, with the controller as the one that asks. */
  serial(): SerialLine {
    if (this.bus) return this.bus;
    this.bus = this.maker.bus('Line');
    this.maker.master(this.asks(this.net('192.168.0.1')), this.bus);
    return this.bus;
  }

  onBus(bus: SerialLine, unit: number, endpointId: string | null): Device {
    const device = this.maker.device(endpointId ? `Unit ${unit} behind ${hostOf(endpointId)}` : `Unit ${unit}`, {
      ...played,
      functionCodes: [],
    });
    this.maker.port(device, bus, { unitId: unit });
    return this.called(device);
  }

  direct(endpointId: string, unit: number): Device {
    const { net, fields } = this.at(endpointId);
    const device = this.maker.device(`Device ${endpointId.replace(/:502$/, '')}`, { ...played, functionCodes: [] });
    this.maker.port(device, net, { ...fields, unitId: unit === BROADCAST ? DIRECT : unit });
    return this.called(device);
  }

  point(device: Device, table: Point['table'], offset: number, guess: Guess, writes: boolean): Point {
    const isBit = isBitTable(table);
    const heard = {
      table,
      offset,
      type: isBit ? ('bit' as const) : guess.type,
      order: isBit ? ('ABCD' as const) : guess.order,
      length: !isBit && (guess.type === 'string' || guess.type === 'bits') ? guess.width : null,
      access: writes ? ('write' as const) : ('read' as const),
      note: `As it was heard: ${guess.why}.`,
    };
    const map = this.known.get(device)?.map;
    const told = map && pointAt(map, { ...heard, bit: null });
    if (!told) return this.maker.point(device, `${capital(tableNames[table].one)} ${offset}`, heard);
    const { setting, name, ...meant } = told;
    return this.maker.point(device, name, {
      ...heard,
      ...meant,
      access: heard.access,
      note: [told.note, heard.note].filter(Boolean).join('\n'),
    });
  }

  /** Carried from the device to a place of its own in the controller. */
  read(device: Device, point: Point, round: Round): void {
    const isAgain = this.carried.has(point.id);
    this.carried.add(point.id);
    const copy = this.inController(device, point, isAgain ? ` every ${round.periodMs} ms` : '');
    this.carry(point, copy, round, copy.name);
  }

  written(device: Device, point: Point, round: Round): void {
    if (point.access === 'read') point.access = 'readWrite';
    const isAgain = this.driven.has(point.id);
    this.driven.add(point.id);
    const wanted = this.inController(device, point, isAgain ? ` wanted every ${round.periodMs} ms` : ' wanted');
    this.carry(wanted, point, round, wanted.name);
  }

  /** The round of a period: a round figure where one is near. */
  roundOf({ periodMs, writes }: HeardRequest): Round {
    const period = periodMs === null ? 10_000 : nearFigure(periodMs);
    // What is written now and then is written when it changes.
    const known =
      this.rounds.get(period) ?? this.maker.round(period, { name: writes && periodMs === null ? 'Seen once' : `Every ${period} ms` });
    this.rounds.set(period, known);
    return known;
  }

  private carry(from: Point, to: Point, { id: roundId }: Round, name: string): void {
    const { maker, controller } = this;
    maker.document.routes.push({ ...routeBetween(from, to, { id: maker.nextId(), roundId }, controller!.id), name });
  }

  private inController(device: Device, point: Point, more = ''): Point {
    const isBit = point.type === 'bit';
    const table = isBit ? 'coil' : 'holding';
    const offset = this.next[table];
    this.next[table] += pointWidth(point);
    const { type, length } = point;
    return this.maker.point(this.controller!, `${device.name} ${point.name}${more}`.slice(0, 80), { table, offset, type, length });
  }

  private at(endpointId: string): { net: EthernetLine; fields: Partial<EthernetPort> } {
    const host = hostOf(endpointId);
    const net = this.net(host);
    this.asks(net);
    const tcpPort = Number(/:(\d+)$/.exec(endpointId)?.[1] ?? 502);
    return { net, fields: isIpv4(host) ? { ip: host, tcpPort, leased: false } : { tcpPort } };
  }

  private net(host: string): EthernetLine {
    const network = isIpv4(host) ? `${host.split('.').slice(0, 3).join('.')}.0/24` : '192.168.0.0/24';
    const known = this.nets.get(network) ?? this.maker.net(this.nets.size ? `Network ${network}` : 'Network', { network });
    this.nets.set(network, known);
    return known;
  }

  /** The controller, with a port on this line. */
  private asks(net: EthernetLine): Device {
    const { maker, askedFrom } = this;
    const isOwn = askedFrom !== null && isIpv4(askedFrom) && net.network.startsWith(`${askedFrom.split('.').slice(0, 3).join('.')}.`);
    const address = isOwn ? { ip: askedFrom } : {};
    if (!this.controller) {
      const note = askedFrom && !isOwn ? `In the recording it asks from ${askedFrom}.` : '';
      this.controller = maker.controller('Who asks', net, { ...played, note });
      const port = maker.document.ports.at(-1) as EthernetPort;
      Object.assign(port, address, isOwn ? {} : { ip: freeIp(net) });
    } else if (!maker.document.ports.some(({ deviceId, lineId }) => deviceId === this.controller!.id && lineId === net.id)) {
      maker.port(this.controller, net, { role: 'both', ...(isOwn ? address : { ip: freeIp(net) }) });
    }
    return this.controller;
  }
}

/** The last address of a network is seldom that of a device. */
function freeIp({ network }: EthernetLine): string {
  return network.replace(/0\/24$/, '254');
}

function nearFigure(periodMs: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(1, periodMs)));
  const figures = [1, 1.5, 2, 2.5, 3, 4, 5, 6, 7.5, 8, 10].map((figure) => figure * power);
  const near = figures.find((figure) => Math.abs(periodMs / figure - 1) <= PERIOD_NEAR);
  return Math.max(10, Math.round(near ?? periodMs));
}

function hostOf(endpointId: string): string {
  return endpointId.replace(/:\d+$/, '');
}

function isIpv4(host: string): boolean {
  return /^\d+\.\d+\.\d+\.\d+$/.test(host);
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function groups<Item, Key>(items: readonly Item[], keyOf: (item: Item) => Key): Map<Key, Item[]> {
  const found = new Map<Key, Item[]>();
  for (const item of items) found.set(keyOf(item), [...(found.get(keyOf(item)) ?? []), item]);
  return found;
}
