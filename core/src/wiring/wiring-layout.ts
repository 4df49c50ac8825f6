import type { SerialBus } from '../findings/index.js';
import { standards } from '../line/index.js';

/** Where everything of a wiring drawing stands; all in pixels, derived from the data alone. */
export interface WiringLayout {
  width: number;
  height: number;
  wires: { signal: string; colour: string; y: number; from: number; to: number }[];
  shield: { y: number; height: number; from: number; to: number } | null;
  stations: Station[];
  repeaters: { x: number; text: string }[];
}

export interface Station {
  portId: string;
  name: string;
  under: string;
  x: number;
  taps: { signal: string; terminal: string; x: number; y: number }[];
  terminated: boolean;
  bias: boolean;
  shieldGrounded: boolean;
  /** How its reference meets earth; empty where there is no reference to join. */
  joined: string;
  earthText: string;
  /** Metres to the station before. */
  distance: { x: number; text: string } | null;
}

const LEFT = 112;
const LEAST_APART = 140;
const WIRE_TOP = 54;
const WIRE_APART = 14;
const TAP_APART = 22;
export const BOX = { top: 150, height: 66, width: 126 };

const references = { direct: 'ref. to earth direct', resistance: 'ref. to earth 100 Ω', none: 'ref. not joined' } as const;

/** What meets at a station of a line whose transmit goes to receive: the wire of a signal, by the name that it has at the first station. */
export function wireAt({ line }: Pick<SerialBus, 'line'>, index: number, signal: string): string {
  const isCrossed =
    index > 0 && (line.standard === 'rs232' ? line.cable.crossing === 'crossed' : standards[line.standard].duplex === 'full');
  return isCrossed ? (partner[signal] ?? signal) : signal;
}

/** The signals that a line has a wire for. */
export function wiresOf({ line, members }: SerialBus): readonly string[] {
  const { signals } = standards[line.standard];
  const laid = line.cable.reference ? signals : signals.filter((signal) => signal !== 'C');
  if (line.standard !== 'rs232') return laid;
  return laid.filter((signal) => !['RTS', 'CTS'].includes(signal) || members.some(({ port }) => port.handshake === 'rts-cts'));
}

/** The stations of a line in their order along the cable. */
export function alongCable<M extends SerialBus['members'][number]>(members: readonly M[]): M[] {
  return [...members].sort((a, b) => a.port.atM - b.port.atM || a.port.position - b.port.position);
}

/** What a signal is joined to at the other end of a crossed cable, or of a bus with a pair for each direction. */
const partner: Readonly<Record<string, string>> = {
  ...{ TX: 'RX', RX: 'TX', RTS: 'CTS', CTS: 'RTS' },
  ...{ 'T+': 'R+', 'R+': 'T+', 'T−': 'R−', 'R−': 'T−' },
};

/**
 * Stations stand in their order along the cable, at distances that follow the metres where there is room for it. `before`: so many of the line
 * stand before them elsewhere.
 */
export function layoutWiring(bus: SerialBus, roomPx: number, before = 0): WiringLayout {
  const { line, members } = bus;
  const along = alongCable(members);
  const spare = Math.max(0, roomPx - LEFT - BOX.width - LEAST_APART * Math.max(0, along.length - 1));
  const first = along[0]?.port.atM ?? 0;
  const span = Math.max(1, (along.at(-1)?.port.atM ?? 0) - first);
  const xs = along.map(({ port }, index) => LEFT + index * LEAST_APART + (spare * (port.atM - first)) / span);
  const used = wiresOf(bus);
  const [from, to] = [(xs[0] ?? LEFT) + 20, (xs.at(-1) ?? LEFT) + 20 + TAP_APART * (used.length - 1)];
  const wires = used.map((signal, index) => ({
    signal,
    colour: line.cable.colours[signal] ?? '',
    y: WIRE_TOP + index * WIRE_APART,
    from,
    to,
  }));
  const stations = along.map(({ name, port }, index): Station => {
    const x = xs[index]!;
    const metres = index > 0 ? port.atM - along[index - 1]!.port.atM : 0;
    return {
      portId: port.id,
      name,
      under: port.unitId !== null ? `unit ${port.unitId}` : port.framing === 'text' ? port.plug.toUpperCase() : 'asks',
      x,
      taps: wires.map(({ signal }, at) => {
        const wire = wireAt(bus, before + index, signal);
        return {
          signal,
          terminal: port.terminals[signal] ?? '',
          x: x + 20 + at * TAP_APART,
          y: wires.find((other) => other.signal === wire)!.y,
        };
      }),
      terminated: port.terminated,
      bias: port.bias,
      shieldGrounded: port.shield === 'grounded',
      joined: port.isolated ? 'isolated' : line.cable.reference && standards[line.standard].terminated ? references[port.reference] : '',
      earthText: port.earthV === 0 ? '' : `${port.earthV > 0 ? '+' : '−'}${Math.abs(port.earthV)} V`,
      distance: index > 0 ? { x: (xs[index - 1]! + x) / 2 + BOX.width / 2, text: `${Math.round(metres * 10) / 10} m` } : null,
    };
  });
  const repeaters = line.cable.repeatersAtM.map((at) => ({ x: LEFT + (at - first) * ((to - from) / span), text: `repeater, ${at} m` }));
  const lowest = WIRE_TOP + WIRE_APART * (wires.length - 1);
  const shield =
    line.cable.shieldOhmPerKm === null ? null : { y: WIRE_TOP - 12, height: lowest - WIRE_TOP + 24, from: from - 14, to: to + 14 };
  return { width: Math.max(roomPx, to + BOX.width), height: 266, wires, shield, stations, repeaters };
}
