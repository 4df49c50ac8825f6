import { signal } from '@angular/core';
import type { Finding } from '@plain-envoy/core/findings';
import type { z } from 'zod';
import { type Problem } from '@plain-envoy/core/outcome';

/** What is wrong with the fields of a form, by field; `''` is for what belongs to no field. */
export class FieldProblems {
  private readonly all = signal<ReadonlyMap<string, string>>(new Map());

  of(field: string): string | null {
    return this.all().get(field) ?? null;
  }

  /** The problems of fields that the form does not show, and of the whole. */
  rest(shown: readonly string[]): string | null {
    const other = [...this.all()].filter(([field]) => !shown.includes(field)).map(([, message]) => message);
    return other.length ? other.join(' ') : null;
  }

  clear(): void {
    this.all.set(new Map());
  }

  set(problems: Iterable<readonly [string, string]>): void {
    this.all.set(new Map(problems));
  }

  /** Checks with a schema; null where it does not fit, and then each field knows why. */
  check<T extends z.ZodType>(schema: T, value: unknown): z.output<T> | null {
    const parsed = schema.safeParse(value);
    if (parsed.success) {
      this.clear();
      return parsed.data;
    }
    const problems = new Map<string, string>();
    for (const { path, message } of parsed.error.issues) {
      const field = String(path[0] ?? '');
      if (!problems.has(field)) problems.set(field, message.startsWith('Invalid ') ? 'This does not fit here.' : message);
    }
    this.all.set(problems);
    return null;
  }

  /** A refusal of the server, whose path ends with the field. */
  refused({ message, path }: Problem): void {
    const after = path.indexOf('after');
    this.set([[after >= 0 ? String(path[after + 1] ?? '') : '', message]]);
  }
}

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
