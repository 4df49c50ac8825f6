import { type Change, type EntityKind, isSame, listedKinds, listOf, type ProjectDocument, type Row } from '../model/index.js';
import { fieldDifferences, type FieldDifference } from './field-differences.js';
import { namesOf } from './names-of.js';

/** One thing of a project that is otherwise on the other side, with what of it. */
export interface Difference {
  change: Change;
  what: 'added' | 'removed' | 'changed';
  name: string;
  fields: FieldDifference[];
}

/** What is otherwise at one device, or among lines, rounds, routes or errands. */
export interface DifferenceGroup {
  title: string;
  rows: Difference[];
}

/** What makes one state of a project of another of the same: applied to the first, the second follows. */
export function changesBetween(from: ProjectDocument, to: ProjectDocument): Change[] {
  const own: Change[] = isSame(from.project, to.project)
    ? []
    : [
        {
          entity: 'project',
          id: from.project.id,
          before: from.project as unknown as Row,
          after: { ...to.project, id: from.project.id } as unknown as Row,
        },
      ];
  return [...own, ...listedKinds.flatMap((kind) => betweenLists(kind, from[listOf(kind)] as Row[], to[listOf(kind)] as Row[]))];
}

function betweenLists(entity: EntityKind, from: readonly Row[], to: readonly Row[]): Change[] {
  const old = new Map(from.map((row) => [String(row['id']), row]));
  const now = new Set(to.map((row) => String(row['id'])));
  const gone = from.flatMap((before): Change[] =>
    now.has(String(before['id'])) ? [] : [{ entity, id: String(before['id']), before, after: null }],
  );
  const kept = to.flatMap((after): Change[] => {
    const id = String(after['id']);
    const before = old.get(id) ?? null;
    return before && (before === after || isSame(before, after)) ? [] : [{ entity, id, before, after }];
  });
  return [...gone, ...kept];
}

/** The same in the words of who reads it: by device, line, round, route and errand, what was added, removed or changed, field by field. */
export function differencesBetween(from: ProjectDocument, to: ProjectDocument, changes = changesBetween(from, to)): DifferenceGroup[] {
  const names = namesOf(from, to);
  const groups = new Map<string, Difference[]>();
  for (const change of changes) {
    const { entity, before, after } = change;
    const title = names.groupOf(entity, (after ?? before)!);
    const row: Difference = {
      change,
      what: before === null ? 'added' : after === null ? 'removed' : 'changed',
      name: names.nameOf(entity, (after ?? before)!),
      fields: before && after ? fieldDifferences(before, after, names.idText) : [],
    };
    groups.set(title, [...(groups.get(title) ?? []), row]);
  }
  return [...groups].map(([title, rows]) => ({ title, rows }));
}
