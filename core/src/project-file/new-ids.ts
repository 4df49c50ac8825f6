import { listedKinds, listOf, type ProjectDocument } from '../model/index.js';

/** Says what a value is with the ids of a project exchanged: every text that is one of them, however deep it lies. */
export function renamer(document: ProjectDocument, newId: () => string, projectId = newId()): <T>(value: T) => T {
  const names = new Map([[document.project.id, projectId]]);
  for (const kind of listedKinds) for (const { id } of document[listOf(kind)]) names.set(id, newId());
  return renamedBy(names);
}

/** The same for these ids alone. */
export function renamedBy(names: ReadonlyMap<string, string>): <T>(value: T) => T {
  const anew = (value: unknown): unknown => {
    if (typeof value === 'string') return names.get(value) ?? value;
    if (Array.isArray(value)) return value.map(anew);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [names.get(key) ?? key, anew(inner)]));
  };
  return <T>(value: T) => anew(value) as T;
}

/** The same project as another one: with ids of its own, all that names them along with them. */
export function withNewIds(document: ProjectDocument, newId: () => string, projectId?: string): ProjectDocument {
  return renamer(document, newId, projectId)(document);
}
