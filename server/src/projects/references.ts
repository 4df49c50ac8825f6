import { type Change, type EntityKind, listedKinds, referencesOf, referrersOf, type Row } from '@plain-envoy/core/model';
import type { Tables } from '../database/index.js';
import { refuse } from '../problem/index.js';
import { referrers, rowsById } from './rows.js';

/**
 * Refuses a change set after which something would point to nothing: an addition that names what is not there, or a
 * deletion of what something else still needs. The database's own foreign keys stand behind this.
 */
export async function checkReferences(db: Tables, changes: readonly Change[], projectId: string): Promise<void> {
  const added = new Set(changes.filter((change) => change.after).map((change) => change.id));
  const deleted = new Set(changes.filter((change) => !change.after).map((change) => change.id));
  for (const kind of listedKinds) {
    for (const [field, to] of referencesOf(kind)) await checkNamed(db, changes, kind, field, to, projectId, added, deleted);
    const gone = changes.filter((change) => change.entity === kind && !change.after).map((change) => change.id);
    for (const [from, field] of gone.length ? referrersOf(kind) : []) {
      if (from === 'project') continue;
      const still = (await referrers(db, from, field, gone)).find((id) => !deleted.has(id) && !added.has(id));
      if (still) {
        const name = (await rowsById(db, from, [still])).get(still)?.['name'] ?? `a ${from}`;
        const index = changes.findIndex((change) => change.id === gone[0]);
        refuse('does-not-fit', `It cannot be deleted while “${String(name)}” needs it.`, ['changes', index]);
      }
    }
  }
}

async function checkNamed(
  db: Tables,
  changes: readonly Change[],
  kind: EntityKind,
  field: string,
  to: EntityKind,
  projectId: string,
  added: ReadonlySet<string>,
  deleted: ReadonlySet<string>,
): Promise<void> {
  const naming = changes.flatMap((change, index) =>
    change.entity === kind && change.after ? [{ index, id: String((change.after as Row)[field]) }] : [],
  );
  const outside = naming.filter(({ id }) => !added.has(id));
  const there = await rowsById(db, to, [...new Set(outside.map(({ id }) => id))]);
  const missing = outside.find(({ id }) => deleted.has(id) || there.get(id)?.['projectId'] !== projectId);
  if (missing)
    refuse('does-not-fit', `The ${to} that this ${kind} names is not in the project.`, ['changes', missing.index, 'after', field]);
}
