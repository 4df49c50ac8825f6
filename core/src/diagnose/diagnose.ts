import { tableNames } from '../address/index.js';
import { type CheckId } from '../checks/index.js';
import { sentenceOf } from '../failure/index.js';
import type { Counters } from '../feed/index.js';
import type { Finding } from '../findings/index.js';
import { GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '../frame/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import { frontOf, type Plan, type PlannedRequest } from '../plan/index.js';
import { type EthernetPort, type Port, type SerialPort } from '../media/index.js';

/** One thing that may be the reason, with what speaks for it and where it is mended. */
export interface Cause {
  cause: string;
  sentence: string;
  evidence: string;
  /** Where it is mended. */
  at: { entity: 'device' | 'port' | 'line'; id: string };
}

/** Why a device does not do what it should, the most probable reason first. */
export interface Diagnosis {
  deviceId: string;
  name: string;
  /** What is seen: `18 of its last 20 answers did not come`. */
  seen: string;
  causes: Cause[];
}

/** What the bench has seen so far. */
export interface Seen {
  device(id: string): Counters | undefined;
  request(id: string): Counters | undefined;
}

interface Case {
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

interface Tries {
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
type Weighed = Cause & { weight: number };

const ILLEGAL_ADDRESS = 2;

/** So many times as long as stated, and a device is called slow. */
const SLOW = 3;

/** Looks at every device whose last tries did not all end well, or that is slower than stated. */
export function diagnose(document: ProjectDocument, plan: Plan, findings: readonly Finding[], seen: Seen): Diagnosis[] {
  const asked = new Map<string, PlannedRequest[]>();
  for (const request of plan.requests) {
    const known = asked.get(request.deviceId);
    if (known) known.push(request);
    else asked.set(request.deviceId, [request]);
  }
  return [...asked].flatMap(([deviceId, requests]): Diagnosis[] => {
    const counters = seen.device(deviceId);
    const device = document.devices.find(({ id }) => id === deviceId);
    if (!counters || !device || counters.recent.length === 0) return [];
    const of = caseOf(document, device, counters, requests, findings, seen, asked);
    const causes = causesOf(of).sort((a, b) => b.weight - a.weight);
    const text = seenText(of);
    return causes.length ? [{ deviceId, name: device.name, seen: text, causes: causes.map(({ weight: _, ...cause }) => cause) }] : [];
  });
}

function caseOf(
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
const STREAK = 5;

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

function causesOf(of: Case): Weighed[] {
  const { tries } = of;
  return [
    ...(tries.unconnected ? notConnected(of) : []),
    ...(tries.noPath ? noPath(of) : []),
    ...(tries.silent ? silence(of) : []),
    ...(tries.damaged ? damage(of) : []),
    ...(tries.refused.size ? refusals(of) : []),
    ...slowness(of),
    ...standstill(of),
  ];
}

function seenText({ tries, counters }: Case): string {
  const parts = [
    tries.unconnected && `${tries.unconnected} without a connection`,
    tries.silent && `${tries.silent} without an answer`,
    tries.damaged && `${tries.damaged} with a damaged answer`,
    tries.noPath && `${tries.noPath} with no way there`,
    ...[...tries.refused].map(([code, count]) => `${count} refused with exception ${code}`),
  ].filter(Boolean);
  if (parts.length === 0) return `It answers, in ${Math.round(counters.meanMs ?? 0)} ms.`;
  return `Of its last ${tries.all} tries ${parts.join(', ')}.`;
}

function atPort({ port, device }: Case): Cause['at'] {
  return port ? { entity: 'port', id: port.id } : { entity: 'device', id: device.id };
}

/** What a finding at one of these places already says. */
function found(of: Case, ...checks: CheckId[]): Finding | undefined {
  return of.findings.find(
    ({ check, at }) => (checks as readonly string[]).includes(check) && (at.id === of.port?.id || at.id === of.device.id),
  );
}

function notConnected(of: Case): Weighed[] {
  const { device, port, counters, gateway } = of;
  const why = counters.lastError ?? '';
  if (port?.kind === 'serial' && !gateway) return [wayToLine(of, port.lineId)];
  const causes: Weighed[] = [];
  const limit = (port?.kind === 'ethernet' ? port : null) as EthernetPort | null;
  const through = gateway ? gateway.name : device.name;
  const refuses = counters.lastFailure?.code === 'refused-connection';
  if (limit && (counters.lastFailure?.code === 'closed-by-peer' || counters.lastFailure?.code === 'closed-at-once'))
    causes.push({
      weight: 60,
      cause: 'connections',
      sentence: `${device.name} serves ${limit.connections} connections at a time and closes further ones.`,
      evidence: why,
      at: { entity: 'port', id: limit.id },
    });
  causes.push({
    weight: refuses ? 70 : 50,
    cause: refuses ? 'refused' : 'unreachable',
    sentence: refuses
      ? `${through} is there, and nothing listens on its TCP port: its server is switched off, or the port is another.`
      : `${through} cannot be reached: it is off, unplugged, or its address is another.`,
    evidence: why,
    at: atPort(of),
  });
  return causes;
}

/** Nothing can go out on the line itself. */
function wayToLine({ document, counters }: Case, lineId: string): Weighed {
  const line = document.lines.find(({ id }) => id === lineId)?.name ?? 'Its line';
  return {
    weight: 70,
    cause: 'way-to-line',
    sentence: `${line} has no gateway, and the adapter of this machine that leads to it cannot be used: it is unplugged, taken by another program, or none is named.`,
    evidence: counters.lastError ?? '',
    at: { entity: 'line', id: lineId },
  };
}

function noPath(of: Case): Weighed[] {
  const { device, gateway } = of;
  const at: Cause['at'] = gateway ? { entity: 'device', id: gateway.id } : atPort(of);
  const finding = found(of, 'unit-not-forwarded');
  return [
    {
      weight: 90,
      cause: 'gateway-unit',
      sentence: `${gateway?.name ?? 'The gateway'} does not pass the unit ID of ${device.name} on.`,
      evidence: finding?.message ?? `It answers exception ${GATEWAY_PATH_UNAVAILABLE}, which says that it has no way to this unit.`,
      at,
    },
  ];
}

function silence(of: Case): Weighed[] {
  const { device, port, gateway, tries, neighbours, counters } = of;
  const causes: Weighed[] = [];
  const isAlways = tries.answered === 0;
  const add = (weight: number, cause: string, sentence: string, evidence: string, at: Cause['at'] = atPort(of)) =>
    causes.push({ weight, cause, sentence, evidence, at });
  const settings = found(of, 'settings-differ');
  if (settings) add(isAlways ? 95 : 40, 'settings', `${device.name} is set otherwise than its line.`, settings.message);
  const duplicate = duplicateUnitOf(of);
  if (duplicate) {
    const evidence = `${device.name} and ${duplicate} both have unit ID ${(port as SerialPort).unitId} on this line.`;
    add(94, 'unit-twice', `${duplicate} answers to the same unit ID as ${device.name}, so both speak at once.`, evidence);
  }
  if (counters.triesSinceLate !== null && counters.triesSinceLate < STREAK)
    add(
      92,
      'late',
      `${device.name} answers, but later than it is waited for: ${device.timeoutMs} ms.`,
      `${counters.late} answers came when nobody waited for them any more.`,
      { entity: 'device', id: device.id },
    );
  const silentNeighbours = neighbours.filter((row) => row.tries.answered === 0);
  if (port?.kind === 'serial' && isAlways && neighbours.length > 1 && silentNeighbours.length === neighbours.length)
    add(
      93,
      'line',
      `Nothing on the line answers: its cable, the settings of ${gateway?.name ?? 'what asks there'}, or the power of all.`,
      `${neighbours.length} other devices are silent as well.`,
      { entity: 'line', id: port.lineId },
    );
  if (!isAlways) {
    const isWireless = device.lossPercent > 0;
    add(
      60,
      isWireless ? 'link' : 'lost',
      isWireless
        ? `Answers of ${device.name} are lost on its link; ${device.lossPercent} % are expected to be.`
        : `Some answers of ${device.name} are lost: a loose wire, a missing termination, noise, or a device that is too busy.`,
      `${tries.silent} of the last ${tries.all} tries brought nothing, ${tries.answered} an answer.`,
    );
    return causes;
  }
  if (port?.kind === 'ethernet')
    add(
      65,
      'silent-server',
      `${device.name} takes the connection and answers nothing: it hangs, waits for another unit ID than ${port.unitId}, or the connection is dead.`,
      `${tries.silent} questions in a row brought nothing, though it could be connected.`,
    );
  else
    add(
      55,
      'absent',
      `${device.name} is off or unplugged, or has another unit ID than ${(port as SerialPort | null)?.unitId ?? 'stated'}. A sweep of its line shows who answers.`,
      neighbours.some((row) => row.tries.answered > 0)
        ? `Its neighbour ${neighbours.find((row) => row.tries.answered > 0)!.device.name} answers on the same line, so the line itself is well.`
        : `${tries.silent} questions in a row brought nothing.`,
    );
  return causes;
}

/** Another device on the line with the same unit ID. */
function duplicateUnitOf({ document, port }: Case): string | null {
  if (port?.kind !== 'serial' || port.unitId === null) return null;
  const other = document.ports.find(
    (row) => row.kind === 'serial' && row.lineId === port.lineId && row.unitId === port.unitId && row.id !== port.id,
  );
  return document.devices.find(({ id }) => id === other?.deviceId)?.name ?? null;
}

function damage(of: Case): Weighed[] {
  const { device, tries, counters } = of;
  const { lastDamage } = counters;
  const why = lastDamage ? sentenceOf(lastDamage) : (counters.lastError ?? '');
  const causes: Weighed[] = [];
  if (lastDamage?.code === 'wrong-unit')
    causes.push({
      weight: 91,
      cause: 'wrong-unit',
      sentence: `Unit ${lastDamage.got} answers where ${device.name} was asked: its unit ID is set otherwise, or the gateway sends the question elsewhere.`,
      evidence: why,
      at: atPort(of),
    });
  if (lastDamage?.code === 'half-answer')
    causes.push({
      weight: 89,
      cause: 'cut-short',
      sentence: `Answers of ${device.name} stop in the middle: it restarts while it answers, or something on the way drops bytes.`,
      evidence: why,
      at: atPort(of),
    });
  const settings = found(of, 'settings-differ');
  const isAlways = tries.answered === 0;
  if (isAlways && settings)
    causes.push({
      weight: 88,
      cause: 'settings',
      sentence: `${device.name} is set otherwise than its line.`,
      evidence: settings.message,
      at: atPort(of),
    });
  causes.push({
    weight: isAlways ? 62 : 72,
    cause: isAlways ? 'all-damaged' : 'some-damaged',
    sentence: isAlways
      ? `Every answer of ${device.name} is damaged: baud or parity differ, or it speaks another framing.`
      : `Some answers of ${device.name} are damaged: wiring, termination, noise, or two devices with one address.`,
    evidence: why || `${tries.damaged} of the last ${tries.all} answers were damaged.`,
    at: atPort(of),
  });
  return causes;
}

function refusals(of: Case): Weighed[] {
  const { device, requests, seen } = of;
  return [...of.tries.refused].map(([code, count]): Weighed => {
    const refused = requests.filter(({ id }) => (seen.request(id)?.exceptions[code] ?? 0) > 0);
    const [first] = refused;
    const what = first ? `function ${first.functionCode}, ${first.count} from offset ${first.offset}` : 'one of its requests';
    const at: Cause['at'] = { entity: 'device', id: device.id };
    const evidence = `${count} times exception ${code}, for ${what}${refused.length > 1 ? ` and ${refused.length - 1} more` : ''}.`;
    if (first && code === ILLEGAL_ADDRESS && isTableRefused(of, first)) {
      const sentence = `${device.name} has nothing among its ${tableNames[first.table].many}: function ${first.functionCode} is the wrong one, and the point is in another table.`;
      return { weight: 76, cause: 'wrong-table', sentence, evidence: `${evidence} Its other tables answer.`, at };
    }
    return { weight: 75, cause: `exception-${code}`, sentence: whyRefused(code, device, first), evidence, at };
  });
}

/** Whether nothing of this table was ever answered, while requests of other tables are. */
function isTableRefused({ requests, seen }: Case, { table }: PlannedRequest): boolean {
  const valid = (isHere: boolean) => requests.some((row) => (row.table === table) === isHere && (seen.request(row.id)?.answered ?? 0) > 0);
  return !valid(true) && valid(false);
}

function whyRefused(code: number, { name, notation, entry }: Device, first: PlannedRequest | undefined): string {
  switch (code) {
    case 1:
      return `${name} does not have function ${first?.functionCode ?? ''}: take it out of its function codes, so that another is used.`;
    case 2: {
      const shift = notation === 'pdu' && entry === 'asIs' ? 'its papers may count from 1' : 'its papers may count from 0';
      return `${name} has no registers there: the offset or the count is past its map, a hole is crossed, or ${shift}.`;
    }
    case 3:
      return `${name} does not take so many at once, or not this value: lower how many one request carries.`;
    case 4:
      return `${name} failed while it did what was asked; its own display says more.`;
    case 5:
    case 6:
      return `${name} is busy with something else: ask it more rarely, or one at a time.`;
    default:
      return `${name} refuses what is asked of it.`;
  }
}

/** All ends well, and takes much longer than the device is stated to think. */
function slowness({ device, tries, counters, port, requests, seen }: Case): Weighed[] {
  const stated = device.delayMs;
  if (tries.answered === 0 || port?.kind !== 'ethernet' || counters.meanMs === null || counters.lastMs === null) return [];
  // Several requests that are all slow tell sooner than the mean of a long run.
  const last = requests.flatMap(({ id }) => seen.request(id)?.lastMs ?? []);
  const slowMs = Math.min(counters.lastMs, ...(last.length > 1 ? last : [counters.meanMs]));
  if (slowMs < 30 || slowMs < SLOW * (stated + 5)) return [];
  return [
    {
      weight: 45,
      cause: 'slow',
      sentence: `${device.name} takes longer to answer than stated: about ${Math.round(slowMs)} ms instead of ${stated} ms.`,
      evidence: `Its last answer took ${Math.round(counters.lastMs)} ms, ${Math.round(counters.meanMs)} ms are the mean.`,
      at: { entity: 'device', id: device.id },
    },
  ];
}

/** It must have moved for so long, and then have stood still for so long and so many times longer than ever before. */
const MOVED_MS = 30_000;
const STILL_MS = 10_000;
const STILL_TIMES = 10;

/** All is answered well, and always the same, by a device that has moved before. */
function standstill({ device, tries, counters: { motion } }: Case): Weighed[] {
  if (!motion || tries.answered < tries.all || motion.movedMs < MOVED_MS) return [];
  if (motion.stillMs < Math.max(STILL_MS, STILL_TIMES * motion.longestMs)) return [];
  const seconds = (ms: number) => (ms < 10_000 ? (ms / 1000).toFixed(1) : (ms / 1000).toFixed(0));
  return [
    {
      weight: 40,
      cause: 'frozen',
      sentence: `${device.name} answers, but always the same: its program stands still behind the interface, or what it measures really rests.`,
      evidence: `Nothing that is read of it has changed for ${seconds(motion.stillMs)} s; before that, it never stood still for longer than ${seconds(motion.longestMs)} s.`,
      at: { entity: 'device', id: device.id },
    },
  ];
}
