import type { Finding } from '@plain-envoy/core/findings';
import { textValidator } from './schema-group';

/** What was found wrong with an entity as it is saved, by field: the reason and the mend. */
export function foundAt(findings: readonly Finding[], id: string): ReadonlyMap<string, string> {
  const here = findings.filter(({ at }) => at.id === id && at.field);
  return new Map(here.map(({ at, message, mend }) => [at.field!, `${message} ${mend}`]));
}

/** The number that was typed, or NaN with which a schema says what is wrong; empty is NaN too. */
export function typedNumber(text: string): number {
  const typed = text.trim().replace(',', '.');
  return typed === '' ? NaN : Number(typed);
}

/** The same where nothing may be typed, which stands for none. */
export function numberOrNone(text: string): number | null {
  return text.trim() === '' ? null : typedNumber(text);
}

/** Refuses what is no number; nothing is none yet. */
export const numberValidator = textValidator((text) =>
  text.trim() !== '' && Number.isNaN(typedNumber(text)) ? `“${text.trim()}” is no number.` : null,
);
