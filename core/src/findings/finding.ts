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
  /** What mends it in one action, where that is clear. */
  fix?: Fix;
  /** Where it is mended. */
  at: { entity: 'line' | 'device' | 'port' | 'point' | 'round' | 'route' | 'errand'; id: string; field?: string };
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
