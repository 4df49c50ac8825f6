import { toHex } from '../../frame/index.js';
import { type CarriedTelegram, textsOn } from '../../converter/index.js';
import { type ProjectDocument, readText } from '../../model/index.js';
import { encodedLength, textOf, visible } from '../../telegram/index.js';
import { nameInWords, type NamedTelegram, nameText, wordsOfField } from '../../text-line/index.js';
import type { TraceEntry } from '../record.js';
import type { SeenPoint, ToldExchange, ToldFrame } from '../told.js';
import type { Foreign } from './definition.js';
import { perLine, sendersIn } from './on-line.js';

type Fields = ToldFrame['fields'];

/** Texts of a line: told by the telegrams that they are. Packet analysers have no form for them: they stand as bytes in a type of one’s own. */
export const text: Foreign = {
  one: 'text',
  linkType: 147,
  teller(document) {
    const telegramsOn = perLine(document, textsOn);
    const senderOf = sendersIn(document);
    return (entry) => {
      const device = senderOf(entry.requestId);
      const bytes = entry.got ?? entry.sent ?? new Uint8Array();
      const telegrams = telegramsOn(entry.endpointId);
      const named = nameText(telegrams, bytes);
      const isSound = named.found.length > 0 && named.found.every(({ parsed }) => parsed.ok);
      const who = device?.name ?? whoElse(document, entry, telegrams);
      const what =
        named.found.length > 0 ? nameInWords(named) : `${who} sends “${visible(textOf(bytes, 'latin1'))}”. ${nameInWords(named)}`;
      return {
        ...{ device, who, span: null },
        sentence: `${what.replace(/\.$/, '')}.${onItsWay(entry)}`,
        isTrouble: entry.end !== 'arrived' || (telegrams.length > 0 && !isSound),
        points: () => named.found.flatMap(pointsOf),
        frames: () => framesOf(entry, telegrams),
      } satisfies ToldExchange;
    };
  },
};

/** Who sends what no device of the project did: a person, Plain Envoy, or, where that listens itself, who is on the line. */
function whoElse(
  document: ProjectDocument | null,
  { endpointId, requestId, sent }: TraceEntry,
  telegrams: readonly CarriedTelegram[],
): string {
  if (requestId === endpointId) {
    const line = document?.lines.find(({ id }) => id === endpointId)?.name;
    return line ? `A terminal on ${line}` : 'A terminal';
  }
  const names = new Set(telegrams.map(({ deviceName }) => deviceName));
  return sent ? 'Plain Envoy' : names.size === 1 ? [...names][0]! : 'Somebody';
}

function onItsWay({ end }: TraceEntry): string {
  if (end === 'silent') return ' Nobody hears it.';
  return end === 'damaged' ? ' It arrives otherwise than it was sent.' : '';
}

/** What a sound telegram carried; of a damaged one nothing is taken. */
function pointsOf({ telegram, parsed }: NamedTelegram): SeenPoint[] {
  if (!parsed.ok) return [];
  return telegram.points.flatMap((point): SeenPoint[] => {
    const { place } = point;
    const value = place.kind === 'field' ? parsed.fields.find(({ name }) => name === place.field)?.value : undefined;
    const words = value === undefined || value === null ? null : wordsOfField(value, point);
    return words?.ok ? [{ point, value: readText(words.value, point) }] : [];
  });
}

/** What was sent and, where it came otherwise, what arrived. */
function framesOf({ sent, got, end }: TraceEntry, telegrams: readonly CarriedTelegram[]): ToldFrame[] {
  const frame = (name: string, bytes: Uint8Array): ToldFrame => {
    const { found } = nameText(telegrams, bytes);
    return { name, fields: fieldsOf(bytes, found), problems: found.flatMap(({ parsed }) => parsed.problems) };
  };
  const arrived = got && (end === 'damaged' || !sent) ? [frame('Arrived', got)] : [];
  return [...(sent ? [frame('Sent', sent)] : []), ...arrived];
}

/** Every byte of a text, by the fields of its telegrams; what stands between them is a start, an end or a separator. */
function fieldsOf(bytes: Uint8Array, found: readonly NamedTelegram[]): Fields {
  const marked = found
    .flatMap(({ telegram: { telegram }, parsed, at }) => {
      const own = bytes.subarray(at);
      const bytesTo = (character: number) => at + encodedLength(own, telegram.encoding, character);
      return parsed.fields.map(({ name, from, to, value, raw }) => {
        const isCheck = telegram.fields.find((field) => field.name === name)?.kind === 'checksum';
        const kind = value === null ? ('wrong' as const) : isCheck ? ('check' as const) : ('data' as const);
        const meaning = value === null ? `“${visible(raw)}” is none` : `“${visible(raw)}”, ${String(value)}`;
        return { name, from: bytesTo(from), to: bytesTo(to + 1), kind, meaning };
      });
    })
    .filter(({ from, to }) => to > from)
    .sort((a, b) => a.from - b.from);
  const fields: Fields = [];
  let next = 0;
  const between = (to: number) => {
    if (to <= next) return;
    const part = bytes.subarray(next, to);
    const whole = visible(textOf(part, 'latin1'));
    fields.push({
      name: whole,
      from: next,
      to: to - 1,
      hex: toHex(part),
      kind: 'head',
      meaning: found.length ? 'belongs to no field' : 'text',
    });
    next = to;
  };
  for (const { from, to, ...field } of marked) {
    between(from);
    if (from < next) continue;
    fields.push({ ...field, from, to: to - 1, hex: toHex(bytes.subarray(from, to)) });
    next = to;
  }
  between(bytes.length);
  return fields;
}
