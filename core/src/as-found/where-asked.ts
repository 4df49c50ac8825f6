import { formatSettings } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { wayTo } from '../plan/index.js';

/**
 * Where a device is asked, as the design says it: `10.40.8.21, TCP port 502, unit 1`, `unit 12 on Loft bus, 9600 8N1` or
 * `unit 31 through Kiln gateway at 10.40.8.40, TCP port 502`. Why nobody can ask it itself where it only asks, has no place on a
 * line, or is behind a converter.
 */
export function whereAsked(document: ProjectDocument, deviceId: string): Outcome<string> {
  const way = wayTo(document, deviceId);
  if (!way.ok) return way;
  const { asked, endpoint, unitId, front } = way.value;
  if (asked.id !== deviceId) return bad(`It is behind ${asked.name}, which is asked in its place.`);
  switch (endpoint.via) {
    case 'line':
      return good(`unit ${unitId} on ${endpoint.name}, ${formatSettings(endpoint.settings)}`);
    case 'ethernet': {
      const at = `${endpoint.ip}, TCP port ${endpoint.tcpPort}`;
      return good(front ? `unit ${unitId} through ${endpoint.name} at ${at}` : `${at}, unit ${unitId}`);
    }
    default:
      return bad(`It is heard on ${endpoint.name}, and has no registers that it could be asked for.`);
  }
}
