import * as z from 'zod';
import { Id } from '../common/index.js';
import { entities, EntityKind, listOf, referrersOf, type ListedKind, type ProjectDocument } from './document.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';

const Row = z.record(z.string(), z.unknown());
export type Row = z.infer<typeof Row>;

/** One entity before and after; null for none, so null before is an addition and null after a deletion. */
export const Change = z
  .strictObject({ entity: EntityKind, id: Id, before: Row.nullable(), after: Row.nullable() })
  .refine(({ before, after }) => before !== null || after !== null, 'A change has a before, an after, or both.')
  .refine(
    ({ entity, before, after }) => entity !== 'project' || (before !== null && after !== null),
    'A project is neither added nor deleted by a change set.',
  );
export type Change = z.infer<typeof Change>;

export const ChangeSet = z.strictObject({
  label: z.string().min(1).max(200).describe('What was done, for the list of changes'),
  baseRevision: z.int().min(0).describe('The revision on which the edit rests'),
  changes: z.array(Change).min(1, 'A change set holds at least one change.').max(100_000),
});
export type ChangeSet = z.infer<typeof ChangeSet>;

/** The same changes backwards: applied, they undo the first. */
export function inverse(changes: readonly Change[]): Change[] {
  return [...changes].reverse().map((change) => ({ ...change, before: change.after, after: change.before }));
}

/**
 * Checks each `after` against its schema, and that id and project stay what they are.
 * The path of a problem starts with `changes`, so that a form can show it at its field.
 */
export function checkChanges(changes: readonly Change[], projectId: string): Outcome<Change[]> {
  const seen = new Set<string>();
  const checked: Change[] = [];
  for (const [index, change] of changes.entries()) {
    const at = ['changes', index] as const;
    if (seen.has(change.id)) return bad('The same entity appears twice in this change set.', ...at, 'id');
    seen.add(change.id);
    if (change.after === null) {
      checked.push(change);
      continue;
    }
    const parsed = entities[change.entity].schema.safeParse(change.after);
    if (!parsed.success) {
      const { message, path } = schemaProblem(parsed.error);
      return bad(message, ...at, 'after', ...path);
    }
    const after = parsed.data as Row;
    if (after['id'] !== change.id) return bad('The id of an entity cannot change.', ...at, 'after', 'id');
    const owner = change.entity === 'project' ? after['id'] : after['projectId'];
    if (owner !== projectId) return bad('It belongs to another project.', ...at, 'after', 'projectId');
    checked.push({ ...change, after });
  }
  return good(checked);
}

/** The document after these changes; the one given is left as it is. The changes must have been checked. */
export function applyChanges(document: ProjectDocument, changes: readonly Change[]): ProjectDocument {
  const next = { ...document };
  for (const kind of new Set(changes.map((change) => change.entity))) {
    const ofKind = changes.filter((change) => change.entity === kind);
    if (kind === 'project') {
      next.project = ofKind.at(-1)!.after as ProjectDocument['project'];
    } else {
      Object.assign(next, { [listOf(kind)]: applyToList(document[listOf(kind)], ofKind) });
    }
  }
  return next;
}

/** How many changes are looked up in the list one by one; past that, an index of the whole list is the shorter way. */
const FEW = 4;

function applyToList(rows: readonly { id: string }[], changes: readonly Change[]): Row[] {
  const next = changes.length <= FEW ? changes.reduce(applyOne, [...rows] as Row[]) : applyMany(rows, changes);
  return changes.some(({ before }) => before === null) ? asMade(next) : next;
}

/** In the order in which the rows were made, which their ids tell (RFC 9562, version 7): one that comes back has its place again. */
function asMade(rows: Row[]): Row[] {
  const isLater = (a: Row, b: Row) => String(a['id']) > String(b['id']);
  return rows.some((row, index) => index > 0 && isLater(rows[index - 1]!, row)) ? rows.sort((a, b) => (isLater(a, b) ? 1 : -1)) : rows;
}

function applyMany(rows: readonly { id: string }[], changes: readonly Change[]): Row[] {
  const byId = new Map(rows.map((row) => [row.id, row as Row]));
  for (const { id, after } of changes) {
    if (after === null) byId.delete(id);
    else byId.set(id, after);
  }
  return [...byId.values()];
}

function applyOne(rows: Row[], { id, after }: Change): Row[] {
  const at = rows.findIndex((row) => row['id'] === id);
  if (after === null) return rows.filter((_, index) => index !== at);
  return at < 0 ? rows.concat(after) : rows.with(at, after);
}

/** Changes that delete entities and everything that rests on them: a device's points, and the routes of those. */
export function deletion(document: ProjectDocument, kind: ListedKind, ...ids: string[]): Change[] {
  const gone = new Map<string, Change>();
  const visit = (entity: ListedKind, rowId: string) => {
    const row = (document[listOf(entity)] as { id: string }[]).find((candidate) => candidate.id === rowId);
    if (!row || gone.has(rowId)) return;
    for (const [from, field] of referrersOf(entity)) {
      if (from === 'project') continue;
      for (const other of document[listOf(from)] as Row[]) if (other[field] === rowId) visit(from, String(other['id']));
    }
    gone.set(rowId, { entity, id: rowId, before: row as Row, after: null });
  };
  for (const id of ids) visit(kind, id);
  return [...gone.values()];
}
