import { FormGroup } from '@angular/forms';
import type { standardProfile } from '@plain-envoy/core/handover';
import { type ListColumn, listColumns, type ListProfile, type Variable } from '@plain-envoy/core/model';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import type { Issue } from '../../parts/schema-group';

/** The controls of one variable. */
export function variableGroup(setting: Variable | undefined) {
  return new FormGroup({
    name: textControl(setting?.name ?? ''),
    initial: textControl(setting?.initial ?? ''),
    retain: controlOf(setting?.retain ?? false),
  });
}
export type TypedVariable = ReturnType<ReturnType<typeof variableGroup>['getRawValue']>;

/** What was typed, as the schema is asked about it. */
export function variableOfTyped({ name, initial, retain }: TypedVariable, kept: Pick<Variable, 'id' | 'projectId' | 'pointId'>): Variable {
  return { ...kept, name: name.trim() || null, initial: initial.trim(), retain };
}

type Profile = ListProfile | typeof standardProfile;

/** The controls of a profile; columns by their words, in their order, and words that are reserved apart by blanks. */
export function profileGroup(profile: Profile) {
  return new FormGroup({
    name: textControl(profile.name),
    maxLength: textControl(profile.maxLength),
    allow: textControl(profile.allow),
    case: controlOf(profile.case),
    prefix: textControl(profile.prefix),
    byDevice: controlOf(profile.byDevice),
    reserved: textControl(profile.reserved.join(' ')),
    columns: textControl(profile.columns.join(', ')),
    separator: controlOf(profile.separator),
    head: controlOf(profile.head),
    encoding: controlOf(profile.encoding),
    byteOrderMark: controlOf(profile.byteOrderMark),
  });
}
export type TypedProfile = ReturnType<ReturnType<typeof profileGroup>['getRawValue']>;

/** What of a profile is not typed here. */
export type KeptOfProfile = Pick<ListProfile, 'id' | 'projectId' | 'deviceIds' | 'portable' | 'scanMs' | 'parts'>;

/** What was typed, as the schema is asked about it. */
export function profileOfTyped(typed: TypedProfile, kept: KeptOfProfile): unknown {
  return {
    ...{ ...kept, ...typed },
    name: typed.name.trim(),
    maxLength: typedNumber(typed.maxLength),
    prefix: typed.prefix.trim(),
    reserved: typed.reserved.split(/[\s,;]+/).filter(Boolean),
    columns: columnsTyped(typed.columns),
  };
}

function columnsTyped(text: string): string[] {
  return text
    .toLowerCase()
    .split(/[\s,;]+/)
    .filter(Boolean);
}

/** A problem of the schema where it belongs in the form; of columns, in words. */
export function profileIssueAt({ path, message }: Issue, typed: TypedProfile): Issue {
  const [first, second] = path;
  if (first !== 'columns' || typeof second !== 'number') return { message, path: path.slice(0, 1) };
  const known: readonly ListColumn[] = listColumns.map(({ name }) => name);
  return { message: `“${columnsTyped(typed.columns)[second]}” is no column; there are ${known.join(', ')}.`, path: ['columns'] };
}
