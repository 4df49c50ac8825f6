import type { Table } from '../address/index.js';
import type { Carry, Point } from '../model/index.js';

/** What everyone uses: the screens show it, the engine runs it, the documents print it. */
export interface Plan {
  endpoints: Endpoint[];
  requests: PlannedRequest[];
  routes: PlannedRoute[];
}

/** Where a connection is opened: a device on Ethernet, or the gateway in front of a serial line. */
export interface Endpoint {
  /** The id of the device that is dialled. */
  id: string;
  name: string;
  /** As set on the device. */
  framing: 'tcp' | 'rtu';
  ip: string;
  tcpPort: number;
  /** Where its stand-in listens instead; null where it has none. */
  standInAddress: string | null;
  /** Requests that may be open at a time: one where a serial line is behind it. */
  concurrent: number;
}

/** One Modbus transaction, repeated each period. */
export interface PlannedRequest {
  /** The same for the same request of a later plan, so that counters and values live on. */
  id: string;
  kind: 'read' | 'write' | 'watch';
  endpointId: string;
  deviceId: string;
  deviceName: string;
  unitId: number;
  functionCode: number;
  table: Table;
  offset: number;
  count: number;
  roundId: string | null;
  periodMs: number;
  priority: number;
  timeoutMs: number;
  tries: number;
  /** Which points it fetches or sets, and where they start among its registers or bits. */
  points: { pointId: string; at: number; width: number }[];
}

export interface PlannedRoute {
  id: string;
  source: Point;
  destination: Point;
  carry: Carry;
  readId: string;
  writeId: string;
  periodMs: number;
}
