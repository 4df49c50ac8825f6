import { askedFor } from '../converter/index.js';
import { formatAddress, tableNames } from '../address/index.js';
import { sentenceOf } from '../failure/index.js';
import { explainFrame } from '../explain/index.js';
import { inquiryOf } from '../codec/index.js';
import { describeException, functionOf, unpackBits, unpackWords } from '../frame/index.js';
import { type Device, type Point, pointWidth, type ProjectDocument, readText } from '../model/index.js';
import { BROADCAST_UNIT, type PlannedRequest } from '../plan/index.js';
import { type ForeignFraming, foreignOf, isModbus } from './foreign/list.js';
import { pduOf, type TraceEntry, type TraceRecord } from './record.js';
import type { FieldKind, RegisterSpan, SeenPoint, ToldExchange, ToldFrame } from './told.js';

const MAX_NAMED = 4;

/** Tells exchanges in the words of a project: its devices, its notations, its points. Without one, by units and offsets alone. */
export function teller(document: ProjectDocument | null, requests: readonly PlannedRequest[]): (entry: TraceEntry) => ToldExchange {
  const ofModbus = modbusTeller(document, requests);
  const others = new Map<ForeignFraming, (entry: TraceEntry) => ToldExchange>();
  return (entry) => {
    if (isModbus(entry)) return ofModbus(entry);
    const framing = entry.framing as ForeignFraming;
    const tell = others.get(framing) ?? foreignOf(entry)!.teller(document);
    others.set(framing, tell);
    return tell(entry);
  };
}

function modbusTeller(document: ProjectDocument | null, requests: readonly PlannedRequest[]): (record: TraceRecord) => ToldExchange {
  const devices = new Map(document?.devices.map((device) => [device.id, device]));
  const byRequest = new Map(requests.map(({ id, deviceId }) => [id, deviceId]));
  const byUnit = new Map(requests.map(({ endpointId, unitId, deviceId }) => [`${endpointId} ${unitId}`, deviceId]));
  const byIp = new Map(document?.ports.flatMap((port) => (port.kind === 'ethernet' ? [[port.ip, port.deviceId] as const] : [])));
  const points = new Map<string, Point[]>();
  const askedAt = document && askedFor(document);
  for (const point of document?.points ?? []) {
    const key = `${askedAt?.(point.deviceId) ?? point.deviceId} ${point.table}`;
    const known = points.get(key);
    if (known) known.push(point);
    else points.set(key, [point]);
  }
  const deviceOf = ({ endpointId, unit, requestId }: TraceRecord): Device | null => {
    // Two devices with one unit ID are told apart by what was asked of them.
    const asked = devices.get(byRequest.get(requestId ?? '') ?? '');
    if (asked) return asked;
    const dialled = byIp.get(endpointId.replace(/:\d+$/, '')) ?? endpointId;
    return devices.get(byUnit.get(`${dialled} ${unit}`) ?? '') ?? null;
  };
  return (record) => {
    const device = deviceOf(record);
    const asked = askedIn(record);
    const who = isToAll(record) ? everyUnit(record, document) : (device?.name ?? `Unit ${record.unit}`);
    const seen = asked && device ? seenPoints(record, asked, points.get(`${device.id} ${asked.span.table}`) ?? []) : noPoints;
    const where = asked ? placeOf(asked.span, device) : '';
    const sentence = exchangeText(record, who, asked, where, listOf(seen));
    return {
      ...{ device, who, sentence, span: asked?.span ?? null, isTrouble: record.end !== 'answered' },
      points: () => seen.points.map(seen.told),
      frames: () => framesOf(record),
    };
  };
}

/** What a field of a frame is about, by its name. */
const kinds: Readonly<Record<string, FieldKind>> = {
  unit: 'unit',
  function: 'function',
  offset: 'place',
  'write offset': 'place',
  count: 'amount',
  'write count': 'amount',
  value: 'data',
  data: 'data',
  kept: 'data',
  set: 'data',
  exception: 'wrong',
  leftover: 'wrong',
  crc: 'check',
  lrc: 'check',
};

function framesOf({ sent, got, framing }: TraceRecord): ToldFrame[] {
  const told = (name: string, bytes: Uint8Array | null, direction: 'request' | 'response'): ToldFrame[] => {
    if (!bytes) return [];
    const { fields, problems } = explainFrame(bytes, framing, direction);
    return [{ name, problems, fields: fields.map((field) => ({ ...field, kind: kinds[field.name] ?? 'head' })) }];
  };
  return [...told('Asked', sent, 'request'), ...told('Answered', got, 'response')];
}

/** What nobody answers, and unit 0 on a serial line, goes to every unit. */
function isToAll({ unit, end, framing }: TraceRecord): boolean {
  return unit === BROADCAST_UNIT && (end === 'sent' || framing !== 'tcp');
}

/** `Every unit of Kiln bus`, or of what the gateway that was asked stands in front of. */
function everyUnit({ endpointId }: TraceRecord, document: ProjectDocument | null): string {
  const line = document?.lines.find(({ id }) => id === endpointId)?.name;
  const gateway = document?.devices.find(({ id }) => id === endpointId)?.name;
  return line ? `Every unit of ${line}` : gateway ? `Every unit behind ${gateway}` : 'Every unit';
}

/** What a question is about, as its bytes say. */
export interface Asked {
  kind: 'read' | 'write' | 'exchange';
  span: RegisterSpan;
  /** What is written, where it is in the question. */
  written: number[] | null;
}

