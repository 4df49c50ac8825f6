import { type FrameField, toHex } from '../frame/index.js';
import { type FoundHeader, type Fragment, functions, indications, readFragment, type ReadFragment } from './application.js';
import { linkFunction, readLink } from './link.js';
import { readTransport } from './transport.js';

/** A frame with every octet explained. */
export interface Explained1815 {
  ok: boolean;
  fields: FrameField[];
  problems: string[];
  sentence: string;
}

const HEAD_BYTES = 10;
const BLOCK = 16;
const MOST_TOLD = 3;
const MOST_FIELDS = 400;

/**
 * Says of every octet of a frame of the link layer what it means: head, checks, transport, and the application where a whole fragment is in
 * it. Damaged ones are explained as far as they go.
 */
export function explain1815(bytes: Uint8Array): Explained1815 {
  const { frame, problem } = readLink(bytes);
  const fields: FrameField[] = [];
  const put = (name: string, from: number, to: number, meaning: string) => {
    if (from <= to && from < bytes.length)
      fields.push({ name, from, to: Math.min(to, bytes.length - 1), hex: toHex(bytes.subarray(from, to + 1)), meaning });
  };
  if (!frame) {
    put('not explained', 0, bytes.length - 1, problem!);
    return { ok: false, fields, problems: [problem!], sentence: `It is no sound frame. ${problem!}` };
  }
  const { fromMaster, isPrimary, data, destination, source } = frame;
  put('start', 0, 1, 'a frame begins');
  put('length', 2, 2, `${bytes[2]!} octets follow, checks not counted`);
  put('control', 3, 3, `${linkFunction(frame)}, from the ${fromMaster ? 'control station' : 'outstation'}`);
  put('destination', 4, 5, `station ${destination}`);
  put('source', 6, 7, `station ${source}`);
  put('check', 8, 9, 'of the head, right');
  const who = `Station ${source} to ${destination}`;
  if (!isPrimary || data.length === 0) return { ok: true, fields, problems: [], sentence: `${who}: ${linkFunction(frame)}.` };
  const head = readTransport(data[0]!);
  const { isFirst, isFinal, sequence } = head;
  const piece =
    isFirst && isFinal ? 'a whole fragment' : isFirst ? 'the first piece of a fragment' : isFinal ? 'the last piece' : 'a piece between';
  const own: { name: string; from: number; to: number; meaning: string }[] = [
    { name: 'transport', from: 0, to: 0, meaning: `${piece}, number ${sequence}` },
  ];
  const read = isFirst && isFinal ? readFragment(data.subarray(1)) : null;
  if (read) own.push(...fragmentFields(read, data.length - 1).map((field) => ({ ...field, from: field.from + 1, to: field.to + 1 })));
  else if (data.length > 1) own.push({ name: 'piece', from: 1, to: data.length - 1, meaning: `${data.length - 1} octets of a fragment` });
  inBlocks(own, data.length, put);
  fields.sort((a, b) => a.from - b.from);
  const problems = read?.problem ? [read.problem] : [];
  const said = read ? fragmentSentence(read) : isFirst && isFinal ? 'a fragment whose head is not whole' : piece;
  return { ok: problems.length === 0, fields, problems, sentence: `${who}: ${said}.${problems[0] ? ` ${problems[0]}` : ''}` };
}

/** Fields of the user data where they stand in the frame, between the checks of its blocks; one that goes past a check is in two. */
function inBlocks(
  own: readonly { name: string; from: number; to: number; meaning: string }[],
  length: number,
  put: (name: string, from: number, to: number, meaning: string) => void,
): void {
  const placeOf = (at: number) => HEAD_BYTES + at + 2 * Math.floor(at / BLOCK);
  for (const { name, from, to, meaning } of own)
    for (let at = from; at <= to;) {
      const end = Math.min(to, at - (at % BLOCK) + BLOCK - 1);
      put(name, placeOf(at), placeOf(end), at === from ? meaning : 'goes on');
      at = end + 1;
    }
  for (let at = 0; at < length; at += BLOCK) {
    const end = Math.min(length, at + BLOCK) - 1;
    put('check', placeOf(end) + 1, placeOf(end) + 2, 'of the block before it, right');
  }
}

function fragmentFields({ fragment, headers, restFrom }: ReadFragment, length: number) {
  const { functionCode, indications: internal } = fragment;
  const fields = [
    { name: 'application', from: 0, to: 0, meaning: controlText(fragment) },
    { name: 'function', from: 1, to: 1, meaning: functions[functionCode] ?? `function ${functionCode}` },
  ];
  if (internal !== null) fields.push({ name: 'indications', from: 2, to: 3, meaning: indicationsText(internal) || 'none' });
  for (const header of headers) {
    const { headAt, type, objects, objectsAt, group, variation } = header;
    const count = objects.length === 0 ? '' : `, ${objects.length} of them`;
    fields.push({ name: 'object', ...headAt, meaning: `group ${group} variation ${variation}: ${type.name}${count}` });
    for (const [at, place] of objectsAt.entries()) {
      if (place.to < place.from || fields.length >= MOST_FIELDS) continue;
      const last = fields.at(-1)!;
      // Packed ones share their octet.
      if (last.name === 'value' && last.from === place.from) last.meaning += `, ${objectText(header, at)}`;
      else fields.push({ name: 'value', ...place, meaning: objectText(header, at) });
    }
  }
  const next = Math.max(restFrom, ...headers.map(({ objectsAt, headAt }) => (objectsAt.at(-1) ?? headAt).to + 1), 0);
  const told = fields.at(-1)!.to + 1;
  if (told < next) fields.push({ name: 'value', from: told, to: next - 1, meaning: 'more of them' });
  if (next < length) fields.push({ name: 'not explained', from: next, to: length - 1, meaning: 'what it is cannot be told' });
  return fields;
}

function controlText({ isFirst, isFinal, wantsConfirm, isUnsolicited, sequence }: Fragment): string {
  const whole = isFirst && isFinal ? 'whole' : isFirst ? 'the first of several' : isFinal ? 'the last of several' : 'one between';
  return `${whole}, number ${sequence}${wantsConfirm ? ', wants a confirmation' : ''}${isUnsolicited ? ', unasked' : ''}`;
}

function indicationsText(internal: number): string {
  return indications.filter((_, bit) => (internal >> bit) & 1).join(', ');
}

function objectText({ type, objects }: FoundHeader, at: number): string {
  const { index, held } = objects[at]!;
  const said = type.packedBits
    ? String(held['value'])
    : type.elements
        .map((element) => element.tell(held))
        .filter(Boolean)
        .join(', ');
  const named = index === null ? said : `${index}: ${said}`;
  return said ? named : String(index ?? '');
}

function fragmentSentence({ fragment, headers }: ReadFragment): string {
  const { functionCode, indications: internal } = fragment;
  const parts = headers.map((header) => {
    const told = header.objects
      .slice(0, MOST_TOLD)
      .map((_, at) => objectText(header, at))
      .filter(Boolean);
    const more = header.objects.length > MOST_TOLD ? ` and ${header.objects.length - MOST_TOLD} more` : '';
    return `${header.type.name}${told.length ? ` ${told.join('; ')}${more}` : ''}`;
  });
  const also = internal ? ` (${indicationsText(internal)})` : '';
  return `${functions[functionCode] ?? `function ${functionCode}`}${parts.length ? ` ${parts.join('; ')}` : ''}${also}`;
}
