import { fieldOf, type MapField, mapFields } from './list.js';

/** Which field a header names; null where it names none that is known. */
export function fieldOfHeader(header: string): MapField | null {
  const plain = header
    .toLowerCase()
    .replace(/[_\-.:#*[\]]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const bare = plain.replace(/\([^()]*\)/g, '').trim();
  return mapFields.find((field) => fieldOf(field).headers.test(plain) || fieldOf(field).headers.test(bare)) ?? null;
}
