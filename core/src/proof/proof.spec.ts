import '../formula/index.js';
import { fernhollow } from '../demo/index.js';
import { turnedRound } from '../testing/index.js';
import type { Point } from '../model/index.js';
import { encode } from '../value/index.js';
import { expectedAt, fingerprint, hasArrived, restsOnSame, tellTales, arrivesByPapers, unlikePapers, whyOther } from './index.js';
import { olderFingerprint } from './fingerprint.js';
import { numericTypes } from '../types/index.js';
import { compile } from '../compile/index.js';

const demo = fernhollow();
const { plan } = compile(demo);
const routeNamed = (name: string) => plan.routes.find((route) => route.name === name)!;
const airOn = routeNamed('Air-on temperature');
const wordsAt = (value: number, point: Point) => {
  const { type, order, scale } = point;
  const words = encode(value, { type: type as 'uint32', order, ...(scale ? { scale } : {}) });
  return words.ok ? words.value.words : [];
};

describe('tell-tale values', () => {
  it('can be held by the point, are all different, and begin and end with numbers of its own', () => {
    for (const type of numericTypes) {
      const point: Point = { ...airOn.source, type, order: type.endsWith('64') ? 'ABCDEFGH' : 'ABCD' };
      const [some, others] = [tellTales(point, 3), tellTales(point, 4)];
      const layout = { type, order: point.order };
      for (const { value, shows } of some) expect(encode(value, layout).ok).withContext(`${type} ${shows}`).toBeTrue();
      const raw = some.map(({ value }) => String(value));
      expect(new Set(raw).size).withContext(type).toBe(raw.length);
      expect(some[0]!.value).not.toEqual(others[0]!.value);
      expect(some.at(-1)!.value).not.toEqual(others.at(-1)!.value);
    }
  });

  it('tell every order of two registers from every other', () => {
    for (const type of ['uint32', 'float32'] as const) {
      const point: Point = { ...airOn.source, type, order: 'ABCD' };
      const [first] = tellTales(point, 1);
      const held = (['ABCD', 'CDAB', 'BADC', 'DCBA'] as const).map((order) => wordsAt(Number(first!.value), { ...point, order }).join());
      expect(new Set(held).size).withContext(type).toBe(4);
    }
  });

  it('show each bit of a word alone, and a text in its full length', () => {
    const status = routeNamed('Fan north status').source;
    expect(tellTales(status, 1).map(({ value }) => value)).toEqual([[], [0], [1], [2], [3], [4], [0, 1, 2, 3, 4]]);
    const text = demo.points.find(({ name }) => name === 'Reply')!;
    expect(tellTales(text, 1).map(({ value }) => String(value).length)).toEqual([4, 32]);
  });
});

describe('what is expected at the destination', () => {
  const expectation = (value: number, route = airOn) => {
    const expected = expectedAt(value, route, route, []);
    return expected.ok ? expected.value : null;
  };

  it('is the value as the destination writes it, within what it can show', () => {
    expect(expectation(61.5)?.words).toEqual([615]);
    expect(hasArrived([615], expectation(61.5)!, airOn.destination)).toBeTrue();
    expect(hasArrived([616], expectation(61.5)!, airOn.destination)).toBeTrue();
    expect(hasArrived([625], expectation(61.5)!, airOn.destination)).toBeFalse();
    expect(expectation(9999)).toBeNull();
  });

  it('leaves out what only corrects the source, and a factor between two ends of one unit', () => {
    const swapping = { ...airOn, transforms: [{ kind: 'swap', what: 'words' } as const] };
    const scaling = { ...airOn, transforms: [{ kind: 'scale', factor: 0.1, offset: 0 } as const] };
    expect([expectation(61.5, swapping)?.words, expectation(61.5, scaling)?.words]).toEqual([[615], [615]]);
    const toOther = { ...scaling, destination: { ...airOn.destination, unit: 'm' } };
    expect(expectation(61.5, toOther)?.words).toEqual([62]);
  });

  it('counts only the bits that belong to the route', () => {
    const bit = routeNamed('Fan north runs');
    const expected = expectedAt([2], bit, { ...bit, destination: { ...bit.destination, table: 'holding', bit: 3 } }, []);
    expect(expected.ok && [expected.value.words, expected.value.masks]).toEqual([[8], [8]]);
    expect(expected.ok && hasArrived([0b1011], expected.value, bit.destination)).toBeTrue();
    expect(expected.ok && hasArrived([0b0011], expected.value, bit.destination)).toBeFalse();
  });
});

