import { withoutEnd } from '../format/index.js';
import { nameAll } from '../names/index.js';
import { variableRules } from '../playing/index.js';

/**
 * In what is made here, each name of our own stands behind a `§`. Once all is there they get names that are legal, told apart from each
 * other, and from those that the controller has already, whatever their case.
 */
const MARKED = /§([A-Za-z0-9_]+)/g;

/** What settles all names of several texts alike. `taken` are names that stand for something else there. */
export function settler(texts: readonly string[], taken: readonly string[]): (text: string) => string {
  const own = [...new Set(texts.flatMap((text) => [...text.matchAll(MARKED)].map(([, name]) => name!)))];
  const named = nameAll(own, { ...variableRules, reserved: [...(variableRules.reserved ?? []), ...taken] });
  const settled = new Map(own.map((name, index) => [name, named[index]!.to]));
  return (text) => text.replace(MARKED, (_, name: string) => settled.get(name)!);
}

/** Any name as one that may stand behind a mark. */
export function plainName(name: string): string {
  return nameAll([name], { ...variableRules, reserved: [] })[0]!.to;
}

/** Words as they may stand in a comment: nothing in them ends it or begins another. */
export function commented(text: string): string {
  return withoutEnd(text).replaceAll('§', '').replace(/\s+/g, ' ');
}
