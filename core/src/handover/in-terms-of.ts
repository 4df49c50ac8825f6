import { listedKinds, type ListedKind, listOf, type ProjectDocument, type Row } from '../model/index.js';
import { renamedBy } from '../project-file/index.js';

/** By which fields of a row its owner is known, beside its name. */
const owners: Partial<Record<ListedKind, readonly string[]>> = {
  port: ['deviceId', 'lineId'],
  telegram: ['deviceId'],
  frame: ['deviceId'],
  point: ['deviceId'],
  paper: ['deviceId'],
  variable: ['pointId'],
};

/**
 * Another project with the ids of this one wherever it has something of the same name, of the same owner; of several alike the first with the
 * first. So the two can be compared as two states of one project.
 */
export function inTermsOf(mine: ProjectDocument, other: ProjectDocument): ProjectDocument {
  const names = new Map([[other.project.id, mine.project.id]]);
  for (const kind of listedKinds) {
    const here = keyed(kind, mine[listOf(kind)] as Row[], (id) => id);
    for (const [key, id] of keyed(kind, other[listOf(kind)] as Row[], (own) => names.get(own) ?? own)) {
      const found = here.get(key);
      if (found !== undefined) names.set(id, found);
    }
  }
  return renamedBy(names)(other);
}

/** The ids of rows by what they are called and belong to. */
function keyed(kind: ListedKind, rows: readonly Row[], idOf: (id: string) => string): Map<string, string> {
  const counts = new Map<string, number>();
  return new Map(
    rows.map((row) => {
      const alike = JSON.stringify([row['name'] ?? '', ...(owners[kind] ?? []).map((field) => idOf(String(row[field])))]);
      const count = counts.get(alike) ?? 0;
      counts.set(alike, count + 1);
      return [`${alike} ${count}`, String(row['id'])];
    }),
  );
}
