import { hexIdentifier } from '../can-id/index.js';
import { identifiersOf } from '../can-line/index.js';
import { formatAddress, tableNames } from '../address/index.js';
import { type CyclicLine, mediumOf, type Port, standardName, telecontrolPort } from '../media/index.js';
import { type Device, type DeviceFrame, type DeviceTelegram, type Point, pointWidth, type ProjectDocument } from '../model/index.js';
import { commands, type EventPlace, labelOf, messageOf, partOf, placeWords, type PointPlace } from '../place/index.js';
import { shortOrder } from '../value/index.js';
import { visible } from '../telegram/index.js';
import { fromHex } from '../frame/index.js';
import { farLineOf, windowsOn } from '../converter/index.js';
import { type CarriedStation, stationsOn } from '../stations/index.js';
import { directionOf, farPointsIn } from '../placing/index.js';
import { spansInImage } from './image-layout.js';

/** A value as it is typed into the set-up of a converter: where it comes from or goes to on each side, and where it lies between. */
export interface MappingRow {
  pointId: string;
  line: string;
  device: string;
  /** What it is on the far side: `field gross of Weighing`. */
  far: string;
  direction: 'into the image' | 'out of the image';
  name: string;
  /** Bytes of the image, the first and the last; a bit as `9.0`. */
  bytes: string;
  /** The same in the counting of the far side. */
  farBytes: string;
  /** As the carrier reads or writes it, in the notation of the converter’s papers. */
  register: string;
  table: string;
  registers: number;
  type: string;
  order: string;
}

/** Everything that the set-up of a converter asks for. */
export interface MappingSheet {
  converter: string;
  /** A sentence for each side, window and telegram. */
  settings: string[];
  rows: MappingRow[];
}

/** What a place is at its far end: `field gross of Weighing`. */
export function farWords({ telegrams, frames }: Pick<ProjectDocument, 'telegrams' | 'frames'>, place: PointPlace): string {
  const message = [...telegrams, ...frames].find(({ id }) => id === messageOf(place));
  return placeWords(place, message?.name ?? `a ${partOf(place)} that is gone`);
}

/** Where a point of a device is, as its papers write it: `40101`, `87.8` for a bit of a register, or what it is at its far end. */
export function placeText(document: Pick<ProjectDocument, 'telegrams' | 'frames'>, point: Point, { notation, areas }: Device): string {
  return point.place.kind === 'register' ? formatAddress(point, notation, areas) : farWords(document, point.place);
}

