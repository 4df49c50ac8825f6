import { stripOf } from '@plain-envoy/core/map';
import { compile } from '@plain-envoy/core/compile';
import { demo, deviceNamed, frames, pageOf, type Stage, stage, textOf } from '../../testing.spec-helper';
import { TestBed } from '@angular/core/testing';
import { MapState } from './map-state';
import { AddressStrip } from './strip';
import { StripChart } from './strip-chart';
import { layoutStrip, xOf } from './strip-layout';
import { wordsOf } from './strip-words';

const meter = deviceNamed('Plant meter');
const points = demo.points.filter(({ deviceId }) => deviceId === meter.id);
const strip = stripOf('holding', points, meter.forbidden)!;

interface Shape {
  type: string;
  shape?: { x: number; width: number; points?: number[][] };
  style: { fill?: string; text?: string; stroke?: string };
}
interface Group {
  x: number;
  children: Shape[];
}

describe('The address strip', () => {
  let on: Stage;
  beforeEach(async () => {
    on = await stage([MapState]);
    TestBed.inject(MapState).deviceId.set(meter.id);
  });

  /** What its custom series draw, group by group, as the chart would place them. */
  const drawn = (given: object): Group[][] => {
    const chart = on.show(StripChart, { layout: layoutStrip(strip, 1100), left: 0, width: 1100, requests: [], ...given });
    const { series } = (
      chart.componentInstance as unknown as { options(): { series: { data: number[][]; renderItem: Render }[] } }
    ).options();
    const coord = ([x]: [number, number]): [number, number] => [x, 0];
    return series.map(({ data, renderItem }) => data.map((_, dataIndex) => renderItem({ dataIndex }, { coord })));
  };
  type Render = (at: { dataIndex: number }, api: { coord(at: [number, number]): [number, number] }) => Group;

  it('draws each stretch where its registers are, holes as a line with their length', () => {
    const [stretches] = drawn({});
    const layout = layoutStrip(strip, 1100);
    expect(stretches!.map(({ x }) => x)).toEqual(layout.placed.map(({ x }) => x));
    const hole = layout.placed.findIndex(({ kind, width }) => kind === 'hole' && width > 18);
    expect(stretches![hole]!.children.map(({ type }) => type)).toEqual(['line', 'text']);
    expect(stretches![hole]!.children[1]!.style.text).toBe(String(layout.placed[hole]!.count));
  });

  it('draws only what is in view of a long table', () => {
    const many = Array.from({ length: 9000 }, (_, index) => ({ ...points[0]!, id: `p${index}`, offset: index * 2 }));
    const layout = layoutStrip(stripOf('holding', many)!, 1100);
    const [stretches] = drawn({ layout, left: layout.width / 2 });
    expect(stretches!.length).toBeGreaterThan(50);
    expect(stretches!.length).toBeLessThan(500);
  });

  it('draws what was read and refused below the registers, the point that is looked at in another ink, and what requests fetch', () => {
    const [point] = [...points].sort((a, b) => a.offset - b.offset);
    const read = { words: new Map([[point!.offset, 7]]), refused: new Map([[point!.offset + 1, 'exception 2']]) };
    const requests = compile(demo).plan.requests.filter(({ deviceId }) => deviceId === meter.id);
    const plain = drawn({})[0]!;
    const [stretches, fetched, marked] = drawn({ read, requests, focused: point!.id, cursor: point!.offset, mark: point!.offset + 1 });
    expect(stretches![0]!.children.length).toBe(plain[0]!.children.length + 2);
    expect(stretches![0]!.children[0]!.style.fill).not.toBe(plain[0]!.children[0]!.style.fill);
    expect(fetched!.length).toBe(requests.length);
    const layout = layoutStrip(strip, 1100);
    expect([marked![0]!.x, marked![0]!.children.length]).toEqual([xOf(layout, point!.offset)!.x, 2]);
  });

  it('says in words what is pointed at', () => {
    const ask = { strip, device: meter, notation: meter.notation, requests: [], read: undefined };
    expect(wordsOf({ ...ask, offset: null, mark: null })).toContain('Point at a register');
    const [point] = points.filter(({ type }) => type === 'uint32');
    const at = point!.offset;
    const read = { words: new Map([[at, 0xfffe]]), refused: new Map([[at + 1, 'it refuses']]) };
    expect(wordsOf({ ...ask, read, offset: at, mark: null })).toMatch(
      new RegExp(`^Offset ${at} · number .* · type .*\\. ${point!.name} \\(1 of 2\\)\\. read: 65534 = -2 = FFFE hex\\.$`),
    );
    expect(wordsOf({ ...ask, read, offset: at + 1, mark: null })).toContain('(2 of 2). refused: it refuses.');
    expect(wordsOf({ ...ask, offset: at, mark: at + 9 })).toContain(`10 registers (offset ${at} to ${at + 9})`);
  });

  it('is walked with the keyboard, marks a span with Shift, and is on a canvas', async () => {
    const shown = on.show(AddressStrip, { table: 'holding' });
    await frames(shown);
    expect(pageOf(shown).querySelector('pe-strip-chart canvas')).not.toBeNull();
    const spans: object[] = [];
    (shown.componentInstance as AddressStrip).span.subscribe((span) => spans.push(span));
    const press = (key: string, shiftKey = false) =>
      pageOf(shown).querySelector('[role=application]')!.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey }));
    press('Home');
    press('ArrowRight', true);
    press('ArrowRight', true);
    shown.detectChanges();
    expect(spans.at(-1)).toEqual({ table: 'holding', first: strip.first, last: strip.first + 2 });
    expect(textOf(shown, '.words')).toContain('3 registers');
    press('End');
    press('ArrowRight');
    expect(spans.at(-1)).toEqual({ table: 'holding', first: strip.last, last: strip.last });
  });
});
