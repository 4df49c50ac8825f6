import { computed, effect, signal, type Signal } from '@angular/core';
import { AbstractControl, FormArray, FormControl, FormGroup, type ValidationErrors, type ValidatorFn } from '@angular/forms';
import type { Observable } from 'rxjs';
import type { z } from 'zod';
import type { Outcome, Problem } from '@plain-envoy/core/outcome';

/** What stands under this key in the errors of a control is a sentence; the parts of a form show it at their place. */
export const SCHEMA_ERROR = 'schema';
const REFUSED = 'refused';

/** What a form is checked against: a schema, and how that which is typed becomes a value of it. */
export interface SchemaCheck<Typed, Schema extends z.ZodType> {
  schema: Schema;
  /** From what stands in the form to what the schema is asked; the same where it is left out. */
  from?: (typed: Typed) => unknown;
}

/** What does not fit, and where; as a schema says it. */
export interface Issue {
  path: readonly PropertyKey[];
  message: string;
}

/**
 * A validator for a group out of what says what does not fit in it: each issue becomes the error of the control at its path, as a
 * sentence; what belongs to no control becomes the error of the group around it.
 */
export function issuesValidator<Typed>(issuesOf: (typed: Typed) => readonly Issue[]): ValidatorFn {
  return (group) => {
    const sentences = new Map<AbstractControl, string>();
    for (const { path, message } of issuesOf((group as FormGroup).getRawValue() as Typed)) {
      const control = controlAt(group, path.map(String));
      if (!sentences.has(control)) sentences.set(control, message.startsWith('Invalid ') ? 'This does not fit here.' : message);
    }
    for (const control of partsOf(group)) tell(control, sentences.get(control) ?? null);
    const own = sentences.get(group);
    return own === undefined ? null : { [SCHEMA_ERROR]: own };
  };
}

/** The validator that a schema makes for a group: the rules stand in the schema alone. */
export function schemaValidator<Typed, Schema extends z.ZodType>({ schema, from }: SchemaCheck<Typed, Schema>): ValidatorFn {
  return issuesValidator((typed: Typed) => {
    const parsed = schema.safeParse(from ? from(typed) : typed);
    return parsed.success ? [] : parsed.error.issues;
  });
}

/** The validator of one control, out of what says why a text does not fit. */
export function textValidator(problemOf: (text: string) => string | null): ValidatorFn {
  return ({ value }) => {
    const problem = problemOf(String(value ?? ''));
    return problem === null ? null : { text: problem };
  };
}

/** The value of the schema; null where something does not fit, and then each control knows why. */
export function readGroup<Typed, Schema extends z.ZodType>(
  group: FormGroup,
  { schema, from }: SchemaCheck<Typed, Schema>,
): z.output<Schema> | null {
  group.updateValueAndValidity();
  group.markAllAsTouched();
  const typed = group.getRawValue() as Typed;
  const parsed = schema.safeParse(from ? from(typed) : typed);
  return parsed.success && group.valid ? parsed.data : null;
}

/** What stands in a form, also while it is typed. To be made while a component is built. */
export function valueIn<Group extends FormGroup>(form: () => Group): Signal<ReturnType<Group['getRawValue']>> {
  const changes = changesOf(() => form().valueChanges);
  return computed(() => (changes(), form().getRawValue() as ReturnType<Group['getRawValue']>));
}

/**
 * What is wrong with a form as a whole, with a group in it, which has no field that could say so, or with one control; also after it was
 * refused. To be made while a component is built.
 */
export function problemIn(form: () => AbstractControl): Signal<string | null> {
  const changes = changesOf(() => form().events);
  return computed(() => {
    changes();
    const groups = [form(), ...partsOf(form()).filter((part) => part instanceof FormGroup)];
    return form().touched ? (groups.map(problemOf).find((problem) => problem !== null) ?? null) : null;
  });
}

/** Another value each time something comes. To be made while a component is built. */
export function changesOf(stream: () => Observable<unknown>): Signal<number> {
  const changes = signal(0);
  effect((onCleanup) => {
    const listening = stream().subscribe(() => changes.update((count) => count + 1));
    onCleanup(() => listening.unsubscribe());
  });
  return changes.asReadonly();
}

/** Puts a refusal of the server at the control that its path leads to, until something else is typed there; else at the group. */
export function refuseIn(group: FormGroup, { message, path }: Problem): void {
  const control = controlAt(group, path.slice(path.indexOf('after') + 1).map(String));
  control.markAsTouched();
  control.setErrors({ ...control.errors, [REFUSED]: message });
}

/** Says at its place what the server refuses, and what it refused before no longer; tells whether it did what was asked. */
export function settle<T>(group: FormGroup, answer: Outcome<T>): answer is Extract<Outcome<T>, { ok: true }> {
  forgetRefusals(group);
  if (!answer.ok) refuseIn(group, answer.problem);
  return answer.ok;
}

/** What was refused is asked anew. */
export function forgetRefusals(group: FormGroup): void {
  for (const part of [group, ...partsOf(group)]) if (part.errors?.[REFUSED]) part.updateValueAndValidity({ onlySelf: true });
}

/** What is wrong with the form as a whole, or with one control, in one sentence; null where nothing is. */
export function problemOf(group: AbstractControl): string | null {
  const [first] = Object.values(group.errors ?? {}) as unknown[];
  return typeof first === 'string' ? first : null;
}

/** The control at a path, or the nearest around it that there is. */
function controlAt(group: AbstractControl, path: readonly string[]): AbstractControl {
  let at = group;
  for (const key of path) {
    const next: AbstractControl | null =
      at instanceof FormGroup ? (at.controls[key] ?? null) : at instanceof FormArray ? (at.controls[Number(key)] ?? null) : null;
    if (!next) break;
    at = next;
  }
  return at;
}

/** All controls and groups below this one. */
function partsOf(control: AbstractControl): AbstractControl[] {
  if (control instanceof FormControl) return [];
  const children = Object.values((control as FormGroup | FormArray).controls as Record<string, AbstractControl>);
  return children.flatMap((child) => [child, ...partsOf(child)]);
}

/** Leaves other errors of the control as they are, but for a refusal: it was of another value. */
function tell(control: AbstractControl, sentence: string | null): void {
  const { [SCHEMA_ERROR]: _schema, [REFUSED]: _refused, ...others } = control.errors ?? {};
  const errors: ValidationErrors = sentence === null ? others : { ...others, [SCHEMA_ERROR]: sentence };
  if (problemOf(control) === sentence && Object.keys(control.errors ?? {}).length === Object.keys(errors).length) return;
  control.setErrors(Object.keys(errors).length ? errors : null, { emitEvent: true });
}
