import { type Change, type Device, listOf, type ProjectDocument, type Round, type Route, type Row } from '../model/index.js';

/** What is supposed otherwise than the project says. All but the dead can be taken over as changes. */
export interface WhatIf {
  /** Devices that do not answer. */
  dead: readonly string[];
  /** How many times its response delay a device takes, by its id. */
  slower: Readonly<Record<string, number>>;
  /** Answers of a device that are lost, in percent. */
  loss: Readonly<Record<string, number>>;
  /** How long a device is waited for, ms. */
  timeout: Readonly<Record<string, number>>;
  /** The rate of a serial line and of all that is set like it. */
  baud: Readonly<Record<string, number>>;
  /** The period of a round, ms. */
  period: Readonly<Record<string, number>>;
  /** A round of its own, with this period in ms, for all that is read from a device. */
  own: Readonly<Record<string, number>>;
}

export const asItIs: WhatIf = { dead: [], slower: {}, loss: {}, timeout: {}, baud: {}, period: {}, own: {} };

/** What would have to be changed in the project for it; a row that is gone is left out. `roundId` names the new round of a device. */
export function whatIfChanges(document: ProjectDocument, what: WhatIf, roundId: (deviceId: string) => string): Change[] {
  const { devices, lines, ports, rounds } = document;
  const changes: Change[] = devices.flatMap((device) => {
    const periodMs = what.own[device.id];
    return periodMs ? ownRound(document, device, periodMs, roundId(device.id)) : [];
  });
  for (const device of devices) {
    const after: Device = {
      ...device,
      delayMs: device.delayMs * (what.slower[device.id] ?? 1),
      lossPercent: what.loss[device.id] ?? device.lossPercent,
      timeoutMs: what.timeout[device.id] ?? device.timeoutMs,
    };
    const isSame = after.delayMs === device.delayMs && after.lossPercent === device.lossPercent && after.timeoutMs === device.timeoutMs;
    if (!isSame) changes.push({ entity: 'device', id: device.id, before: device, after });
  }
  for (const line of lines) {
    const baud = what.baud[line.id];
    if (line.kind !== 'serial' || !baud || baud === line.baud) continue;
    changes.push({ entity: 'line', id: line.id, before: line, after: { ...line, baud } });
    for (const port of ports) {
      if (port.kind === 'serial' && port.lineId === line.id && port.baud === line.baud)
        changes.push({ entity: 'port', id: port.id, before: port, after: { ...port, baud } });
    }
  }
  for (const round of rounds) {
    const periodMs = what.period[round.id];
    if (periodMs && periodMs !== round.periodMs)
      changes.push({ entity: 'round', id: round.id, before: round, after: { ...round, periodMs } });
  }
  return changes;
}

function ownRound({ project, points, rounds, routes }: ProjectDocument, device: Device, periodMs: number, id: string): Change[] {
  const sources = new Set(points.filter(({ deviceId }) => deviceId === device.id).map((point) => point.id));
  const moved = routes.filter(({ sourceId }) => sources.has(sourceId));
  if (moved.length === 0) return [];
  const priority = Math.min(...rounds.filter((round) => moved.some(({ roundId }) => roundId === round.id)).map((round) => round.priority));
  const round: Round = { id, projectId: project.id, name: device.name, periodMs, phaseMs: 0, pauseMs: null, priority };
  return [
    { entity: 'round', id, before: null, after: round },
    ...moved.map((route): Change => ({ entity: 'route', id: route.id, before: route, after: { ...route, roundId: id } })),
  ];
}

/**
 * Changes of a supposed project as changes of the project itself: only the fields that they change, on its own rows. None where
 * they rest on a round that is only supposed.
 */
export function onProject(document: ProjectDocument, changes: readonly Change[]): Change[] {
  const rounds = new Set(document.rounds.map(({ id }) => id));
  const isSupposed = changes.some(({ entity, id, before, after }) =>
    entity === 'round' ? before && !rounds.has(id) : entity === 'route' && after && !rounds.has((after as Route).roundId),
  );
  if (isSupposed) return [];
  return changes.flatMap(({ entity, id, before, after }): Change[] => {
    if (entity === 'project' || !before || !after) return [{ entity, id, before, after }];
    const own = (document[listOf(entity)] as readonly { id: string }[]).find((row) => row.id === id) as Row | undefined;
    if (!own) return [];
    const changed = Object.fromEntries(Object.entries(after).filter(([field, value]) => value !== before[field]));
    return [{ entity, id, before: own, after: { ...own, ...changed } }];
  });
}
