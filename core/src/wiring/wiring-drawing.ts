import { escapedMarkup } from '../common/index.js';
import type { SerialBus } from '../findings/index.js';
import { alongCable, BOX, layoutWiring, type Station, type WiringLayout } from './wiring-layout.js';

/** A drawing as SVG, its size in pixels, and what it shows for whom it cannot be seen by. */
export interface Drawing {
  svg: string;
  width: number;
  height: number;
  says: string;
}

/** So many stations are drawn side by side; further ones go on in a drawing of their own. */
const STATIONS = 5;
const ROOM = 780;

/** The wiring of a serial line, drawn for a page: in fonts called Next and Mono, black on white. */
export function wiringDrawings(bus: SerialBus): Drawing[] {
  const along = alongCable(bus.members);
  const parts = Array.from({ length: Math.ceil(along.length / STATIONS) }, (_, at) => along.slice(at * STATIONS, (at + 1) * STATIONS));
  return parts.map((members, index) => {
    const [first, last] = [members[0]!.port.atM, members.at(-1)!.port.atM];
    // A repeater stands in the drawing of the stations that it is between.
    const until = parts[index + 1]?.[0]?.port.atM ?? Infinity;
    const repeatersAtM = bus.line.cable.repeatersAtM.filter((at) => (at >= first || index === 0) && at < until);
    const line = { ...bus.line, cable: { ...bus.line.cable, repeatersAtM } };
    const layout = layoutWiring({ line, members }, ROOM, index * STATIONS);
    const which = parts.length > 1 ? `, ${index + 1} of ${parts.length}, from ${first} to ${last} m` : '';
    const says = `Wiring of ${bus.line.name}${which}`;
    return { svg: svgOf(layout, says), width: layout.width, height: layout.height, says };
  });
}

function svgOf({ width, height, wires, shield, stations, repeaters }: WiringLayout, says: string): string {
  const parts = [
    ...(shield
      ? [
          `<rect x="${shield.from}" y="${shield.y}" width="${shield.to - shield.from}" height="${shield.height}" rx="12" fill="none" stroke="#888" stroke-dasharray="5 3"/>`,
          text(shield.from - 6, shield.y - 2, 'shield', { anchor: 'end' }),
        ]
      : []),
    ...wires.flatMap(({ signal, colour, y, from, to }) => [
      stroke(from, y, to, y),
      text(from - 36, y + 4, `${signal} ${colour}`.trim(), { anchor: 'end', font: 'Mono' }),
    ]),
    ...repeaters.flatMap(({ x, text: what }) => [
      `<path d="M${x - 12} 40L${x + 12} 60L${x - 12} 80Z" fill="#fff" stroke="#222"/>`,
      text(x, 34, what, { anchor: 'middle' }),
    ]),
    ...stations.flatMap((station) => stationOf(station, shield?.y ?? 60)),
  ];
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" role="img" aria-label="${escapedMarkup(says)}">${parts.join('')}</svg>`;
}

function stationOf(
  { x, name, under, taps, terminated, bias, shieldGrounded, joined, earthText, distance }: Station,
  shieldY: number,
): string[] {
  const below = BOX.top + BOX.height;
  const middle = (taps[0]?.x ?? x) + 11;
  return [
    ...(distance ? [text(distance.x, 24, distance.text, { anchor: 'middle' })] : []),
    ...taps.flatMap((tap) => [stroke(tap.x, tap.y, tap.x, BOX.top), `<circle cx="${tap.x}" cy="${tap.y}" r="2.6" fill="#222"/>`]),
    ...(terminated
      ? [
          `<rect x="${middle - 7}" y="${BOX.top - 29}" width="14" height="10" fill="#fff" stroke="#222"/>`,
          stroke(middle - 11, BOX.top - 24, middle - 7, BOX.top - 24),
          stroke(middle + 7, BOX.top - 24, middle + 11, BOX.top - 24),
          text(middle, BOX.top - 33, '120 Ω', { anchor: 'middle' }),
        ]
      : []),
    `<rect x="${x}" y="${BOX.top}" width="${BOX.width}" height="${BOX.height}" rx="3" fill="#fff" stroke="#222" stroke-width="1.2"/>`,
    ...taps.map((tap) => text(tap.x, BOX.top + 13, tap.terminal || tap.signal, { anchor: 'middle', font: 'Mono', size: 10 })),
    text(x + 6, BOX.top + 32, name, { size: 12, bold: true }),
    text(x + 6, BOX.top + 47, `${under}${bias ? ' · bias' : ''}`, { font: 'Mono' }),
    ...(joined ? [text(x + 6, BOX.top + 60, joined)] : []),
    ...(shieldGrounded
      ? [
          `<path d="M${x - 8} ${shieldY}V${below + 10}" fill="none" stroke="#222"/>`,
          `<path d="M${x - 18} ${below + 10}h20m-16 5h12m-9 5h6" fill="none" stroke="#222"/>`,
        ]
      : []),
    ...(earthText ? [text(x + 6, below + 22, `earth ${earthText}`)] : []),
  ];
}

function stroke(x1: number, y1: number, x2: number, y2: number): string {
  return `<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="#222"/>`;
}

interface Lettering {
  anchor?: 'start' | 'middle' | 'end';
  font?: 'Next' | 'Mono';
  size?: number;
  bold?: boolean;
}

function text(x: number, y: number, what: string, { anchor = 'start', font = 'Next', size = 11, bold = false }: Lettering = {}): string {
  const weight = bold ? ' font-weight="bold"' : '';
  return `<text x="${x}" y="${y}" font-family="${font}" font-size="${size}" text-anchor="${anchor}"${weight} fill="#222">${escapedMarkup(what)}</text>`;
}
