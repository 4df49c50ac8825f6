import type { Change, EntityKind } from '../model/index.js';

/** One thing that is or will be wrong. A *stop* keeps what it is about from running; a *warning* or *advice* does not. */
export interface Finding {
  severity: 'stop' | 'warning' | 'advice';
  /** Which check found it; stable, for tests and links. */
  check: string;
  /** What is wrong and why, in one sentence. */
  message: string;
  /** What to do about it. */
  mend: string;
  /** What may mend it in one action: nothing, one thing, or several of which only a person knows which is right. */
  fixes: readonly Fix[];
  /** The ids of other rows that it is about as much. */
  about?: readonly string[];
  /** Where it is mended. */
  at: { entity: 'line' | 'device' | 'port' | 'telegram' | 'frame' | 'point' | 'round' | 'route' | 'errand'; id: string; field?: string };
}

const severities: readonly Finding['severity'][] = ['stop', 'warning', 'advice'];
/** What is wrong with a line or a device shows at the routes over it as well, and is told before them. */
const places: readonly Finding['at']['entity'][] = ['line', 'port', 'device', 'telegram', 'frame', 'round', 'point', 'route', 'errand'];

/** Sorts findings: what keeps something from running first, and of these what causes others before what follows from it. */
export function causesFirst(a: Finding, b: Finding): number {
  return severities.indexOf(a.severity) - severities.indexOf(b.severity) || places.indexOf(a.at.entity) - places.indexOf(b.at.entity);
}

/** The same for the same finding of a later compilation. */
export function findingKey({ check, at: { entity, id, field } }: Finding): string {
  return [check, entity, id, field ?? ''].join(' ');
}

/** An edit that mends a finding, with the words for its button. */
export interface Fix {
  label: string;
  changes: Change[];
}

/** The fix that sets some fields of one row, or deletes it where there are none. */
export function fixOf<T extends { id: string }>(label: string, entity: EntityKind, row: T, fields: Partial<T> | null): Fix {
  return { label, changes: [{ entity, id: row.id, before: row, after: fields && { ...row, ...fields } }] };
}
