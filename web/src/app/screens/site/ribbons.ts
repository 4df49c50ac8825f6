import type { Plan } from '@plain-envoy/core/plan';
import { CARD, type SiteLayout } from './layout';

/** All routes from one device to another, as one ribbon. */
export interface Ribbon {
  fromId: string;
  toId: string;
  routes: number;
  /** Values carried a second. */
  perSecond: number;
  path: string;
  thickness: number;
  text: string;
  /** Where its text stands at either end, so that those of a hub stand apart. */
  labels: { from: { x: number; y: number }; to: { x: number; y: number } };
  /** Where it hangs lowest. */
  middle: { x: number; y: number };
}

/** About as wide as its name is, which stands around its middle. */
const NAME_WIDTH = 380;
const THINNEST = 1.5;
const THICKEST = 14;

/** Bundles the plan's routes by their two devices; a ribbon is as thick as its traffic. */
export function ribbonsOf({ routes }: Plan, { cards }: SiteLayout): Ribbon[] {
  const at = new Map(cards.map((card) => [card.device.id, card]));
  const bundles = new Map<string, { fromId: string; toId: string; routes: number; perSecond: number }>();
  for (const { source, destination, periodMs } of routes) {
    const key = `${source.deviceId} ${destination.deviceId}`;
    const bundle = bundles.get(key) ?? { fromId: source.deviceId, toId: destination.deviceId, routes: 0, perSecond: 0 };
    bundle.routes += 1;
    bundle.perSecond += 1000 / periodMs;
    bundles.set(key, bundle);
  }
  return [...bundles.values()].flatMap((bundle): Ribbon[] => {
    const [from, to] = [at.get(bundle.fromId), at.get(bundle.toId)];
    if (!from || !to || from === to) return [];
    const back = bundles.has(`${bundle.toId} ${bundle.fromId}`) && bundle.fromId > bundle.toId ? 14 : 0;
    const start = { x: from.x + CARD.width * 0.35 + back, y: from.y + CARD.height };
    const end = { x: to.x + CARD.width * 0.35 + back, y: to.y + CARD.height };
    const sag = 26 + Math.abs(end.x - start.x) * 0.06 + back;
    const path = `M${start.x} ${start.y}C${start.x} ${start.y + sag} ${end.x} ${end.y + sag} ${end.x} ${end.y + 5}`;
    const below = (end: { x: number; y: number }) => ({ x: end.x - back, y: end.y + 15 + back });
    const rate = bundle.perSecond >= 1 ? `${round(bundle.perSecond)} / s` : `${round(bundle.perSecond * 60)} / min`;
    const text = `${bundle.routes} ${bundle.routes === 1 ? 'route' : 'routes'} · ${rate}`;
    return [
      {
        ...bundle,
        path,
        thickness: Math.min(THICKEST, Math.max(THINNEST, bundle.perSecond)),
        text,
        labels: { from: below(start), to: below(end) },
        // Half of the way along the curve.
        middle: { x: Math.max(NAME_WIDTH / 2, (start.x + end.x) / 2), y: (start.y + end.y) / 2 + 0.75 * sag + 4 },
      },
    ];
  });
}

function round(number: number): string {
  return String(Math.round(number * 10) / 10);
}
