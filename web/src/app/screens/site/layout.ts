import type { Device, Line, Port, ProjectDocument } from '@plain-envoy/core/model';

export const CARD = { width: 184, height: 58, gap: 18 };
const LEFT = 16;
const STAVE_TO_CARD = 22;
const HEADER = 40;
/** A gateway's bridge comes down right of the name and settings of the line below. */
const NAME_WIDTH = 470;
const ROW = HEADER + STAVE_TO_CARD + CARD.height + 34;

export interface Stave {
  line: Line;
  y: number;
}

/** A device as it hangs on a line; a gateway hangs on the line where it is dialled and reaches down to the other. */
export interface Card {
  device: Device;
  port: Port;
  x: number;
  y: number;
}

export interface Bridge {
  device: Device;
  path: string;
}

export interface SiteLayout {
  width: number;
  height: number;
  staves: Stave[];
  cards: Card[];
  bridges: Bridge[];
}

/** Places every line as a stave, Ethernet first, its devices along it in their physical order, and each gateway's bridge. */
export function layoutSite({ lines, devices, ports }: ProjectDocument): SiteLayout {
  const ordered = [...lines].sort((a, b) => rank(a) - rank(b));
  const staves = ordered.map((line, index) => ({ line, y: index * ROW + HEADER }));
  const cards: Card[] = [];
  for (const { line, y } of staves) {
    const here = ports.filter((port) => port.lineId === line.id).sort((a, b) => a.position - b.position);
    let x = LEFT;
    for (const port of here) {
      const device = devices.find((candidate) => candidate.id === port.deviceId);
      if (!device || cards.some((card) => card.device.id === device.id)) continue;
      if (device.kind === 'gateway') x = Math.max(x, LEFT + NAME_WIDTH - CARD.width);
      cards.push({ device, port, x, y: y + STAVE_TO_CARD });
      x += CARD.width + CARD.gap;
    }
  }
  const bridges = cards.flatMap((card) =>
    ports
      .filter((port) => port.deviceId === card.device.id && port.lineId !== card.port.lineId)
      .flatMap((port) => {
        const below = staves.find((stave) => stave.line.id === port.lineId);
        const x = card.x + CARD.width - 14;
        return below ? [{ device: card.device, path: `M${x} ${card.y + CARD.height}V${below.y}` }] : [];
      }),
  );
  const width = Math.max(0, ...cards.map((card) => card.x + CARD.width)) + LEFT;
  return { width, height: staves.length * ROW, staves, cards, bridges };
}

function rank(line: Line): number {
  return line.kind === 'ethernet' ? 0 : 1;
}
