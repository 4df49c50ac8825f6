import { stationsOn } from '@plain-envoy/core/stations';
import { telecontrolPort } from '@plain-envoy/core/media';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { type Endpoint, wayTo } from '@plain-envoy/core/plan';
import { pairOf, type Peer } from '@plain-envoy/core/trace';

/**
 * Where the endpoints of a project are in the plant, also of devices that no route reaches: errands and people ask those too. A
 * serial line has no address, and each stands as one of this machine.
 */
export function peersOf(document: ProjectDocument): (endpointId: string) => Peer | null {
  const endpoints = new Map<string, Endpoint>();
  for (const { id } of document.devices) {
    const way = wayTo(document, id);
    if (way.ok) endpoints.set(way.value.endpoint.id, way.value.endpoint);
  }
  const peers = new Map(
    [...endpoints.values()].map((endpoint, index): [string, Peer] => [
      endpoint.id,
      endpoint.via !== 'ethernet' ? { ip: `127.0.1.${(index % 240) + 1}`, port: 502 } : { ip: endpoint.ip, port: endpoint.tcpPort },
    ]),
  );
  for (const line of document.lines)
    for (const [index, { outstation, line: carried }] of stationsOn(document, line.id).entries()) {
      const ip = outstation?.ip || `127.0.2.${(peers.size % 240) + 1}`;
      const peer = { ip, port: telecontrolPort(carried)!, ...(outstation ? { portId: outstation.portId } : {}) };
      peers.set(pairOf({ endpointId: line.id, unit: index + 1 }), peer);
    }
  return (id) => peers.get(id) ?? null;
}
