import { SmallProject } from '../testing/index.js';
import type { PlannedRequest } from './plan.js';
import { whyOf } from './request-reasons.js';

const project = new SmallProject();
const controller = project.device('Controller');
const meter = project.device('Meter', { notation: 'reference5' });
const plain = project.device('Plain', { notation: 'pdu' });
const request = {
  ...{ deviceId: plain.id, table: 'holding', offset: 10, count: 4, also: null, withId: null, partial: null, release: null },
  points: [
    { pointId: 'a', at: 0, width: 2 },
    { pointId: 'b', at: 2, width: 2 },
  ],
} as unknown as PlannedRequest;
const why = (fields: Partial<PlannedRequest> = {}, row: Partial<Parameters<typeof whyOf>[1]> = {}) =>
  whyOf({ ...request, ...fields }, { carrier: null, start: 10, local: null, told: undefined, ...row }, project.document);

describe('how the numbers of a request came about', () => {
  const usual = ['10 zero-based, typed as it is.', '13 − 10 + 1 = 4 holding registers.'];

  it('is its start and its count, at least', () => {
    expect(why()).toEqual(usual);
    expect(why({}, { carrier: controller })).toEqual(usual);
    expect(why({}, { carrier: controller, start: 11 })[0]).toBe('10 zero-based; this package takes one-based numbers, so type 11.');
    expect(why({ count: 1, points: [{ pointId: 'a', at: 0, width: 1 }] })[1]).toBe('10 − 10 + 1 = 1 holding register.');
  });

  it('is the hole that it crosses', () => {
    expect(why({ count: 7 }).slice(2)).toEqual(['3 of them nobody asked for; one request across them costs less than two.']);
    expect(why({ points: [...request.points, { pointId: 'c', at: 0, width: 2 }] }))
      .withContext('two points overlap')
      .toEqual(usual);
  });

  it('is what goes along with it', () => {
    const exchange = [
      'One transaction writes and then reads, by function 23: what is written is in the carrier’s own memory, so the read waits for nobody.',
    ];
    expect(why({ also: { id: 'r', offset: 0, count: 1 } }).slice(2)).toEqual(exchange);
    expect(why({ withId: 'w' }).slice(2)).toEqual(exchange);
    expect(why({ partial: 'mask' }).slice(2)).toEqual(['Only some bits of the register are ours; function 22 leaves the others alone.']);
    expect(why({ partial: 'read' }).slice(2)).toEqual([
      'Only some bits of the register are ours, so it is read just before and its other bits are written back.',
    ]);
    const release = { when: 'after', functionCode: 16, table: 'holding', offset: 3, values: [1, 2] } as const;
    expect(why({ release: { ...release, values: [1, 2] } }).slice(2)).toEqual(['Offset 3 is set to 1 2 just after.']);
  });

  it('is where it begins in the papers, where the block lies, and what it tells', () => {
    expect(why({ deviceId: meter.id }).slice(2)).toEqual(['In the papers of Meter it begins at 40011.']);
    expect(why({ deviceId: 'gone' })).toEqual(usual);
    const block = { first: 'W70', last: 'W73', work: [] };
    expect(why({}, { local: { ...block, isDirect: true } })).toEqual(usual);
    expect(why({}, { local: { ...block, isDirect: false } }).slice(2)).toEqual([
      'The block W70 to W73 is free; the carrier’s program works from there.',
    ]);
    expect(why({}, { told: 'Power' }).slice(2)).toEqual(['It is on while the value of Power can be trusted, and off once it is lost.']);
  });
});