/** Null where the question was not recorded, or reaches no registers. */
export function askedIn(record: TraceRecord): Asked | null {
  const known = functionOf(record.functionCode);
  const pdu = record.sent && pduOf(record.sent, record.framing);
  if (!known || !pdu || pdu.length < 5) return null;
  const { table, bits } = known;
  const number = (at: number) => ((pdu[at] ?? 0) << 8) | (pdu[at + 1] ?? 0);
  const offset = number(1);
  switch (known.kind) {
    case 'read':
      return { kind: 'read', span: { table, offset, count: number(3) }, written: null };
    case 'exchange':
      return { kind: 'exchange', span: { table, offset, count: number(3) }, written: null };
    case 'write-one':
      return { kind: 'write', span: { table, offset, count: 1 }, written: [bits ? Number(number(3) !== 0) : number(3)] };
    case 'mask':
      return { kind: 'write', span: { table, offset, count: 1 }, written: null };
    case 'write-many': {
      const count = Math.min(number(3), bits ? (pdu.length - 6) * 8 : (pdu.length - 6) >> 1);
      const written = count > 0 ? (bits ? unpackBits(pdu, 6, count) : unpackWords(pdu, 6, count)) : [];
      return { kind: 'write', span: { table, offset, count: number(3) }, written };
    }
  }
}

/** The points that an exchange carried, and how one of them is told. */
interface Seen {
  points: readonly Point[];
  told(point: Point): SeenPoint;
}

const noPoints: Seen = { points: [], told: (point) => ({ point, value: '' }) };

function seenPoints(record: TraceRecord, { kind, span, written }: Asked, points: readonly Point[]): Seen {
  const values = written ?? (kind !== 'write' && record.end === 'answered' ? answered(record, span) : null);
  if (!values) return noPoints;
  return {
    points: points.filter((point) => point.offset >= span.offset && point.offset + pointWidth(point) <= span.offset + values.length),
    told(point) {
      const from = point.offset - span.offset;
      return { point, value: readText(values.slice(from, from + pointWidth(point)), point) };
    },
  };
}

/** What an answer holds of what was asked: words, or 0 and 1 for bits; null where it does not hold it. */
export function answered(record: TraceRecord, { count }: RegisterSpan): number[] | null {
  const pdu = record.got && pduOf(record.got, record.framing);
  const known = functionOf(record.functionCode);
  if (!pdu || !known || pdu.length < 2 + (known.bits ? Math.ceil(count / 8) : count * 2)) return null;
  return known.bits ? unpackBits(pdu, 2, count) : unpackWords(pdu, 2, count);
}

function placeOf({ table, offset }: RegisterSpan, device: Device | null): string {
  if (!device || device.notation === 'pdu') return `offset ${offset}`;
  const text = formatAddress({ table, offset }, device.notation, device.areas);
  return device.notation === 'number' ? `number ${text}` : text;
}

function exchangeText(record: TraceRecord, who: string, asked: Asked | null, where: string, values: string): string {
  const took = record.ms === null ? '' : ` after ${record.ms < 10 ? record.ms.toFixed(1) : Math.round(record.ms)} ms`;
  if (record.end === 'late') return `An answer of ${who} comes when nobody waits for it any more.`;
  const question = questionOf(record, who, asked, where, values);
  switch (record.end) {
    case 'sent':
      return `${question}; nobody answers that.`;
    case 'answered':
      if (!record.got) return `${question}.`;
      if (!asked) return `${question};${took} it ${toldBy(record.got, record, 'response')}.`;
      return asked?.kind === 'write' ? `${question}; it confirms${took}.` : `${question}; it answers ${values || 'as asked'}${took}.`;
    case 'refused':
      return `${question};${took && `${took},`} it refuses: ${describeException(exceptionOf(record))}.`;
    case 'silent':
      return `${question}; nothing comes${record.ms === null ? '' : ` within ${Math.round(record.ms)} ms`}.`;
    case 'damaged':
      return `${question}; what comes is not usable${took}. ${record.failure ? sentenceOf(record.failure) : ''}`.trim();
    default:
      return `${who} could not be asked. ${record.failure ? sentenceOf(record.failure) : ''}`.trim();
  }
}

function questionOf(record: TraceRecord, who: string, asked: Asked | null, where: string, values: string): string {
  const { functionCode, sent } = record;
  if (!asked) return `${who} ${sent ? toldBy(sent, record, 'request') : `is spoken to with function ${functionCode}`}`;
  const { kind, span } = asked;
  const names = tableNames[span.table];
  const things = `${span.count} ${span.count === 1 ? names.one : names.many}`;
  if (kind === 'read') return `${who} is asked for ${things} from ${where}`;
  if (kind === 'exchange') return `${who} is written to and asked for ${things} from ${where}`;
  return `${who} is told ${values ? values : `to set ${things}`} at ${where}`;
}

/** What a frame that reaches no register asks or answers, as it goes on after who does. */
function toldBy(frame: Uint8Array, { framing, functionCode }: TraceRecord, direction: 'request' | 'response'): string {
  const sentence = inquiryOf(functionCode)?.explain(pduOf(frame, framing), direction).sentence.replace(/\.$/, '');
  return sentence ?? (direction === 'response' ? 'answers' : `is spoken to with function ${functionCode}`);
}

function listOf({ points, told }: Seen): string {
  const named = points.slice(0, MAX_NAMED).map((point) => `${point.name} ${told(point).value}`);
  const more = points.length - named.length;
  return named.join(', ') + (more > 0 ? ` and ${more} more` : '');
}

function exceptionOf({ got, framing }: TraceRecord): number {
  return (got && pduOf(got, framing)[1]) ?? 0;
}
