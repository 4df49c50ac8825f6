import { fernhollow } from '@plain-envoy/core/demo';
import { busiestPair, drawnRibbons, faceToFace, LANE, ribbonPath, ribbonsBetween } from './routes/banks';
import { CARD, fitSite, layoutSite, scaleOf } from './site/layout';
import { ribbonsOf } from './site/ribbons';
import { compile } from '@plain-envoy/core/compile';

const demo = fernhollow();
const points = new Map(demo.points.map((point) => [point.id, point]));
const device = (name: string) => demo.devices.find((row) => row.name === name)!;
const deviceId = (name: string) => device(name).id;
const of = (name: string) => demo.points.filter((point) => point.deviceId === device(name).id);

describe('the layout of the site', () => {
  const ROOM = 1180;
  const layout = layoutSite(demo, ROOM);
  const overlaps = ({ cards }: typeof layout) =>
    cards.filter((card, at) =>
      cards.some((other, index) => index > at && Math.abs(other.x - card.x) < CARD.width && Math.abs(other.y - card.y) < CARD.height),
    );

  it('hangs every device on a stave once, in its physical order, and none on another', () => {
    expect(layout.staves[0]!.line.name).toBe('Process net');
    expect(layout.cards.length).toBe(demo.devices.length);
    expect(overlaps(layout)).toEqual([]);
    const kiln = layout.cards.filter((card) => card.port.lineId === demo.lines.find(({ name }) => name === 'Kiln bus')!.id);
    expect(kiln.map((card) => card.x)).toEqual([...kiln.map((card) => card.x)].sort((a, b) => a - b));
    expect(layout.width).toBeLessThanOrEqual(ROOM);
  });

  it('lets gateways and converters reach from the network where they are dialled to each of their other lines', () => {
    expect(layout.bridges.map(({ device: owner, line }) => `${owner.name} → ${line.name}`).sort()).toEqual([
      'Grid converter → Grid link',
      'Kiln controller → Silo link',
      'Kiln gateway → Kiln bus',
      'Loft gateway → Loft bus',
      'Text port → Moisture cable',
      'Text port → Weighbridge cable',
      'Turner converter → Turner CAN',
    ]);
    for (const { line, path } of layout.bridges) {
      const stave = layout.staves.find((candidate) => candidate.line.id === line.id)!;
      expect(path.endsWith(` ${stave.y}`))
        .withContext(path)
        .toBeTrue();
    }
  });

  it('puts lines near what leads to them, so that few bridges go round a row', () => {
    const lanesOf = ({ bridges, cards }: typeof layout) => {
      const right = Math.max(...cards.map(({ x }) => x + CARD.width));
      return bridges.filter(({ path }) => path.match(/[-\d.]+ [-\d.]+/g)!.some((place) => Number(place.split(' ')[0]) > right + 8));
    };
    expect(lanesOf(layout).length).toBeLessThanOrEqual(4);
    expect(lanesOf(layoutSite(demo, 1840)).length).toBeLessThanOrEqual(2);
    // Side by side in the order of their converters.
    const short = layoutSite(demo, 1840).staves.slice(1, 6);
    expect(short.map(({ line }) => line.name)).toEqual(['Silo link', 'Weighbridge cable', 'Moisture cable', 'Turner CAN', 'Grid link']);
    expect(new Set(short.map(({ y }) => y)).size).toBe(1);
  });

  it('goes on below where a line is longer than the room, with 150 devices on 12 lines', () => {
    const bus = demo.lines[1]!;
    const lines = Array.from({ length: 12 }, (_, index) => ({ ...bus, id: `line-${index}`, name: `Bus ${index}` }));
    const devices = Array.from({ length: 150 }, (_, index) => ({ ...demo.devices[3]!, id: `device-${index}`, name: `Drive ${index}` }));
    const like = demo.ports.find((port) => port.kind === 'serial')!;
    const ports = devices.map((row, index) => ({
      ...like,
      id: `port-${index}`,
      deviceId: row.id,
      lineId: `line-${index % 12}`,
      position: index,
    }));
    const many = layoutSite({ ...demo, lines, devices, ports }, ROOM);
    expect([many.cards.length, many.staves.length, overlaps(many).length]).toEqual([150, 12, 0]);
    expect(many.staves.every((stave) => stave.stretches.length === 2)).toBeTrue();
    const fitted = fitSite({ ...demo, lines, devices, ports }, ROOM, 700);
    expect(scaleOf(fitted, ROOM, 700)).toBeGreaterThan(scaleOf(many, ROOM, 700));
  });

  it('bundles routes into ribbons as thick as their traffic', () => {
    const ribbons = ribbonsOf(compile(demo).plan, layout);
    const toKiln = ribbons.find(({ fromId, toId }) => fromId === deviceId('Fan drive north') && toId === deviceId('Kiln controller'))!;
    expect([toKiln.routes, toKiln.perSecond, toKiln.text]).toEqual([5, 8.5, '5 routes · 8.5 / s']);
    const slow = ribbons.find(({ fromId }) => fromId === deviceId('Grain cable 1'))!;
    expect(slow.text).toBe('3 routes · 18 / min');
    expect(toKiln.thickness).toBeGreaterThan(slow.thickness);
  });
});

