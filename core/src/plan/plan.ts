import type { Table } from '../address/index.js';
import type { ModbusFraming, SocketFraming } from '../frame/index.js';
import type { CarriedTelegram } from '../converter/index.js';
import type { CarriedStation } from '../stations/index.js';
import type { SerialSettings, PortSettings } from '../line/index.js';
import type { Point, Route } from '../model/index.js';

/** Every unit of a serial line (Modbus over serial line V1.02, 2.1); nobody answers it. */
export const BROADCAST_UNIT = 0;

/** What everyone uses: the screens show it, the engine runs it, the documents print it. */
export interface Plan {
  endpoints: Endpoint[];
  requests: PlannedRequest[];
  routes: PlannedRoute[];
}

/** Where questions go out: a device on Ethernet, the gateway in front of a serial line, or a serial line without one. */
export type Endpoint = {
  /** The id of the device that is dialled, or of the line. */
  id: string;
  name: string;
  /** Requests that may be open at a time: one where a serial line is behind it. */
  concurrent: number;
  /** The serial port of this machine that leads to the line behind it, for the real plant; null where none is bound. */
  bound: { path: string; framing: ModbusFraming; settings: SerialSettings; cutsEcho: boolean } | null;
} & (OverEthernet | OnLine | OverText | OverStation);

export interface OverEthernet {
  via: 'ethernet';
  /** As set on the device. */
  framing: SocketFraming;
  ip: string;
  tcpPort: number;
  /** Where its stand-in listens instead; null where it has none. */
  standInAddress: string | null;
}

/** Plain Envoy asks on the line itself, in the place of whoever asks there: by an adapter of this machine. */
export interface OnLine {
  via: 'line';
  framing: ModbusFraming;
  settings: SerialSettings;
}

/** Plain Envoy listens to the texts of a line itself, takes them apart, and has their values in registers of its own. */
export interface OverText {
  via: 'text';
  settings: PortSettings;
  telegrams: CarriedTelegram[];
  /** What leads to the line on the real plant: a serial port of this machine, or a serial server as address:port; null for nothing. */
  leads: string | null;
}

/** Plain Envoy is the other end of a telecontrol link, and has its points in registers of its own. */
export interface OverStation {
  via: 'station';
  station: CarriedStation;
  /** The place of the outstation among those on its line. */
  place: number;
}

/** One Modbus transaction, repeated each period. */
export interface PlannedRequest {
  /** The same for the same request of a later plan, so that counters and values live on. */
  id: string;
  kind: 'read' | 'write' | 'watch';
  /** Who makes it; null for Plain Envoy. */
  carrierId: string | null;
  /** It reaches the carrier's own memory, so it never goes over a line; on the bench it goes to the carrier's stand-in. */
  local: boolean;
  endpointId: string;
  deviceId: string;
  deviceName: string;
  unitId: number;
  functionCode: number;
  /** For a write: the read that comes along in the same transaction, by function 23. */
  also: { id: string; offset: number; count: number } | null;
  /** For such a read: the write that brings it along. */
  withId: string | null;
  /** Those that the device has, for when only a part of a write goes out. */
  functionCodes: readonly number[];
  table: Table;
  offset: number;
  count: number;
  roundId: string | null;
  periodMs: number;
  /** When it goes out first. */
  phaseMs: number;
  /** For a link of a chain: how long after the one before it; null where the clock releases it. */
  pauseMs: number | null;
  priority: number;
  /** The response delay of the device. */
  delayMs: number;
  timeoutMs: number;
  tries: number;
  /** Which points it fetches or sets, and where they start among its registers or bits. */
  points: { pointId: string; at: number; width: number }[];
  /** For a write to every unit of a serial line, which nobody confirms: how long it takes until the next may go out. Null for all others. */
  broadcast: { waitMs: number } | null;
  /**
   * For a write that owns only some bits of its registers, how the others are left alone: a mask write (function 22) for each
   * register, or the registers are read just before. Null where it owns them whole.
   */
  partial: 'mask' | 'read' | null;
  /** For a write: a register that is set just before it or just after it. */
  release: PlannedRelease | null;
}

export interface PlannedRelease {
  when: 'before' | 'after';
  functionCode: number;
  table: Table;
  offset: number;
  values: number[];
}

export interface PlannedRoute extends Pick<
  Route,
  'id' | 'name' | 'carry' | 'transforms' | 'carrierId' | 'trigger' | 'whileId' | 'onlyDifferent' | 'loss'
> {
  source: Point;
  destination: Point;
  readId: string;
  /** The reads that fetch the other points that it needs: bits that trigger, allow or choose. */
  alsoReadIds: string[];
  /** Those points. */
  others: Point[];
  writeId: string;
  /** The bit or word that says whether the value is good, and what writes it. */
  valid: { point: Point; writeId: string } | null;
  periodMs: number;
}
