import { HEAD_BYTES, type LinkDatagram, readDatagram } from '../../cyclic-line/index.js';
import { linkOn } from '../../converter/index.js';
import type { Point } from '../../model/index.js';
import type { TraceEntry } from '../record.js';
import type { ToldFrame } from '../told.js';
import type { Foreign } from './definition.js';
import { inByte, partsOf, valuesIn } from './in-bytes.js';
import { perLine, sendersIn } from './on-line.js';

/** Blocks of cyclic links: told by the points that lie in them. Packet analysers have no form for them: they stand in a type of one’s own. */
export const cyclic: Foreign = {
  one: 'block',
  linkType: 148,
  teller(document) {
    const linksAt = perLine(document, (of, lineId) => [linkOn(of, lineId) ?? []].flat());
    const senderOf = sendersIn(document);
    return (entry) => {
      const device = senderOf(entry.requestId);
      const who = device?.name ?? 'Somebody';
      const read = readDatagram(entry.sent ?? new Uint8Array());
      const link = linksAt(entry.endpointId)[0] ?? null;
      const name = device?.id === link?.stationId ? ('input' as const) : ('output' as const);
      const points = (): Point[] => link?.points.filter(({ place }) => place.kind === 'cyclic' && place.block === name) ?? [];
      const block = read.ok && read.value.kind === 'block' ? read.value : null;
      return {
        ...{ device, who, span: null },
        sentence: `${read.ok ? sentenceOf(who, read.value, name, points()) : `${who} sends what is no block: ${read.problem.message}`}${onItsWay(entry)}`,
        isTrouble: entry.end !== 'arrived' || !read.ok || read.value.kind === 'refused',
        points: () => (block && entry.end === 'arrived' ? valuesIn(block.data, points()) : []),
        frames: () => (read.ok && entry.sent ? [toldFrame(entry.sent, read.value, points())] : []),
      };
    };
  },
};

function sentenceOf(who: string, datagram: LinkDatagram, name: string, points: readonly Point[]): string {
  if (datagram.kind === 'block') {
    const values = valuesIn(datagram.data, points).map(({ point, value }) => `${point.name} ${value}`);
    return `${who} sends its ${name} block, number ${datagram.number}${values.length ? `: ${values.join(', ')}` : ''}.`;
  }
  const sizes = `${datagram.inputBytes} bytes in and ${datagram.outputBytes} out, every ${datagram.intervalMs} ms`;
  if (datagram.kind === 'open') return `${who} opens the link: ${sizes}.`;
  return datagram.kind === 'opened' ? `${who} takes the link: ${sizes}.` : `${who} refuses the link, because it has ${sizes}.`;
}

function onItsWay({ end }: TraceEntry): string {
  return end === 'silent' ? ' It does not arrive.' : '';
}

function toldFrame(bytes: Uint8Array, datagram: LinkDatagram, points: readonly Point[]): ToldFrame {
  const part = partsOf(bytes);
  const head = [part('kind', 0, 0, 'function', datagram.kind), part('version', 1, 1, 'head', String(bytes[1]))];
  if (datagram.kind !== 'block')
    return {
      name: 'Datagram',
      fields: [
        ...head,
        part('reserved', 2, 3, 'head', 'always 0'),
        part('input', 4, 5, 'amount', `${datagram.inputBytes} bytes`),
        part('output', 6, 7, 'amount', `${datagram.outputBytes} bytes`),
        part('interval', 8, 11, 'amount', `${datagram.intervalMs} ms`),
      ],
      problems: [],
    };
  const { data, number } = datagram;
  return {
    name: 'Datagram',
    fields: [
      ...head,
      part('number', 2, 3, 'amount', String(number)),
      ...[...data].map((_, byte) => part(`byte ${byte}`, HEAD_BYTES + byte, HEAD_BYTES + byte, 'data', inByte(points, data, byte))),
    ],
    problems: [],
  };
}
