import { isSame, type Row } from '../model/index.js';

/** A field that is otherwise, in words: `lost after ms`, and what stands there on each side. */
export interface FieldDifference {
  field: string;
  before: string;
  after: string;
}

const MOST_TEXT = 120;
/** Fields that say who a row is, and not how. */
const SELF = new Set(['id', 'projectId']);

/** The fields of a row that are otherwise, those within others too. */
export function fieldDifferences(before: Row, after: Row, idText: (id: string) => string | null): FieldDifference[] {
  const found: FieldDifference[] = [];
  const visit = (path: readonly string[], old: unknown, now: unknown) => {
    if (isSame(old, now)) return;
    if (isPlain(old) && isPlain(now)) {
      for (const key of new Set([...Object.keys(old), ...Object.keys(now)])) if (!SELF.has(key)) visit([...path, key], old[key], now[key]);
      return;
    }
    found.push({ field: path.map(words).join(', '), before: valueText(old, idText), after: valueText(now, idText) });
  };
  visit([], before, after);
  return found;
}

function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** `lostAfterMs` as `lost after ms`, `deviceId` as `device`. */
function words(field: string): string {
  return field
    .replace(/Ids?$/, '')
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .toLowerCase();
}

function valueText(value: unknown, idText: (id: string) => string | null): string {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string') return cut(idText(value) ?? value);
  if (typeof value === 'number') return String(value);
  if (Array.isArray(value)) return value.length === 0 ? 'none' : cut(value.map((one) => valueText(one, idText)).join('; '));
  return cut(
    Object.entries(value as Record<string, unknown>)
      .filter(([key]) => !SELF.has(key))
      .map(([key, one]) => `${words(key)} ${valueText(one, idText)}`)
      .join(', '),
  );
}

function cut(text: string): string {
  return text.length > MOST_TEXT ? `${text.slice(0, MOST_TEXT - 1)}…` : text;
}
