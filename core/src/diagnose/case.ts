import { GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '../frame/index.js';
import type { Port } from '../media/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import { frontOf, type PlannedRequest } from '../plan/index.js';
import type { Counters, LateOnLine } from '../feed/index.js';
import type { Finding } from '../findings/index.js';
import type { CheckId } from '../checks/index.js';

/** One thing that may be the reason, with what speaks for it and where it is mended. */
export interface Cause {
  cause: string;
  sentence: string;
  evidence: string;
  /** Where it is mended. */
  at: { entity: 'device' | 'port' | 'line'; id: string };
}

/** What the bench has seen so far. */
export interface Seen {
  device(id: string): Counters | undefined;
  request(id: string): Counters | undefined;
  /** What was heard on the line behind a gateway, of a stand-in: a real gateway tells nobody. Left out where that is not known. */
  onLine?(deviceId: string): LateOnLine | null;
}

/** A device whose tries are looked at, with all that may speak for one cause or another. */
export interface Case {
  document: ProjectDocument;
  device: Device;
  port: Port | null;
  /** The gateway in front of its serial line. */
  gateway: Device | null;
  counters: Counters;
  tries: Tries;
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
  silent: number;
  damaged: number;
  unconnected: number;
  /** By exception code, all but those by which a gateway tells of silence. */
  refused: Map<number, number>;
  noPath: number;
}

/** A cause with how much speaks for it; the highest comes first. */
export type Weighed = Cause & { weight: number };

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
  return { document, device, port, gateway, counters, tries: triesOf(counters), requests, findings, neighbours, seen };
}

/** So many tries in a row without an answer, and only they count: what was well before them says nothing of now. */
export const STREAK = 5;

function triesOf(counters: Counters): Tries {
  const lastWell = counters.recent.lastIndexOf('answered');
  const isStreak = counters.recent.length - lastWell > STREAK;
  const recent = isStreak ? counters.recent.slice(lastWell + 1) : counters.recent;
  const count = (end: string) => recent.filter((row) => row === end).length;
  const refused = new Map<number, number>();
  for (const end of recent) {
    const code = typeof end === 'number' ? end : null;
    if (code !== null && code !== GATEWAY_TARGET_FAILED && code !== GATEWAY_PATH_UNAVAILABLE)
      refused.set(code, (refused.get(code) ?? 0) + 1);
  }
  const byGateway = recent.filter((end) => end === GATEWAY_TARGET_FAILED).length;
  const noPath = recent.filter((end) => end === GATEWAY_PATH_UNAVAILABLE).length;
  return {
    all: recent.length,
    answered: count('answered'),
    silent: count('no answer') + byGateway,
    damaged: count('damaged'),
    unconnected: count('not connected'),
    refused,
    noPath,
  };
}

export function atPort({ port, device }: Case): Cause['at'] {
  return port ? { entity: 'port', id: port.id } : { entity: 'device', id: device.id };
}

/** What a finding at one of these places already says. */
export function found(of: Case, ...checks: CheckId[]): Finding | undefined {
  return of.findings.find(
    ({ check, at }) => (checks as readonly string[]).includes(check) && (at.id === of.port?.id || at.id === of.device.id),
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
