import type { EntityKind, ProjectDocument, Row } from '../model/index.js';

/** What things of a project are called where two of its states are compared. */
export interface Names {
  nameOf(entity: EntityKind, row: Row): string;
  groupOf(entity: EntityKind, row: Row): string;
  /** The name of what has this id, in whichever of the two; null where nothing has. */
  idText(id: string): string | null;
}

const plurals: Partial<Record<EntityKind, string>> = {
  project: 'Project',
  line: 'Lines',
  round: 'Rounds',
  route: 'Routes',
  errand: 'Errands',
  watchList: 'Lists to watch',
  listProfile: 'Profiles of lists',
};

/** Names of the newer state before those of the older. */
export function namesOf(from: ProjectDocument, to: ProjectDocument): Names {
  const find = (list: 'devices' | 'lines' | 'points' | 'routes' | 'rounds' | 'telegrams' | 'frames') => {
    const known = new Map<string, { name: string; deviceId?: string }>();
    for (const row of [...from[list], ...to[list]]) known.set(row.id, row);
    return known;
  };
  const [devices, lines, points] = [find('devices'), find('lines'), find('points')];
  const others = (['routes', 'rounds', 'telegrams', 'frames'] as const).map(find);
  const pointText = (id: string) => {
    const point = points.get(id);
    return point ? `${devices.get(point.deviceId ?? '')?.name ?? ''} ${point.name}`.trim() : null;
  };
  const idText = (id: string) =>
    devices.get(id)?.name ?? lines.get(id)?.name ?? pointText(id) ?? others.map((known) => known.get(id)?.name).find(Boolean) ?? null;
  const deviceOf = (entity: EntityKind, row: Row): string | undefined =>
    entity === 'device'
      ? String(row['id'])
      : entity === 'variable'
        ? points.get(String(row['pointId']))?.deviceId
        : (row['deviceId'] as string | undefined);
  return {
    idText,
    groupOf: (entity, row) => plurals[entity] ?? devices.get(deviceOf(entity, row) ?? '')?.name ?? 'Others',
    nameOf(entity, row) {
      if (entity === 'port') return `port on ${lines.get(String(row['lineId']))?.name ?? 'a line that is gone'}`;
      if (entity === 'variable') return `variable of ${points.get(String(row['pointId']))?.name ?? 'a point that is gone'}`;
      if (entity === 'paper') return 'papers';
      return String(row['name'] ?? entity);
    },
  };
}
