import { type Plan } from '@plain-envoy/core/plan';
import { type Peer } from '@plain-envoy/core/trace';

/** Where the endpoints of a plan are in the plant; a serial line has no address, and each stands as one of this machine. */
export function peersOf({ endpoints }: Plan): (endpointId: string) => Peer | null {
  const peers = new Map(
    endpoints.map((endpoint, index): [string, Peer] => [
      endpoint.id,
      endpoint.via === 'line' ? { ip: `127.0.1.${(index % 240) + 1}`, port: 502 } : { ip: endpoint.ip, port: endpoint.tcpPort },
    ]),
  );
  return (id) => peers.get(id) ?? null;
}
