import { type Line, mediumOf, Port } from '../media/index.js';
import { type Change, joiningPort, type ProjectDocument } from '../model/index.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';

/**
 * The change that moves a port to the end of another line of its kind: set as it was, with the next place on the line where its own
 * is taken there.
 */
export function movePort(document: ProjectDocument, port: Port, lineId: string): Outcome<Change> {
  const line = document.lines.find(({ id }) => id === lineId);
  if (!line || line.id === port.lineId) return bad('Choose another line.', 'lineId');
  if (line.kind !== port.kind)
    return bad(`${line.name} is a line of another kind. Hang the device on it, and take this port off its line.`, 'lineId');
  const asks = 'unitId' in port && port.unitId === null;
  const others = { ...document, ports: document.ports.filter(({ id }) => id !== port.id) };
  const joined = joiningPort(others, line, port, asks);
  if (!joined.ok) return joined;
  const { ofPlace } = mediumOf(line.kind);
  const place = isFree(others, line, port, ofPlace) ? {} : fieldsOf(joined.value, ofPlace);
  const { position } = joined.value;
  const moved = Port.safeParse({ ...port, ...place, lineId: line.id, position });
  if (!moved.success) return { ok: false, problem: schemaProblem(moved.error) };
  return good({ entity: 'port', id: port.id, before: port, after: moved.data });
}

/** Whether the place that a port has, by its unit ID or its address, is nobody else's on this line. */
function isFree({ ports }: ProjectDocument, { id }: Line, port: Port, ofPlace: readonly string[]): boolean {
  const [first] = ofPlace;
  const own = fieldsOf(port, ofPlace)[first ?? ''];
  return !ports.some((other) => other.lineId === id && fieldsOf(other, ofPlace)[first ?? ''] === own && own !== null);
}

function fieldsOf(port: Port, keys: readonly string[]): Record<string, unknown> {
  return Object.fromEntries(keys.map((key) => [key, (port as Record<string, unknown>)[key]]));
}
