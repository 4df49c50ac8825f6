import { FormArray, FormGroup } from '@angular/forms';
import { fromHex, toHex } from '@plain-envoy/core/frame';
import type { DeviceTelegram, SentWhen } from '@plain-envoy/core/model';
import { type Telegram, type TelegramField, typedBytes, visible } from '@plain-envoy/core/telegram';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import type { Issue } from '../../parts/schema-group';

export type Ending = 'end' | 'length' | 'lengthField' | 'silence';
export type FoundBy = 'position' | 'separator' | 'pattern';
type Kind = TelegramField['kind'];
/** On which side a field is filled up; nothing where its kind says so. */
type Side = NonNullable<TelegramField['pad']> | '';
type SumKind = NonNullable<TelegramField['checksum']>['kind'];
type Written = NonNullable<TelegramField['checksum']>['written'];

/** The controls of one field of a telegram. */
export function fieldGroup(field: TelegramField) {
  const { at, checksum } = field;
  const by: FoundBy = 'length' in at ? 'position' : 'separator' in at ? 'separator' : 'pattern';
  const [where, count] =
    'length' in at ? [at.from, at.length] : 'separator' in at ? [visible(at.separator), at.number] : [at.pattern, at.group ?? ''];
  return new FormGroup({
    name: textControl(field.name),
    kind: controlOf<Kind>(field.kind),
    by: controlOf(by),
    where: textControl(where),
    count: textControl(count),
    decimals: textControl(field.decimals ?? ''),
    codes: textControl(codesText(field.codes)),
    pad: controlOf<Side>(field.pad ?? ''),
    padWith: textControl(field.padWith ?? ''),
    sum: controlOf<SumKind>(checksum?.kind ?? 'xor8'),
    sumFrom: textControl(checksum?.from ?? 0),
    sumTo: textControl(checksum?.to ?? -3),
    written: controlOf<Written>(checksum?.written ?? 'hex'),
  });
}
export type FieldGroup = ReturnType<typeof fieldGroup>;

/** The controls of a telegram: bytes as a person types them, numbers as texts. */
export function telegramGroup(telegram: DeviceTelegram) {
  const { telegram: shape, when } = telegram;
  const ending: Ending = shape.end ? 'end' : shape.length !== undefined ? 'length' : shape.lengthField ? 'lengthField' : 'silence';
  return new FormGroup({
    name: textControl(telegram.name),
    direction: controlOf(telegram.direction),
    ending: controlOf<Ending>(ending),
    end: textControl((shape.end ?? ['0D']).map(asTyped).join(' ')),
    length: textControl(shape.length ?? ''),
    lengthFrom: textControl(shape.lengthField?.from ?? 0),
    lengthLength: textControl(shape.lengthField?.length ?? 2),
    lengthWritten: controlOf<'hex' | 'decimal' | 'raw'>(shape.lengthField?.written ?? 'decimal'),
    lengthAdds: textControl(shape.lengthField?.adds ?? 0),
    start: textControl(shape.start ? asTyped(shape.start) : ''),
    encoding: controlOf(shape.encoding),
    on: controlOf<SentWhen['on']>(when.on),
    periodMs: textControl(when.on === 'period' ? when.periodMs : when.on === 'change' ? (when.atLeastMs ?? '') : ''),
    answers: controlOf(when.on === 'request' ? when.telegramId : ''),
    lostAfterMs: textControl(telegram.lostAfterMs),
    timeoutMs: textControl(telegram.timeoutMs),
    tries: textControl(telegram.tries),
    samples: textControl(telegram.samples),
    fields: new FormArray(shape.fields.map(fieldGroup)),
  });
}
export type TelegramGroup = ReturnType<typeof telegramGroup>;
export type TypedTelegram = ReturnType<TelegramGroup['getRawValue']>;
type TypedField = ReturnType<FieldGroup['getRawValue']>;

/** What was typed, as the schema is asked about it; `kept` are the ids and the note. */
export function telegramOfTyped(typed: TypedTelegram, kept: Pick<DeviceTelegram, 'id' | 'projectId' | 'deviceId' | 'note'>): unknown {
  const { name, direction, samples } = typed;
  return {
    ...kept,
    ...{ name: name.trim(), direction, samples },
    telegram: shapeOf(typed),
    when: whenOf(typed),
    lostAfterMs: typedNumber(typed.lostAfterMs),
    timeoutMs: typedNumber(typed.timeoutMs),
    tries: typedNumber(typed.tries),
  };
}

/** What was typed of its shape alone. */
export function shapeOf(typed: TypedTelegram): unknown {
  const { ending, encoding, start } = typed;
  return {
    ...endingOf(ending, typed),
    ...(start.trim() ? { start: asHex(start) } : {}),
    encoding,
    fields: typed.fields.map(fieldOf),
  };
}