/** The mapping sheet of a converter: every number as its set-up asks for it. */
export function mappingSheet(document: ProjectDocument, converter: Device): MappingSheet {
  const { lines, devices, ports, telegrams, frames } = document;
  const spans = new Map(spansInImage(document, converter).map((span) => [span.point.id, span]));
  const far = farPointsIn(document, converter.id);
  const rows = far.map((point): MappingRow => {
    const span = spans.get(point.id);
    const line = farLineOf(document, point.deviceId);
    const bit = point.bit === null ? null : point.bit % 8;
    const window =
      span && line ? windowsOn(converter, line.id).find(({ byte, bytes }) => span.from >= byte && span.to < byte + bytes) : null;
    const ownFrom = span && window ? (window.offset ?? 0) + span.from - window.byte : null;
    return {
      pointId: point.id,
      line: line?.name ?? '',
      device: devices.find(({ id }) => id === point.deviceId)?.name ?? '',
      far: farWords(document, point.place),
      direction: directionOf(document, point) === 'taken' ? 'out of the image' : 'into the image',
      name: point.name,
      bytes: span ? spanText(span.from, span.to, bit) : 'nowhere',
      farBytes: span && ownFrom !== null ? spanText(ownFrom, ownFrom + span.to - span.from, bit) : '',
      register: formatAddress(point, converter.notation, converter.areas),
      table: tableNames[point.table].many,
      registers: pointWidth(point),
      type: point.type,
      order: point.type === 'bit' ? '' : shortOrder(point.order),
    };
  });
  const order = (row: MappingRow) => spans.get(row.pointId)?.from ?? Infinity;
  return {
    converter: converter.name,
    settings: [
      ...sidesOf(document, converter),
      ...(converter.image
        ? [
            `Its image has ${converter.image.bytes} bytes, carried every ${converter.image.refreshMs} ms.`,
            ...converter.image.windows.map((window) => {
              const side = lines.find(({ id }) => id === window.lineId)?.name ?? 'A line that is gone';
              const bytes = `bytes ${window.byte} to ${window.byte + window.bytes - 1} of the image`;
              const as = window.table
                ? ` as ${tableNames[window.table].many} from ${formatAddress({ table: window.table, offset: window.offset ?? 0 }, converter.notation, converter.areas)} on, ${window.order === 'high-first' ? 'high' : 'low'} byte first`
                : ` from its own byte ${window.offset ?? 0} on, numbers with their ${window.order === 'high-first' ? 'high' : 'low'} byte first`;
              return `${side} ${window.use} ${bytes}${as}.`;
            }),
          ]
        : []),
      ...telegrams.filter((telegram) => far.some(({ place }) => messageOf(place) === telegram.id)).map(telegramSentence),
      ...lines.flatMap((line) =>
        line.kind === 'cyclic' && ports.some(({ deviceId, lineId }) => deviceId === converter.id && lineId === line.id)
          ? [linkSentence(line, ports)]
          : [],
      ),
      ...lines.flatMap(({ id }) =>
        stationsOn(document, id).flatMap((station) =>
          [station.control, station.outstation].some((end) => end?.deviceId === converter.id) ? stationSentences(station) : [],
        ),
      ),
      ...far.flatMap(({ name, unit, place }) =>
        place.kind === 'event' && place.part === 'value' ? [eventSentence(name, unit, place)] : [],
      ),
      ...frames.filter((frame) => far.some(({ place }) => messageOf(place) === frame.id)).map(frameSentence),
    ],
    rows: rows.sort((a, b) => order(a) - order(b)),
  };
}

function sidesOf({ lines, ports }: ProjectDocument, converter: Device): string[] {
  return ports.flatMap((port) => {
    const line = port.deviceId === converter.id ? lines.find(({ id }) => id === port.lineId) : undefined;
    if (!line) return [];
    const medium = mediumOf(line.kind);
    return [`On ${line.name}: ${medium.describeLine(line as never)}; its port ${medium.describePort(port as never)}.`];
  });
}

function telegramSentence({ name, telegram, when, direction }: DeviceTelegram): string {
  const typed = (hex: string) => {
    const bytes = fromHex(hex);
    return bytes.ok ? visible(String.fromCharCode(...bytes.value)) : hex;
  };
  const ends = telegram.end
    ? `ends by ${telegram.end.map(typed).join(' or ')}`
    : telegram.length !== undefined
      ? `always has ${telegram.length} bytes`
      : telegram.lengthField
        ? `says its length at character ${telegram.lengthField.from}`
        : 'ends by a silence';
  const often = when.on === 'period' ? `every ${when.periodMs} ms` : when.on === 'change' ? 'on a change' : 'in answer to another';
  return `${name} is ${direction === 'sent' ? 'received' : 'sent'} ${often}, ${telegram.start ? `begins with ${typed(telegram.start)} and ` : ''}${ends}.`;
}

function linkSentence(line: CyclicLine, ports: readonly Port[]): string {
  const station = ports.find((port) => port.lineId === line.id && port.kind === 'cyclic' && port.role === 'answers');
  const called = station?.kind === 'cyclic' ? [station.inputLabel, station.outputLabel] : ['', ''];
  const block = (name: string, bytes: number, label: string, byte: number | null, value: number) =>
    `${bytes} bytes of ${name}${label ? ` (${label})` : ''}${byte === null ? '' : `, valid while its byte ${byte} is ${value}`}`;
  const input = block('input', line.inputBytes, called[0]!, line.inputValidByte, line.inputValidValue);
  const output = block('output', line.outputBytes, called[1]!, line.outputValidByte, line.outputValidValue);
  const lost = line.whenLost === 'zero' ? 'go to zero' : 'stay as they are';
  return `${line.name} exchanges ${input}, and ${output}, every ${line.intervalMs} ms; it is lost when more than ${line.missed} updates stay away, and then the outputs ${lost}.`;
}

