import { type AbstractControl, FormArray, FormControl, FormGroup } from '@angular/forms';

/** As much of JSON Schema as our own schemas use. */
export interface JsonSchema {
  /** Several where null is one of them. */
  type?: string | string[];
  enum?: (string | number)[];
  const?: string | number;
  anyOf?: JsonSchema[];
  items?: JsonSchema;
  prefixItems?: JsonSchema[];
  properties?: Record<string, JsonSchema>;
  required?: string[];
  description?: string;
  default?: unknown;
  /** How many lines are shown of it; one where it does not say. */
  lines?: number;
}

/** What stands in a field while it is typed: text, a tick, or rows of fields. */
export type Typed = string | boolean | TypedForm[];
export interface TypedForm {
  [key: string]: Typed;
}

/** One field of a form that was built from a schema. */
export interface SchemaField {
  key: string;
  label: string;
  hint: string;
  kind: 'text' | 'number' | 'choice' | 'tick' | 'numbers' | 'rows' | 'json';
  options: (string | number)[];
  /** So many lines may be typed; 0 for one that does not grow. */
  lines: number;
  /** Empty means that it is left out, or null where the schema takes that. */
  optional: boolean;
  nullable: boolean;
  row: JsonSchema | null;
}

/** The fields of an object's schema, in its order. */
export function fieldsOf(schema: JsonSchema): SchemaField[] {
  return Object.entries(schema.properties ?? {}).map(([key, own]) => {
    const given = asUnion(own);
    const nullable = given.anyOf?.some(({ type }) => type === 'null') ?? false;
    const inner = nullable ? withoutNull(given) : given;
    return {
      key,
      label: labelOf(key),
      hint: given.description ?? inner.description ?? '',
      kind: kindOf(inner),
      options: optionsOf(inner),
      lines: given.lines ?? inner.lines ?? 0,
      optional: !schema.required?.includes(key),
      nullable,
      row: inner.type === 'array' && inner.items?.type === 'object' ? inner.items : null,
    };
  });
}

/** What was typed, as the value that the schema describes. Text that is no number stays text, so that the schema can refuse it. */
export function valueOf(schema: JsonSchema, typed: TypedForm): Record<string, unknown> {
  const value: Record<string, unknown> = {};
  for (const field of fieldsOf(schema)) {
    const given = typed[field.key];
    if (given === undefined) continue;
    const read = readField(field, given);
    if (read !== undefined) value[field.key] = read;
  }
  return value;
}

/** What an object of this schema begins with. */
export function defaultsOf({ properties = {} }: JsonSchema): Record<string, unknown> {
  return Object.fromEntries(Object.entries(properties).map(([key, { default: value }]) => [key, value]));
}

/** A value, as it is written into the fields. */
export function typedOf(schema: JsonSchema, value: Record<string, unknown>): TypedForm {
  return Object.fromEntries(fieldsOf(schema).map((field) => [field.key, writeField(field, value[field.key])]));
}

/** The controls for a form of this schema, or for these fields of it: a group, with an array of groups where the schema has rows. */
export function groupOf(schema: JsonSchema, typed: TypedForm, only?: readonly string[]): FormGroup<Record<string, AbstractControl>> {
  const fields = fieldsOf(schema).filter(({ key }) => !only || only.includes(key));
  return new FormGroup<Record<string, AbstractControl>>(
    Object.fromEntries(
      fields.map(({ key, kind, row }) => {
        const own = typed[key];
        if (kind === 'rows') return [key, new FormArray(((own as TypedForm[] | undefined) ?? []).map((each) => groupOf(row!, each)))];
        return [key, new FormControl(own ?? (kind === 'tick' ? false : ''), { nonNullable: true })];
      }),
    ),
  );
}

/** `responseDelayMs` is “Response delay, ms”. */
export function labelOf(key: string): string {
  const [, stem, unit] = /^(.*?)(OhmPerKm|Ohm|PerSecond|Ms|KHz|M|V|A)?$/.exec(key) ?? [key, key];
  const known = unit && stem ? units[unit] : undefined;
  const words = (known ? stem! : key).replace(
    /([a-z0-9])([A-Z])/g,
    (_, before: string, after: string) => `${before} ${after.toLowerCase()}`,
  );
  const text = words.charAt(0).toUpperCase() + words.slice(1);
  return known ? `${text}, ${known}` : text;
}

const units: Record<string, string> = { OhmPerKm: 'Ω per km', Ohm: 'Ω', PerSecond: 'a second', Ms: 'ms', M: 'm', V: 'V', A: 'A' };

/** `type: [number, null]` is a union as any other. */
function asUnion(schema: JsonSchema): JsonSchema {
  const { type, ...rest } = schema;
  return Array.isArray(type) ? { ...rest, anyOf: type.map((one) => ({ type: one })) } : schema;
}

function withoutNull(schema: JsonSchema): JsonSchema {
  const rest = schema.anyOf!.filter(({ type }) => type !== 'null');
  return rest.length === 1 ? rest[0]! : { ...schema, anyOf: rest };
}

function kindOf(schema: JsonSchema): SchemaField['kind'] {
  if (optionsOf(schema).length) return 'choice';
  if (schema.type === 'boolean') return 'tick';
  if (schema.type === 'integer' || schema.type === 'number') return 'number';
  if (schema.type === 'string') return 'text';
  if (schema.type === 'array' && schema.items?.type === 'object') return 'rows';
  if (schema.type === 'array' && isNumeric(schema.items ?? schema.prefixItems?.[0])) return 'numbers';
  return 'json';
}

function isNumeric(schema: JsonSchema | undefined): boolean {
  return schema?.type === 'integer' || schema?.type === 'number';
}

function optionsOf({ enum: values, anyOf, const: only }: JsonSchema): (string | number)[] {
  if (values) return values;
  if (only !== undefined) return [only];
  const constants = anyOf?.map((member) => member.const);
  return constants?.every((constant) => constant !== undefined) ? (constants as (string | number)[]) : [];
}

function readField(field: SchemaField, typed: Typed): unknown {
  if (field.kind === 'tick') return typed || !field.optional ? typed : undefined;
  if (field.kind === 'rows') return (typed as TypedForm[]).map((row) => valueOf(field.row!, row));
  const text = String(typed).trim();
  if (text === '') return field.optional ? undefined : field.nullable ? null : field.kind === 'text' ? '' : undefined;
  switch (field.kind) {
    case 'number':
      return numberOr(text);
    case 'numbers':
      return text
        .split(/[\s,;]+/)
        .filter(Boolean)
        .map(numberOr);
    case 'choice':
      return field.options.find((option) => String(option) === text) ?? text;
    case 'json':
      return jsonOr(text);
    default:
      return text;
  }
}

function writeField(field: SchemaField, value: unknown): Typed {
  if (field.kind === 'tick') return value === true;
  if (field.kind === 'rows') return ((value as Record<string, unknown>[] | undefined) ?? []).map((row) => typedOf(field.row!, row));
  if (value === undefined || value === null) return '';
  if (field.kind === 'numbers') return (value as number[]).join(' ');
  return typeof value === 'object' ? JSON.stringify(value) : String(value);
}

/** Takes `0x1F` and a decimal comma as well. */
function numberOr(text: string): number | string {
  const number = Number(text.replace(',', '.'));
  return Number.isNaN(number) ? text : number;
}

function jsonOr(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return text;
  }
}