/** Where in the form a problem of the schema belongs. */
export function issueAt({ path, message }: Issue): Issue {
  const keys = path.map(String);
  if (keys[0] === 'when')
    return { message, path: [{ telegramId: 'answers', atLeastMs: 'periodMs', periodMs: 'periodMs' }[keys[1] ?? ''] ?? 'on'] };
  if (keys[0] !== 'telegram') return { message, path: keys.slice(0, 1) };
  if (keys[1] === 'fields') return { message, path: keys[2] === undefined ? [] : ['fields', keys[2], controlOfField(keys.slice(3))] };
  if (keys[1] === 'lengthField')
    return { message, path: [{ from: 'lengthFrom', length: 'lengthLength', adds: 'lengthAdds' }[keys[2] ?? ''] ?? 'lengthWritten'] };
  return { message, path: keys[1] === undefined ? [] : [keys[1]] };
}

function controlOfField([key, inner]: string[]): string {
  if (key === 'at') return ['length', 'number', 'group'].includes(inner ?? '') ? 'count' : 'where';
  if (key === 'checksum') return inner === 'to' ? 'sumTo' : inner === 'from' ? 'sumFrom' : 'kind';
  return key ?? 'name';
}

function endingOf(ending: Ending, { end, length, lengthFrom, lengthLength, lengthWritten, lengthAdds }: TypedTelegram): object {
  if (ending === 'end') return { end: end.split(/\s+/).filter(Boolean).map(asHex) };
  if (ending === 'length') return { length: typedNumber(length) };
  if (ending === 'silence') return { silence: true };
  return {
    lengthField: {
      from: typedNumber(lengthFrom),
      length: typedNumber(lengthLength),
      written: lengthWritten,
      adds: typedNumber(lengthAdds),
    },
  };
}

function fieldOf({ name, kind, by, where, count, decimals, codes, pad, padWith, sum, sumFrom, sumTo, written }: TypedField): unknown {
  return {
    name: name.trim(),
    at:
      by === 'position'
        ? { from: typedNumber(where), length: typedNumber(count) }
        : by === 'separator'
          ? { separator: separatorOf(where), number: typedNumber(count) }
          : { pattern: where, ...(count.trim() ? { group: typedNumber(count) } : {}) },
    kind,
    ...(kind === 'decimal' && decimals.trim() ? { decimals: typedNumber(decimals) } : {}),
    ...(kind === 'code' && codes.trim() ? { codes: codesOf(codes) } : {}),
    ...(kind === 'checksum' ? { checksum: { kind: sum, from: typedNumber(sumFrom), to: typedNumber(sumTo), written } } : {}),
    ...(pad ? { pad } : {}),
    ...(padWith ? { padWith } : {}),
  };
}

function whenOf({ on, periodMs, answers }: TypedTelegram): unknown {
  if (on === 'period') return { on, periodMs: typedNumber(periodMs) };
  if (on === 'change') return { on, atLeastMs: periodMs.trim() ? typedNumber(periodMs) : null };
  return { on, telegramId: answers };
}

/** `<CR><LF>` for 0D 0A. */
function asTyped(hex: string): string {
  const bytes = fromHex(hex);
  return bytes.ok ? visible(String.fromCharCode(...bytes.value)) : hex;
}

function asHex(typed: string): string {
  const bytes = typedBytes(typed.trim());
  return bytes.ok ? toHex(bytes.value) : typed;
}

function separatorOf(typed: string): string {
  const bytes = typedBytes(typed);
  return bytes.ok ? String.fromCharCode(...bytes.value) : typed;
}

/** `S = stable, M = moving`. */
function codesText(codes: TelegramField['codes']): string {
  return Object.entries(codes ?? {})
    .map(([text, name]) => `${text} = ${name}`)
    .join(', ');
}

function codesOf(text: string): Record<string, string> {
  return Object.fromEntries(
    text.split(',').flatMap((part) => {
      const [code = '', name = code] = part.split('=').map((each) => each.trim());
      return code === '' ? [] : [[code, name] as const];
    }),
  );
}

/** A field for the characters that are marked in a line of samples: between separators where they are just such a part, else by position. */
export function fieldOfMark(text: string, from: number, to: number, name: string): TelegramField {
  const [before, after] = [text[from - 1], text[to]];
  const separator = [before, after].find((one) => one !== undefined && /[;,|\t]/.test(one));
  const ends = (one: string | undefined) => one === undefined || one === separator || one < ' ';
  const marked = text.slice(from, to);
  const bare = marked.trim();
  const kind: Kind = /^[+-]? *\d+$/.test(bare) ? 'integer' : /^[+-]? *\d+[.,]\d+$/.test(bare) ? 'decimal' : 'text';
  if (separator !== undefined && ends(before) && ends(after) && !marked.includes(separator))
    return { name, kind, at: { separator, number: text.slice(0, from).split(separator).length - 1 } };
  return { name, kind, at: { from, length: to - from } };
}

/** The characters between start and end of a line of samples, and how many come before them. */
export function bareSample(line: string, { start }: Pick<Telegram, 'start'>): { text: string; skipped: number } {
  const bytes = typedBytes(line);
  const text = bytes.ok ? String.fromCharCode(...bytes.value) : line;
  const begin = start ? fromHex(start) : null;
  const head = begin?.ok ? String.fromCharCode(...begin.value) : '';
  return text.startsWith(head) ? { text: text.slice(head.length), skipped: head.length } : { text, skipped: 0 };
}
