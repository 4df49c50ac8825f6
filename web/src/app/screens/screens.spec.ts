import { fernhollow } from '@plain-envoy/core/demo';
import { busiestPair, LANE, ribbonPath, ribbonsBetween } from './routes/banks';
import { CARD, layoutSite } from './site/layout';

const demo = fernhollow();
const points = new Map(demo.points.map((point) => [point.id, point]));
const device = (name: string) => demo.devices.find((row) => row.name === name)!;
const of = (name: string) => demo.points.filter((point) => point.deviceId === device(name).id);

describe('the layout of the site', () => {
  const layout = layoutSite(demo);

  it('hangs every device on a stave once, side by side', () => {
    expect(layout.staves.map((stave) => stave.line.name)).toEqual(['Process net', 'Kiln bus']);
    expect(layout.cards.length).toBe(demo.devices.length);
    for (const card of layout.cards) {
      const touching = layout.cards.filter((other) => other !== card && other.y === card.y && Math.abs(other.x - card.x) < CARD.width);
      expect(touching).toEqual([]);
    }
  });

  it('lets the gateway reach from its own line down to the other', () => {
    expect(layout.bridges.map((bridge) => bridge.device.name)).toEqual(['Kiln gateway']);
    expect(layout.bridges[0]?.path.endsWith(`V${layout.staves[1]!.y}`)).toBeTrue();
  });
});

describe('the banks', () => {
  it('start with the two devices between which most routes run', () => {
    const pair = busiestPair(demo.routes, points)!;
    expect([pair.from, pair.to].map((id) => demo.devices.find((row) => row.id === id)?.name)).toEqual([
      'Air-on transmitter',
      'Kiln controller',
    ]);
    expect(busiestPair([], points)).toBeNull();
  });

  it('draw a ribbon for each route between them, from lane to lane', () => {
    const ribbons = ribbonsBetween(demo.routes, of('Air-on transmitter'), of('Kiln controller'));
    expect(ribbons.length).toBe(5);
    for (const { fromY, toY } of ribbons) expect([fromY % LANE, toY % LANE]).toEqual([LANE / 2, LANE / 2]);
    expect(ribbonsBetween(demo.routes, of('Kiln controller'), of('Air-on transmitter'))).toEqual([]);
    expect(ribbonPath({ ...ribbons[0]!, fromY: 16, toY: 80 }, 100)).toBe('M0 16C45 16 55 80 91 80');
  });
});
