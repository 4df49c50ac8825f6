import { bad, good, type Outcome } from '../../outcome/index.js';
import { patternOf } from '../../telegram/index.js';
import type { ByPattern, ByPosition, BySeparator, FieldAt } from '../../telegram/index.js';

/** From the first character to before `to`. */
export interface Stretch {
  from: number;
  to: number;
}

/** Finds a field in one text; a problem goes on after the name of the field. */
export type Locate = (text: string, parts: Parts) => Outcome<Stretch>;

/** Makes what finds a field, once for all telegrams. */
export function locator(at: FieldAt): Locate {
  if ('pattern' in at) return byPattern(at);
  return 'separator' in at ? bySeparator(at) : byPosition(at);
}

/** Where the parts of one text begin and end, by separator, looked for once for all its fields. */
export class Parts {
  private readonly found = new Map<string, Stretch[]>();

  constructor(private readonly text: string) {}

  by(separator: string): Stretch[] {
    const known = this.found.get(separator);
    if (known) return known;
    const parts: Stretch[] = [];
    let from = 0;
    for (let at; (at = this.text.indexOf(separator, from)) >= 0; from = at + separator.length) parts.push({ from, to: at });
    parts.push({ from, to: this.text.length });
    this.found.set(separator, parts);
    return parts;
  }
}

function byPosition({ from: given, length }: ByPosition): Locate {
  return (text) => {
    const from = given < 0 ? text.length + given : given;
    const to = from + length;
    if (from >= 0 && to <= text.length) return good({ from, to });
    return bad(`should be at characters ${given} to ${given + length - 1}, but the text has only ${text.length}.`);
  };
}

function bySeparator({ separator, number }: BySeparator): Locate {
  return (_, parts) => {
    const all = parts.by(separator);
    const part = all[number];
    return part ? good(part) : bad(`should be part ${number}, counted from 0, but “${separator}” parts the text into ${all.length} only.`);
  };
}

function byPattern({ pattern, group }: ByPattern): Locate {
  const compiled = patternOf(pattern);
  if (!compiled) return () => bad('is found by a pattern, and nothing here runs patterns.');
  const which = group ?? Math.min(1, compiled.groups);
  if (which > compiled.groups) return () => bad(`is bracket ${which} of its pattern, which has ${compiled.groups}.`);
  return (text) => {
    const found = compiled.find(text, which);
    return found ? good(found) : bad('is not there: nothing in the text fits its pattern.');
  };
}
