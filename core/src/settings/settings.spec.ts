import fc from 'fast-check';
import { checkMaps } from '../checks/index.js';
import { compile } from '../compile/index.js';
import { atItsPlace, type Point, pointWidth, wordsFromInput } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { valueTypes } from '../types/index.js';
import {
  chooseSettings,
  inWritingOrder,
  keptValue,
  likelySettings,
  readingOf,
  settingsOf,
  typedFor,
  valuesFor,
  verdictOn,
  want,
  wantedWords,
  wantHeld,
} from './index.js';

function plant() {
  const project = new SmallProject();
  const net = project.net();
  const drive = project.device('Drive');
  project.port(drive, net, {});
  const ramp = project.point(drive, 'Ramp', { offset: 10, scale: { factor: 0.1, offset: 0 }, unit: 's', setting: { wanted: '2.5' } });
  const unlock = project.point(drive, 'Unlock', { offset: 90, setting: { wanted: null } });
  const limit = project.point(drive, 'Limit', { offset: 12, type: 'float32', setting: { wanted: '48' }, releasedBy: unlock.id });
  const speed = project.point(drive, 'Speed', { offset: 14 });
  const reading = project.point(drive, 'Reading', { table: 'input', offset: 0, access: 'read' });
  return { project, drive, ramp, unlock, limit, speed, reading };
}

describe('the settings of a device', () => {
  it('are the points that were chosen, and what was wanted of them stays', () => {
    const { project, drive, ramp, unlock, limit, speed, reading } = plant();
    const { document } = project;
    expect(settingsOf(document, drive.id)).toEqual([ramp, unlock, limit]);
    const changes = chooseSettings([ramp, unlock, limit, speed], new Set([ramp.id, speed.id]));
    expect(changes.map(({ id, after }) => [id, after!['setting']])).toEqual([
      [unlock.id, null],
      [limit.id, null],
      [speed.id, { wanted: null }],
    ]);
    project.route(reading, speed, project.round(500));
    expect(likelySettings(document, drive.id)).withContext('neither carried, nor a release, nor read only').toEqual([ramp, limit]);
  });

  it('are written with what releases others before them', () => {
    const { ramp, unlock, limit } = plant();
    expect(inWritingOrder([ramp, limit, unlock])).toEqual([unlock, ramp, limit]);
  });

  it('become what a person types, or what was read', () => {
    const { ramp, limit, speed } = plant();
    expect(want(speed, ' ').after!['setting']).toEqual({ wanted: null });
    expect(want(speed, '5').after!['setting']).toEqual({ wanted: '5' });
    const changes = wantHeld(
      [ramp, limit, speed],
      new Map([
        [ramp.id, [25]],
        [speed.id, [7]],
      ]),
    );
    expect(changes.map(({ id, after }) => [id, after!['setting']])).toEqual([[speed.id, { wanted: '7' }]]);
  });

  it('are read in as few requests as go, and what cannot be read is named', () => {
    const { project, drive, ramp, limit, speed } = plant();
    const blind = project.point(drive, 'Command', { offset: 20, access: 'write' });
    const far = project.point(drive, 'Far', { offset: 5000 });
    const closed = { ...drive, forbidden: [{ table: 'holding' as const, first: 5000, last: 5010 }] };
    const document = { ...project.document, devices: [closed] };
    const { requests, unread, endpoint } = readingOf(document, drive.id, [ramp, limit, speed, blind, far]);
    expect(requests.map(({ offset, count }) => [offset, count])).toEqual([[10, 5]]);
    expect(endpoint?.id).toBe(drive.id);
    expect(unread.map(({ point }) => point.name)).toEqual(['Command', 'Far']);
    expect(readingOf({ ...document, ports: [] }, drive.id, [ramp])).toEqual({
      endpoint: null,
      requests: [],
      unread: [{ point: ramp, why: jasmine.any(String) as unknown as string }],
    });
  });
});