function stationSentences({ line, control, outstation }: CarriedStation): string[] {
  const ends = [control && `control station ${control.address}`, outstation && `outstation ${outstation.address}`]
    .filter(Boolean)
    .join(', ');
  const times =
    line.standard === 'ieee1815'
      ? `events ${line.eventsEveryMs === null ? 'unasked' : `asked for every ${line.eventsEveryMs} ms`}, everything every ${line.allEveryMs / 1000} s, confirmations within ${line.confirmMs} ms`
      : `t1 ${line.t1Ms} ms, t2 ${line.t2Ms} ms, t3 ${line.t3Ms} ms, k ${line.k}, w ${line.w}`;
  const kept = outstation ? ` It keeps ${outstation.memory} events while the link is down.` : '';
  const port = telecontrolPort(line);
  return [
    `${line.name} follows ${standardName(line)} over TCP${port === null ? '' : `, port ${port}${outstation?.ip ? ` of ${outstation.ip}` : ''}`}: ${ends}; ${times}.${kept}`,
    `Clocks are set ${line.clockEveryMs === null ? 'when the link opens' : `every ${line.clockEveryMs / 1000} s`}, in UTC; a selection holds for ${line.selectedMs} ms.`,
  ];
}

function eventSentence(name: string, unit: string, place: EventPlace): string {
  const { sort, index, eventClass, threshold, periodMs, withTime, selectFirst, pulseMs } = place;
  const what = `${name} is ${labelOf(sort).toLowerCase()} ${index}`;
  if (commands(sort)) {
    const lasts = pulseMs === null ? '' : `, a pulse of ${pulseMs} ms`;
    return `${what}${selectFirst ? ', selected first' : ''}${lasts}.`;
  }
  const often = [
    eventClass === 0 ? 'no event' : `class ${eventClass}`,
    ...(threshold > 0 ? [`told from a change of ${threshold}${unit ? ` ${unit}` : ''} on`] : []),
    ...(periodMs === null ? [] : [`again every ${periodMs} ms`]),
    withTime ? 'with its time' : 'without time',
  ];
  return `${what}: ${often.join(', ')}.`;
}

function frameSentence(frame: DeviceFrame): string {
  const { name, identifierBits, identifier, bytes, when, direction, lostAfterMs, whole } = frame;
  if (whole) return wholeSentence(frame, whole.records);
  const bits = when.on === 'toggle' ? (when.bits === 8 ? `byte ${when.firstBit / 8}` : `bit ${when.firstBit}`) : '';
  const often = {
    period: () => `every ${when.on === 'period' ? when.periodMs : 0} ms`,
    change: () => 'on a change',
    toggle: () => `each time its ${bits} changes`,
    start: () => 'once at the start',
  }[when.on]();
  const way = direction === 'sent' ? 'received' : 'sent';
  const lost = direction === 'sent' && when.on === 'period' ? `; it counts as lost after ${lostAfterMs} ms` : '';
  return `${name} is ${way} ${often}: identifier ${hexIdentifier({ identifierBits, identifier })} hex, ${identifier} decimal, of ${identifierBits} bits, with ${bytes} ${bytes === 1 ? 'byte' : 'bytes'} of data${lost}.`;
}

/** How a controller reads and makes frames that are passed whole. */
function wholeSentence(frame: DeviceFrame, records: number): string {
  const { name, identifierBits, direction, lostAfterMs } = frame;
  const which = `${identifiersOf(frame)} hex, of ${identifierBits} bits`;
  const kept = records === 1 ? 'one record' : `${records} records, one after the other and then from the first again`;
  const counts = 'counts go from 1 to 65535 and then on from 1';
  return direction === 'sent'
    ? `${name} passes frames with identifiers ${which}, whole into ${kept}: a record holds a new frame when its count is another than before, and the highest is the newest; ${counts}, and a count that is left out is a frame that was lost. None for ${lostAfterMs} ms counts as lost.`
    : `${name} sends frames with identifiers ${which}, out of ${kept}: identifier, length and data are written first, and then a count that is one more than that of the frame before; ${counts}. A record is free again when the count that went out is not behind its own.`;
}

function spanText(from: number, to: number, bit: number | null): string {
  if (bit !== null) return `${from}.${bit}`;
  return from === to ? String(from) : `${from} to ${to}`;
}
