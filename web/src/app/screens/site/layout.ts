import { Graph, layout as layered } from '@dagrejs/dagre';
import type { Device, ProjectDocument } from '@plain-envoy/core/model';
import { type Line, type Port } from '@plain-envoy/core/media';

export const CARD = { width: 136, height: 46, gap: 14 };
const LEFT = 16;
const NAME_HEIGHT = 30;
const DROP = 18;
const SEGMENT = DROP + CARD.height + 16;
/** Between two lines that share a row, and below a row, where bridges run. */
const BETWEEN = 34;
const BELOW = 20;
const LANE = 7;
const CORNER = 8;

/** A line's stave: where its devices do not fit on one stretch it goes on below, as music does. */
export interface Stave {
  line: Line;
  x: number;
  y: number;
  width: number;
  stretches: { y: number; from: number; to: number }[];
}

/** A device as it hangs on a line; a gateway or converter hangs where it is dialled and reaches over to its other lines. */
export interface Card {
  device: Device;
  port: Port;
  x: number;
  y: number;
}

export interface Bridge {
  device: Device;
  line: Line;
  path: string;
}

export interface SiteLayout {
  width: number;
  height: number;
  staves: Stave[];
  cards: Card[];
  bridges: Bridge[];
}

interface Block {
  line: Line;
  /** The gateway or converter that leads to it; null where none does. */
  from: string | null;
  /** Lines of one layer share rows: those that are dialled, those behind them, and so on. */
  layer: number;
  cards: { device: Device; port: Port }[];
  perStretch: number;
  width: number;
  height: number;
}

/**
 * Places every line as a stave with its devices along it in their physical order. Which line comes after which is worked out
 * by a layered layout of lines and what bridges them; lines share rows, just below what leads to them where there is room, and long
 * ones go on below. `givenPx` is the
 * width there is; at its right, bridges that pass whole rows have their lanes.
 */
export function layoutSite(document: ProjectDocument, givenPx: number): SiteLayout {
  const lanes = document.ports.length - portsByDevice(document.ports).size;
  const roomPx = givenPx - (lanes ? lanes * LANE + LEFT : 0);
  const blocks = inOrder(document, blocksOf(document, roomPx));
  const staves: Stave[] = [];
  const cards: Card[] = [];
  const rowOf = new Map<string, { top: number; bottom: number }>();
  let y = 0;
  for (const unsorted of rowsOf(blocks, roomPx)) {
    // Below what leads to them, in its order, so that bridges are short and seldom cross.
    const leads = new Map(unsorted.map(({ line, from }) => [line.id, cards.find(({ device }) => device.id === from)?.x ?? LEFT]));
    const row = [...unsorted].sort((a, b) => leads.get(a.line.id)! - leads.get(b.line.id)!);
    const used = row.reduce((sum, { width }) => sum + width + BETWEEN, -BETWEEN);
    let x = Math.max(LEFT, Math.min(leads.get(row[0]!.line.id)!, roomPx - LEFT - used));
    const height = Math.max(...row.map((block) => block.height));
    for (const block of row) {
      const stave = staveOf(block, x, y);
      staves.push(stave);
      block.cards.forEach((card, index) => {
        const stretch = stave.stretches[Math.floor(index / block.perStretch)]!;
        cards.push({ ...card, x: x + (index % block.perStretch) * (CARD.width + CARD.gap), y: stretch.y + DROP });
      });
      rowOf.set(block.line.id, { top: y, bottom: y + height });
      x += block.width + BETWEEN;
    }
    y += height + BELOW;
  }
  const width = Math.max(...staves.map((stave) => stave.x + stave.width + LEFT), LEFT);
  const bridges = bridgesOf(document, cards, staves, rowOf, width);
  return { width: Math.max(givenPx, width + lanes * LANE), height: y, staves, cards, bridges };
}

/** How far a layout must be shrunk to be all in sight; 1 where it fits as it is. */
export function scaleOf({ width, height }: SiteLayout, roomWidth: number, roomHeight: number): number {
  return Math.min(1, roomWidth / width, roomHeight / height);
}

/** Longer staves and fewer of them, until the whole is as large as it can be all in sight. */
export function fitSite(document: ProjectDocument, roomWidth: number, roomHeight: number): SiteLayout {
  const candidates = [1, 1.25, 1.5, 1.75, 2, 2.5, 3, 4].map((factor) => layoutSite(document, roomWidth * factor));
  return candidates.reduce((best, next) => (scaleOf(next, roomWidth, roomHeight) > scaleOf(best, roomWidth, roomHeight) ? next : best));
}

/** Where a device hangs: on the network where it is dialled if it has one, else on its first line. */
function home(ports: readonly Port[]): Port | undefined {
  return ports.find((port) => port.kind === 'ethernet') ?? ports[0];
}

function portsByDevice(ports: readonly Port[]): Map<string, Port[]> {
  const byDevice = new Map<string, Port[]>();
  for (const port of ports) byDevice.set(port.deviceId, [...(byDevice.get(port.deviceId) ?? []), port]);
  return byDevice;
}

function blocksOf({ lines, devices, ports }: ProjectDocument, roomPx: number): Block[] {
  const byDevice = portsByDevice(ports);
  const hung = new Map<string, Block['cards']>(lines.map((line) => [line.id, []]));
  for (const device of devices) {
    const port = home(byDevice.get(device.id) ?? []);
    if (port) hung.get(port.lineId)?.push({ device, port });
  }
  const most = Math.max(1, Math.floor((roomPx - 2 * LEFT + CARD.gap) / (CARD.width + CARD.gap)));
  const leading = new Map(
    [...byDevice].flatMap(([deviceId, own]) =>
      own.flatMap(({ lineId }) => (lineId === home(own)?.lineId ? [] : [[lineId, deviceId] as const])),
    ),
  );
  return lines.map((line) => {
    const cards = hung.get(line.id)!.sort((a, b) => a.port.position - b.port.position);
    const perStretch = Math.min(most, Math.max(1, cards.length));
    const width = Math.max(2 * CARD.width, perStretch * (CARD.width + CARD.gap) - CARD.gap);
    const stretches = Math.max(1, Math.ceil(cards.length / perStretch));
    const from = leading.get(line.id) ?? null;
    return { line, from, layer: 0, cards, perStretch, width, height: NAME_HEIGHT + stretches * SEGMENT };
  });
}