describe('what a route would do by the papers of both devices', () => {
  const with_ = (fields: object) => arrivesByPapers({ ...airOn, ...fields }, airOn);

  it('is told without sending anything: it arrives as the same, at another place, or as something else', () => {
    expect(with_({})).toBeNull();
    expect(with_({ source: { ...airOn.source, scale: { factor: 0.1, offset: 0 } } })).toContain('becomes another value');
    expect(with_({ source: { ...airOn.source, order: 'ABCD' } })).toContain('becomes another value');
    expect(with_({ destination: { ...airOn.destination, offset: 9 } })).toContain('The map has offset 9');
    expect(with_({ transforms: [{ kind: 'arithmetic', expression: 'x * 0.1' }] })).toContain('becomes another value');
    expect(with_({ transforms: [{ kind: 'arithmetic', expression: 'x' }] })).toBeNull();
    expect(with_({ transforms: [{ kind: 'deadband', by: 0.2 }] })).toBeNull();
  });
});

describe('why something else arrived', () => {
  const power = routeNamed('Plant energy');
  const expected = expectedAt(70_000, power, power, []);
  const why = (words: readonly number[], before: readonly number[] = [9, 9]) =>
    expected.ok ? whyOther(words, before, expected.value, power.destination) : 'not expected';

  it('is told from what arrived in its place', () => {
    const [high, low] = expected.ok ? expected.value.words : [];
    expect(why([9, 9])).toContain('has not changed');
    expect(why([low!, high!])).toContain('words swapped');
    expect(why(wordsAt(700_000, power.destination))).toContain('10 times as much');
    expect(why(wordsAt(123, power.destination))).toBeNull();
    const whole = { ...power.destination, type: 'int32' as const };
    const minus = expectedAt(-1, power, { ...power, destination: whole }, []);
    expect(minus.ok && whyOther([0, 0xffff], [0, 0], minus.value, whole)).toContain('another sign');
  });

  it('is what the map has otherwise than the papers, where they differ', () => {
    const paper = power.source;
    expect(unlikePapers(paper, paper)).toBeNull();
    expect(unlikePapers({ ...paper, offset: 8121 }, paper)).toBe('The map has offset 8121 for Active energy; its papers say 8120.');
    expect(unlikePapers({ ...paper, order: 'ABCD' }, paper)).toContain('order ABCD');
    expect(unlikePapers({ ...paper, scale: { factor: 0.1, offset: 0 } }, paper)).toContain('papers say no scale');
  });
});

describe('what a proof rests on', () => {
  it('changes with an end, the way, or the request, and with nothing else', () => {
    const before = fingerprint(plan, airOn.id);
    const after = (change: (point: Point) => Point) => fingerprint(compile({ ...demo, points: demo.points.map(change) }).plan, airOn.id);
    expect(before).not.toBeNull();
    expect(after((point) => ({ ...point }))).toBe(before);
    expect(after((point) => (point.id === airOn.source.id ? { ...point, order: 'ABCD' } : point))).not.toBe(before);
    expect(after((point) => (point.id === routeNamed('Batch number').source.id ? { ...point, note: 'another' } : point))).toBe(before);
    const moved = {
      ...demo,
      ports: demo.ports.map((port) => (port.kind === 'serial' && port.unitId === 21 ? { ...port, unitId: 22 } : port)),
    };
    expect(fingerprint(compile(moved).plan, airOn.id)).not.toBe(before);
    expect(fingerprint(plan, demo.project.id)).toBeNull();
  });

  it('still rests on the same where only the order of fields is another, and where an older version took it down', () => {
    const turned = compile(turnedRound(demo)).plan;
    const kept = fingerprint(plan, airOn.id);
    expect(fingerprint(turned, airOn.id)).toBe(kept);
    expect(olderFingerprint(turned, airOn.id)).not.toBe(olderFingerprint(plan, airOn.id));
    expect(restsOnSame(turned, airOn.id, kept)).toBeTrue();
    expect(restsOnSame(plan, airOn.id, olderFingerprint(plan, airOn.id))).toBeTrue();
    expect(restsOnSame(plan, airOn.id, 'another')).toBeFalse();
    expect(restsOnSame(plan, demo.project.id, kept)).toBeFalse();
    expect(restsOnSame(plan, demo.project.id, null)).toBeTrue();
  });
});