describe('the banks', () => {
  it('start with the two devices between which most routes run', () => {
    const pair = busiestPair(demo.routes, points)!;
    expect([pair.from, pair.to].map((id) => demo.devices.find((row) => row.id === id)?.name)).toEqual([
      'Floor I/O block',
      'Kiln controller',
    ]);
    expect(busiestPair([], points)).toBeNull();
  });

  it('lay what is carried face to face, in the order of the sources, and after it what has no route here', () => {
    const [sources, destinations] = [of('Air-on transmitter'), of('Kiln controller')];
    const lanes = faceToFace(demo.routes, sources, destinations, true);
    const ribbons = ribbonsBetween(demo.routes, lanes.source, lanes.destination);
    expect(ribbons.length).toBe(5);
    for (const { fromY, toY } of ribbons) expect(fromY).toBe(toY);
    expect([lanes.routed, lanes.rest]).toEqual([5, { source: 0, destination: destinations.length - 5 }]);
    const open = faceToFace(demo.routes, sources, destinations, false);
    expect([open.source.length, open.destination.length]).toEqual([6, destinations.length + 1]);
    expect(open.destination.slice(5, 7)).toEqual([
      null,
      destinations.find(({ id }) => !lanes.destination.some((lane) => lane?.id === id))!,
    ]);
    const none = faceToFace([], sources, destinations, true);
    expect([none.source, none.destination]).toEqual([sources, destinations]);
  });

  it('leave a lane empty beside what a point carries to further ends, so that nothing stands twice', () => {
    const [a, b] = of('Air-on transmitter');
    const [x, y, z] = of('Kiln controller');
    const route = (from: typeof a, to: typeof a, id: string) => ({ ...demo.routes[0]!, id, sourceId: from!.id, destinationId: to!.id });
    const routes = [route(a, z, 'a z'), route(a, x, 'a x'), route(b, y, 'b y'), route(b, x, 'b x')];
    const lanes = faceToFace(routes, [a!, b!], [x!, y!, z!], true);
    expect(lanes.source).toEqual([a!, null, b!]);
    expect(lanes.destination).toEqual([x!, z!, y!]);
    expect(ribbonsBetween(routes, lanes.source, lanes.destination).length).toBe(4);
  });

  it('draw a ribbon for each route between them, from lane to lane', () => {
    const ribbons = ribbonsBetween(demo.routes, of('Air-on transmitter'), of('Kiln controller'));
    expect(ribbons.length).toBe(5);
    for (const { fromY, toY } of ribbons) expect([fromY % LANE, toY % LANE]).toEqual([(LANE - 3) / 2, (LANE - 3) / 2]);
    expect(ribbonsBetween(demo.routes, of('Kiln controller'), of('Air-on transmitter'))).toEqual([]);
    expect(ribbonPath({ ...ribbons[0]!, fromY: 16, toY: 80 }, 100)).toBe('M9 16C45 16 55 80 82 80');
  });

  it('draw what is near whole, the end of what is far with where it goes, and nothing of what only passes by', () => {
    const at = (fromY: number, toY: number, id: string) => ({ route: { ...demo.routes[0]!, id }, fromY, toY });
    const ribbons = [at(15, 45, 'near'), at(15, 900, 'down'), at(900, 45, 'from below'), at(-900, 900, 'past'), at(900, 930, 'chosen')];
    const crowd = Array.from({ length: 40 }, (_, index) => at(9000, 9000, `crowd ${index}`));
    const drawn = drawnRibbons([...ribbons, ...crowd], { first: 0, last: 9 }, 'chosen');
    expect(drawn.map(({ route, part, isDown }) => [route.id, part, isDown])).toEqual([
      ['near', 'whole', false],
      ['down', 'leaving', true],
      ['from below', 'arriving', true],
      ['chosen', 'whole', false],
    ]);
    expect(ribbonPath(drawn[1]!, 240)).toBe('M9 15H34');
    const few = drawnRibbons(ribbons, { first: 0, last: 9 }, undefined).map(({ route, part }) => `${route.id} ${part}`);
    expect(few).toEqual(['near whole', 'down whole', 'from below whole', 'past whole']);
  });
});
