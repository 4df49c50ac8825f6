import { functionOf } from '../frame/index.js';
import { silentTimeMs } from '../line/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import type { PlannedRequest } from '../plan/index.js';
import { requestTimeMs, serialLinesOf } from '../occupancy/index.js';

/** What a request over Ethernet takes besides the device’s own delay: frames there and back, and the two ends’ handling of them. */
const NETWORK_MS = 0.6;

/** How long a request takes, ms. */
export interface Duration {
  /** When it is answered at once: all its transactions. */
  answeredMs: number;
  /** One try that stays without an answer. */
  silentMs: number;
  tries: number;
  /** The part of its answers that is lost on the way, 0 to 1. */
  loss: number;
}

/** Durations of the requests of a plan, by their ids; from the line’s settings, the bytes, and the delays and timeouts of devices. */
export function durationsOf(document: ProjectDocument, requests: readonly PlannedRequest[]): Map<string, Duration> {
  const devices = new Map(document.devices.map((device) => [device.id, device]));
  const lines = serialLinesOf(document);
  return new Map(
    requests.map((request) => {
      const device = devices.get(request.deviceId)!;
      // A line that is asked on itself is no device.
      const gateway = request.endpointId === request.deviceId ? null : (devices.get(request.endpointId) ?? null);
      const line = lines.get(request.deviceId);
      const many = transactions(request);
      const onLine = line ? requestTimeMs(line, request) : many * request.delayMs;
      const atGateway = line && gateway ? gateway.delayMs + silentTimeMs(line, line.framing, gateway.timeoutMs) + NETWORK_MS : Infinity;
      return [
        request.id,
        {
          answeredMs: onLine + many * ((line && !gateway ? 0 : NETWORK_MS) + (gateway?.delayMs ?? 0)),
          silentMs: Math.min(request.timeoutMs, atGateway),
          tries: request.tries,
          // What nobody answers cannot stay without an answer.
          loss: request.broadcast ? 0 : lossOf(device) + (gateway ? lossOf(gateway) : 0),
        },
      ];
    }),
  );
}

function lossOf({ lossPercent }: Device): number {
  return lossPercent / 100;
}

/** One request of the plan can be several on the wire: a mask write for each register, a read before, a release; or none, where it comes along with a write. */
function transactions({ partial, count, release, functionCode, withId }: PlannedRequest): number {
  if (withId !== null) return 0;
  const own = partial === 'mask' && functionOf(functionCode)?.kind === 'mask' ? count : 1;
  return own + (partial === 'read' ? 1 : 0) + (release ? 1 : 0);
}
