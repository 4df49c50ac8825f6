import { isSame, type Change, listedKinds, listOf, type ProjectDocument, type Row } from '../model/index.js';

/**
 * How a difference between here and another state came about, by the state that both come from: only there, only here, or on both sides, which
 * a person has to decide.
 */
export type Side = 'there' | 'here' | 'both';

/** Tells of changes that lead from here to there; the state that both come from is looked through once. */
export function sidesFrom(base: ProjectDocument): (change: Change) => Side {
  const rows = new Map(listedKinds.flatMap((kind) => (base[listOf(kind)] as Row[]).map((row) => [String(row['id']), row] as const)));
  return ({ entity, id, before, after }) => {
    const was = entity === 'project' ? (base.project as unknown as Row) : (rows.get(id) ?? null);
    if (isSame(was, before)) return 'there';
    return isSame(was, after) ? 'here' : 'both';
  };
}