describe('a setting side by side', () => {
  const { project, drive, ramp, unlock } = plant();
  const point = (fields: Partial<Point>) => project.point(drive, 'Point', { offset: 200, ...fields });

  it('is what was typed, laid out as the device holds it', () => {
    expect(wantedWords(ramp)).toEqual({ ok: true, value: [25] });
    expect(wantedWords(unlock)).toEqual({ ok: true, value: null });
    const bit = point({ type: 'bit', bit: 3, setting: { wanted: 'on' } });
    expect(wantedWords(bit)).toEqual({ ok: true, value: [8] });
    expect(wantedWords(point({ setting: { wanted: 'much' } })).ok).toBeFalse();
  });

  it('is the same where the value is, whatever else lies in its registers', () => {
    const bit = point({ type: 'bit', bit: 3 });
    expect(verdictOn(bit, [0x8], [0xf9])).toBe('same');
    expect(verdictOn(bit, [0x8], [0xf1])).toBe('differs');
    const text = point({ type: 'string', length: 3, encoding: 'ascii' });
    expect(verdictOn(text, [0x4142, 0, 0], [0x4142, 0x2020, 0x2020])).toBe('same');
    expect(verdictOn(ramp, [25], [26])).toBe('differs');
    expect(verdictOn(ramp, null, [26])).toBe('unknown');
    expect(verdictOn(ramp, [26], null)).toBe('unknown');
  });

  it('is typed as it is shown where that leads back, else as its registers', () => {
    expect(typedFor([25], ramp)).toBe('2.5');
    expect(typedFor([1], point({ codes: [{ value: 1, name: 'Auto' }] }))).toBe('Auto');
    expect(typedFor([0b101], point({ type: 'bits', length: 1, bits: [{ bit: 0, name: 'Run' }] }))).toBe('Run, bit 2');
    expect(typedFor([0xabcd], point({ type: 'bcd16' })))
      .withContext('no number of this type')
      .toBe('0xABCD');
    expect(typedFor([0xffff], point({ type: 'string', length: 1, encoding: 'ascii' })))
      .withContext('nobody can type this')
      .toBeNull();
  });

  it('gives back the registers from what is typed, for every type', () => {
    const types = fc.constantFrom(...valueTypes);
    const words = fc.array(fc.nat(0xffff), { minLength: 8, maxLength: 8 });
    fc.assert(
      fc.property(types, words, fc.constantFrom(null, { factor: 0.1, offset: 0 }), (type, all, scale) => {
        const isNumber = type !== 'string' && type !== 'bits';
        const made = point({
          type,
          length: isNumber ? null : 2,
          encoding: type === 'string' ? 'ascii' : null,
          scale: isNumber ? scale : null,
        });
        const held = all.slice(0, pointWidth(made));
        const typed = typedFor(held, made);
        if (typed === null) return expect(type).toBe('string');
        const back = wordsFromInput(typed, made);
        expect(back.ok && verdictOn(made, atItsPlace(back.value, made), held)).toBe('same');
      }),
      { numRuns: 400 },
    );
  });
});

describe('a snapshot', () => {
  it('gives its values back by point, by name, and as the point is laid out now', () => {
    const { project, drive, ramp, limit, speed } = plant();
    const values = [keptValue(ramp, [25]), keptValue(limit, [0x4240, 0]), keptValue(speed, [300])];
    const moved = { ...limit, order: 'CDAB' as const, offset: 40 };
    const renamed = { ...ramp, name: 'Ramp up' };
    const twin = project.point(project.device('Twin'), 'Speed', { offset: 3 });
    const narrow = { ...speed, type: 'int16' as const, scale: { factor: 1000, offset: 0 } };
    expect([...valuesFor([renamed, moved, twin], { values })]).toEqual([
      [ramp.id, [25]],
      [limit.id, [0, 0x4240]],
      [twin.id, [300]],
    ]);
    expect(valuesFor([project.point(drive, 'New', {})], { values }).size).toBe(0);
    expect(valuesFor([narrow], { values }).get(speed.id))
      .withContext('300 is no multiple of 1000')
      .toBeUndefined();
  });
});

describe('what is found of settings', () => {
  it('is a value that its point cannot hold', () => {
    const { project, drive } = plant();
    const wrong = project.point(drive, 'Mode', { setting: { wanted: '70000' } });
    const [found, ...more] = checkMaps(project.document).filter(({ check }) => check === 'setting-value');
    expect(more).toEqual([]);
    expect(found!.message).toContain('Drive: Mode shall be “70000”, which it cannot hold:');
    expect(found!.fixes[0]!.changes[0]!.after).toEqual({ ...wrong, setting: { wanted: null } });
  });

  it('is a route that writes one', () => {
    const { project, reading, ramp } = plant();
    project.route(reading, ramp, project.round(500));
    const found = compile(project.document).findings.find(({ check }) => check === 'setting-carried')!;
    expect(found.message).toBe('Drive: Ramp is a setting, and Reading to Ramp writes it. What is set by hand is written over.');
    expect(found.fixes[0]!.changes[0]!.after).toEqual({ ...ramp, setting: null });
  });
});
