import type { Failure } from '../failure/index.js';
import { groupOf } from '../failure/index.js';
import { GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED, isOfGateway } from '../frame/index.js';
import type { EthernetPort, Port } from '../media/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import { frontOf, type PlannedRequest } from '../plan/index.js';
import type { Counters, HeardOnLine, LateOnLine } from '../feed/index.js';
import type { Finding } from '../findings/index.js';
import type { CheckId } from '../checks/index.js';

/** Where something is mended. */
export interface Place {
  entity: 'device' | 'port' | 'line' | 'telegram' | 'frame';
  id: string;
}

/** What the bench has seen so far. */
export interface Seen {
  device(id: string): Counters | undefined;
  request(id: string): Counters | undefined;
  /** What was heard on the line behind a gateway, of a stand-in: a real gateway tells nobody. Left out where that is not known. */
  onLine?(deviceId: string): LateOnLine | null;
  heardOnLine?(deviceId: string): HeardOnLine | null;
}

/** A device whose tries are looked at, with all that may speak for one cause or another. */
export interface Case {
  document: ProjectDocument;
  device: Device;
  port: Port | null;
  /** The gateway in front of its serial line. */
  gateway: Device | null;
  /**
   * Who shows the trouble, and where: a device on Ethernet, a gateway whose own connection is the matter, or a device on a serial
   * line, behind its gateway or asked there by ourselves.
   */
  subject: Device;
  medium: 'ethernet' | 'line';
  counters: Counters;
  tries: Tries;
  /** What came in place of a sound answer, here or at its gateway on stand-ins. */
  damage: { failure: Failure; heard: HeardOnLine | null } | null;
  requests: readonly PlannedRequest[];
  findings: readonly Finding[];
  /** The other devices on its serial line, with how their last tries ended. */
  neighbours: readonly { device: Device; tries: Tries }[];
  seen: Seen;
}

/** How its last tries ended. */
export interface Tries {
  all: number;
  answered: number;
  /** Nothing came. */
  silent: number;
  /** Its gateway says that nothing sound came (exception 11). */
  told: number;
  damaged: number;
  unconnected: number;
  /** By exception code, all but those by which a gateway tells of silence. */
  refused: Map<number, number>;
  noPath: number;
}

export function caseOf(
  document: ProjectDocument,
  device: Device,
  counters: Counters,
  requests: readonly PlannedRequest[],
  findings: readonly Finding[],
  seen: Seen,
  asked: ReadonlyMap<string, unknown>,
): Case {
  const ports = document.ports.filter(({ deviceId }) => deviceId === device.id);
  const port = ports.find(({ kind }) => kind === 'ethernet') ?? ports.find(({ kind }) => kind === 'serial') ?? null;
  const front = port?.kind === 'serial' ? frontOf(document, port.lineId) : null;
  const others = port?.kind === 'serial' ? document.ports.filter((row) => row.lineId === port.lineId && row.deviceId !== device.id) : [];
  const neighbours = others.flatMap(({ deviceId }) => {
    const row = document.devices.find(({ id }) => id === deviceId);
    const own = seen.device(deviceId);
    return row && own && asked.has(deviceId) ? [{ device: row, tries: triesOf(own) }] : [];
  });
  const gateway = document.devices.find(({ id }) => id === front?.device.id) ?? null;
  const tries = triesOf(counters);
  // What a gateway says of its line comes as an exception; anything else went wrong between us and the gateway.
  const isGatewayItself = gateway !== null && tries.told === 0 && (tries.silent > 0 || tries.damaged > 0 || tries.unconnected > 0);
  const isOnEthernet = port?.kind === 'ethernet' || isGatewayItself;
  const heard = tries.told > 0 ? freshly(seen.heardOnLine?.(device.id) ?? null) : null;
  const own = tries.damaged > 0 && counters.lastDamage ? counters.lastDamage : null;
  const damage = own ? { failure: own, heard: null } : heard ? { failure: heard.failure, heard } : null;
  return {
    ...{ document, device, port, gateway, counters, tries, damage, requests, findings, neighbours, seen },
    subject: isGatewayItself ? gateway : device,
    medium: isOnEthernet ? 'ethernet' : 'line',
  };
}

function freshly(heard: HeardOnLine | null): HeardOnLine | null {
  return heard && groupOf(heard.failure) === 'damaged' && heard.soundSince < STREAK ? heard : null;
}

/** So many tries in a row without an answer, and only they count: what was well before them says nothing of now. */
export const STREAK = 5;

function triesOf(counters: Counters): Tries {
  const lastWell = counters.recent.lastIndexOf('answered');
  const isStreak = counters.recent.length - lastWell > STREAK;
  const recent = isStreak ? counters.recent.slice(lastWell + 1) : counters.recent;
  const count = (end: string | number) => recent.filter((row) => row === end).length;
  const refused = new Map<number, number>();
  for (const end of recent) {
    const code = typeof end === 'number' ? end : null;
    if (code !== null && !isOfGateway(code)) refused.set(code, (refused.get(code) ?? 0) + 1);
  }
  return {
    all: recent.length,
    answered: count('answered'),
    silent: count('no answer'),
    told: count(GATEWAY_TARGET_FAILED),
    damaged: count('damaged'),
    unconnected: count('not connected'),
    refused,
    noPath: count(GATEWAY_PATH_UNAVAILABLE),
  };
}

/** The port of the one that shows the trouble. */
export function portOf({ document, subject, medium }: Pick<Case, 'document' | 'subject' | 'medium'>): Port | null {
  const own = document.ports.filter(({ deviceId }) => deviceId === subject.id);
  return own.find(({ kind }) => kind === (medium === 'ethernet' ? 'ethernet' : 'serial')) ?? own[0] ?? null;
}

export function atPort(of: Case): Place {
  const port = portOf(of);
  return port ? { entity: 'port', id: port.id } : { entity: 'device', id: of.subject.id };
}

export function ethernetPortOf(of: Case): EthernetPort | null {
  const port = portOf(of);
  return port?.kind === 'ethernet' ? port : null;
}

/** What a finding at one of these places already says. */
export function found(of: Case, ...checks: CheckId[]): Finding | undefined {
  const places = [of.device.id, of.subject.id, of.port?.id, portOf(of)?.id];
  return of.findings.find(
    ({ check, at, about }) => (checks as readonly string[]).includes(check) && [at.id, ...(about ?? [])].some((id) => places.includes(id)),
  );
}

/** Another device on the line with the same unit ID. */
export function duplicateUnitOf({ document, port }: Case): string | null {
  if (port?.kind !== 'serial' || port.unitId === null) return null;
  const other = document.ports.find(
    (row) => row.kind === 'serial' && row.lineId === port.lineId && row.unitId === port.unitId && row.id !== port.id,
  );
  return document.devices.find(({ id }) => id === other?.deviceId)?.name ?? null;
}

/** Another device with the same address on the same network. */
export function duplicateAddressOf(of: Case): string | null {
  const own = ethernetPortOf(of);
  const other =
    own && of.document.ports.find((row) => row.kind === 'ethernet' && row.id !== own.id && row.ip === own.ip && row.lineId === own.lineId);
  return of.document.devices.find(({ id }) => id === other?.deviceId)?.name ?? null;
}
