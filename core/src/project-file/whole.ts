import { type EntityKind, listedKinds, listOf, type ProjectDocument, referencesOf, type Row } from '../model/index.js';
import type { Problem } from '../outcome/index.js';

/** Why this is no whole project: an id that two have, a row of another project, or something named that is not there; null where it is one. */
export function whyNotWhole(document: ProjectDocument): Problem | null {
  const all = listedKinds.flatMap((kind) => (document[listOf(kind)] as Row[]).map((row, index) => ({ kind, row, index })));
  const kinds = new Map<unknown, EntityKind>([[document.project.id, 'project']]);
  for (const { kind, row, index } of all) {
    const path = ['document', listOf(kind), index];
    if (kinds.has(row['id'])) return { message: `The ${kind} ${named(row)} has an id that something else has too.`, path: [...path, 'id'] };
    if (row['projectId'] !== document.project.id)
      return { message: `The ${kind} ${named(row)} belongs to another project.`, path: [...path, 'projectId'] };
    kinds.set(row['id'], kind);
  }
  for (const { kind, row, index } of all) {
    for (const [field, to] of referencesOf(kind)) {
      if (kinds.get(row[field]) === to) continue;
      const message = `The ${kind} ${named(row)} names a ${to} that is not in the file.`;
      return { message, path: ['document', listOf(kind), index, field] };
    }
  }
  return null;
}

function named(row: Row): string {
  return typeof row['name'] === 'string' ? `“${row['name']}”` : `with the id ${String(row['id'])}`;
}
