import { isSame, type Change, listOf, type ListedKind, type ProjectDocument, type Row } from '../model/index.js';

/**
 * How a difference between here and another state came about, by the state that both come from: only there, only here, or on both sides, which
 * a person has to decide.
 */
export type Side = 'there' | 'here' | 'both';

/** `change` leads from here to there. */
export function sideOf({ entity, id, before, after }: Change, base: ProjectDocument): Side {
  const was = rowOf(base, entity, id);
  if (isSame(was, before)) return 'there';
  return isSame(was, after) ? 'here' : 'both';
}

function rowOf(document: ProjectDocument, entity: Change['entity'], id: string): Row | null {
  if (entity === 'project') return document.project as unknown as Row;
  return (document[listOf(entity as ListedKind)] as Row[]).find((row) => row['id'] === id) ?? null;
}
