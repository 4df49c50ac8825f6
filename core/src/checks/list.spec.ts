import type { Check } from '../findings/index.js';
import { checks, checksPage } from './index.js';

describe('The list of findings', () => {
  const all = checks as readonly Check[];

  it('has each of them once, with a severity and one sentence of what it means', () => {
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
    for (const { id, meaning, severity } of all) {
      expect(id).toMatch(/^[a-z0-9]+(-[a-z0-9]+)*$/);
      expect(meaning)
        .withContext(id)
        .toMatch(/^[A-Z].*[^.]\.$/);
      expect(['stop', 'warning', 'advice']).withContext(id).toContain(severity);
    }
    expect(new Set(all.map(({ meaning }) => meaning)).size).toBe(all.length);
  });

  it('is a page on which each of them stands', () => {
    const page = checksPage();
    for (const { id, severity, meaning } of all) expect(page).toContain(`| ${id} | ${severity} | ${meaning} |`);
  });
});