/** Lines ordered by a layered layout, in which a gateway or converter leads from the line where it hangs to its others. */
function inOrder({ ports }: ProjectDocument, blocks: readonly Block[]): Block[] {
  const graph = new Graph();
  graph.setGraph({ rankdir: 'TB' });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const { line, width, height } of blocks) graph.setNode(line.id, { width, height });
  for (const own of portsByDevice(ports).values()) {
    const from = home(own);
    for (const to of own) {
      if (from && to.lineId !== from.lineId && graph.hasNode(to.lineId) && graph.hasNode(from.lineId))
        graph.setEdge(from.lineId, to.lineId);
    }
  }
  layered(graph);
  const at = new Map(blocks.map(({ line }) => [line.id, graph.node(line.id) as { y: number }]));
  // Within a layer the project's own order stays; of lines behind others the short ones come first, so that most are just below.
  return blocks
    .map((block) => ({ ...block, layer: at.get(block.line.id)!.y }))
    .sort((a, b) => a.layer - b.layer || (a.from && b.from ? a.width - b.width : 0));
}

function rowsOf(blocks: readonly Block[], roomPx: number): Block[][] {
  const rows: { blocks: Block[]; layer: number; used: number }[] = [];
  for (const block of blocks) {
    const fits = ({ layer, used }: { layer: number; used: number }) =>
      layer === block.layer && used + BETWEEN + block.width <= roomPx - LEFT;
    let row = rows.find(fits);
    if (!row) rows.push((row = { blocks: [], layer: block.layer, used: LEFT - BETWEEN }));
    row.blocks.push(block);
    row.used += BETWEEN + block.width;
  }
  return rows.map((row) => row.blocks);
}

function staveOf({ line, cards, perStretch, width }: Block, x: number, top: number): Stave {
  const count = Math.max(1, Math.ceil(cards.length / perStretch));
  const stretches = Array.from({ length: count }, (_, index) => ({ y: top + NAME_HEIGHT + index * SEGMENT, from: x, to: x + width }));
  return { line, x, y: top + NAME_HEIGHT, width, stretches };
}

/** Each bridge runs in the gaps between rows, and past whole rows in a lane of its own at the right. */
function bridgesOf(
  { ports, lines }: ProjectDocument,
  cards: readonly Card[],
  staves: readonly Stave[],
  rowOf: ReadonlyMap<string, { top: number; bottom: number }>,
  width: number,
): Bridge[] {
  const staveOfLine = new Map(staves.map((stave) => [stave.line.id, stave]));
  const lineById = new Map(lines.map((line) => [line.id, line]));
  const bridges: Bridge[] = [];
  for (const { device, port, x, y } of cards) {
    const others = ports.filter((other) => other.deviceId === device.id && other.lineId !== port.lineId);
    others.forEach((other, index) => {
      const stave = staveOfLine.get(other.lineId);
      const [from, to] = [rowOf.get(port.lineId), rowOf.get(other.lineId)];
      if (!stave || !from || !to) return;
      const lane = bridges.length;
      const start = x + CARD.width - 14 - index * LANE;
      const beside = x + CARD.width + CARD.gap / 2 - index * 4;
      const end = stave.x + stave.width - 10 - (lane % 4) * LANE;
      const leaves = from.bottom + 4 + (lane % 3) * 5;
      const joins = to.top - 14 + (lane % 3) * 5;
      const around = Math.abs(joins - leaves) < BELOW && to.top > from.bottom ? [] : [width + lane * LANE];
      bridges.push({
        device,
        line: lineById.get(other.lineId)!,
        path: rounded([start, y + CARD.height], [beside, y + CARD.height + 7], leaves, around, joins, [end, stave.y]),
      });
    });
  }
  return bridges;
}

/** Out of the card to beside it, down, across, perhaps down a lane and across again, and down to the stave, with round corners. */
function rounded(
  from: [number, number],
  beside: [number, number],
  leaves: number,
  lanes: readonly number[],
  joins: number,
  to: [number, number],
): string {
  const corners: [number, number][] = [from, [from[0], beside[1]], beside, [beside[0], leaves]];
  corners.push(
    ...lanes.flatMap((lane): [number, number][] => [
      [lane, leaves],
      [lane, joins],
    ]),
  );
  corners.push([to[0], lanes.length ? joins : leaves], to);
  return corners
    .map(([cx, cy], index) => {
      if (index === 0) return `M${cx} ${cy}`;
      const next = corners[index + 1];
      if (!next) return `L${cx} ${cy}`;
      const [px, py] = corners[index - 1]!;
      const [before, after] = [towards(cx, cy, px, py), towards(cx, cy, next[0], next[1])];
      return `L${before[0]} ${before[1]}Q${cx} ${cy} ${after[0]} ${after[1]}`;
    })
    .join('');
}

function towards(x: number, y: number, toX: number, toY: number): [number, number] {
  const length = Math.hypot(toX - x, toY - y) || 1;
  const step = Math.min(CORNER, length / 2);
  return [x + ((toX - x) / length) * step, y + ((toY - y) / length) * step];
}
