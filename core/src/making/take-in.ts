import { READ_DEVICE_IDENTIFICATION } from '../codec/index.js';
import { type Identification, isSameProduct } from '../identity/index.js';
import type { Line, Port } from '../media/index.js';
import {
  addDevices,
  applyChanges,
  blankDevice,
  blankPort,
  BY_ITS_MAP,
  type Change,
  type Device,
  type DeviceTemplate,
  freeName,
  type ProjectDocument,
} from '../model/index.js';
import { type Outcome, good } from '../outcome/index.js';

/** What answered at a place where nothing is designed. */
export interface FoundThere {
  place: { unitId: number } | { ip: string; tcpPort: number };
  name: string;
  /** How it called itself; empty where it did not. */
  identity: string;
  /** The same by its texts; null where it has none by name. */
  identification: Identification | null;
  /** The device of the library that it is like. */
  like: { template: DeviceTemplate; of: NonNullable<Device['fromLibrary']> } | null;
}

/** The changes that make devices of the project of what was found on a line, each with a port as it was found. */
export function takeIn(document: ProjectDocument, line: Line, found: readonly FoundThere[], newId: () => string): Outcome<Change[]> {
  const all: Change[] = [];
  let now = document;
  for (const there of found) {
    const name = freeName(
      there.name,
      now.devices.map((device) => device.name),
    );
    const made = there.like ? asTemplate(now, line, there.like, name, newId) : good(asBlank(now, line, name, newId));
    if (!made.ok) return made;
    const changes = made.value.map((change) => placed(change, there));
    all.push(...changes);
    now = applyChanges(now, changes);
  }
  return good(all);
}

/** Of devices that are kept, the one of the same product; or else the one whose name is in what was answered, or that has it in its note. */
export function likeOf<Kept extends { name: string; note: string; identification: Identification }>(
  kept: readonly Kept[],
  identity: string,
  identification: Identification | null,
): Kept | null {
  const same = identification && kept.find((row) => isSameProduct(row.identification, identification));
  if (same) return same;
  const said = identity.trim().toLowerCase();
  if (said.length < 3) return null;
  const isLike = ({ name, note }: Kept) =>
    (name.length >= 3 && said.includes(name.toLowerCase())) ||
    note
      .toLowerCase()
      .split('\n')
      .some((line) => line.trim() === said);
  return [...kept].sort((a, b) => b.name.length - a.name.length).find(isLike) ?? null;
}

function asTemplate(
  document: ProjectDocument,
  line: Line,
  { template, of }: NonNullable<FoundThere['like']>,
  name: string,
  newId: () => string,
): Outcome<Change[]> {
  const made = addDevices(document, { template, name, lineId: line.id, count: 1, fromLibrary: of, newId });
  if (!made.ok) return made;
  // It answered at the settings of the line, whatever those of its like are.
  return good(made.value.map((change) => (change.entity === 'port' ? { ...change, after: asFound(document, line, change) } : change)));
}

function asFound(document: ProjectDocument, line: Line, { id, after }: Change): Port {
  return blankPort(document, line, { id, deviceId: (after as Port).deviceId });
}

function asBlank(document: ProjectDocument, line: Line, name: string, newId: () => string): Change[] {
  const device: Device = { ...blankDevice(name), id: newId(), projectId: document.project.id, standIn: BY_ITS_MAP };
  const port = blankPort(document, line, { id: newId(), deviceId: device.id });
  return [
    { entity: 'device', id: device.id, before: null, after: device },
    { entity: 'port', id: port.id, before: null, after: port },
  ];
}

function placed(change: Change, { place, identity, identification, like }: FoundThere): Change {
  if (change.entity === 'port') return { ...change, after: { ...(change.after as Port), ...place } as Port };
  if (change.entity !== 'device') return change;
  const made = change.after as Device;
  const device = identification
    ? { ...made, identification, functionCodes: [...new Set([...made.functionCodes, READ_DEVICE_IDENTIFICATION])] }
    : made;
  return { ...change, after: like || !identity ? device : { ...device, note: identity } };
}
