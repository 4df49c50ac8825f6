import { compile } from '@plain-envoy/core/compile';
import { keepsAll } from '@plain-envoy/core/trace';
import { demo, deviceNamed } from '../../testing.spec-helper';
import { filterOf } from './trace-filter';
import { headlineOf, type Standing } from './trace-lines';

describe('What is looked for in the trace', () => {
  const { plan } = compile(demo);
  const points = new Map(demo.points.map((point) => [point.id, point]));
  const nothing = { text: '', deviceId: '', code: '', shown: 'all' } as const;
  const of = (wanted: object) => filterOf({ ...nothing, ...wanted }, plan, demo, points);

  it('is nothing in particular at first, and then bytes, a unit, a function or an end', () => {
    expect(of({})).toEqual({});
    expect(of({ text: ' 15 04 00 ' })).toEqual({ hex: '15 04 00' });
    expect(of({ text: 'Unit 21' })).toEqual({ unit: 21 });
    expect(of({ text: 'unit 999' })).toEqual({ unit: 255 });
    expect(of({ code: '4', shown: 'trouble' })).toEqual({ functionCode: 4, onlyTrouble: true });
    expect(of({ shown: 'refused' })).toEqual({ end: 'refused' });
  });

  it('is found by the names of devices, points and routes, of one device where one is chosen', () => {
    const drive = deviceNamed('Fan drive north');
    const ids = (wanted: object) => of(wanted).requestIds!;
    const own = plan.requests.filter(({ deviceId }) => deviceId === drive.id).map(({ id }) => id);
    expect(ids({ deviceId: drive.id })).toEqual(own);
    expect(ids({ text: 'fan DRIVE north' })).toEqual(own);
    expect(ids({ text: 'fan north set point' }).length).toBeGreaterThan(0);
    expect(ids({ text: 'fan north set point', deviceId: deviceNamed('Plant meter').id })).toEqual([]);
    expect(ids({ text: 'no such thing' })).toEqual([]);
  });

  it('is found on lines of text too: by the line, who is on it, the telegram, a field, and the route that it is carried by', () => {
    const cable = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
    const senders = [cable.id, ...demo.ports.filter(({ lineId }) => lineId === cable.id).map(({ id }) => id)];
    for (const text of ['weighbridge cable', 'weigh indicator', 'weighing', 'gross weight'])
      expect(of({ text }).requestIds!).withContext(text).toEqual(jasmine.arrayContaining(senders));
    const { id } = deviceNamed('Weigh indicator');
    expect(of({ deviceId: id }).requestIds).toEqual(senders);
    expect(of({ deviceId: id, text: 'moisture' }).requestIds).toEqual([]);
    expect(of({ deviceId: deviceNamed('Fan drive north').id }).requestIds).not.toContain(cable.id);
  });

  it('is found on CAN as well: by the frame, a signal and the route that it is carried by', () => {
    const can = demo.lines.find(({ kind }) => kind === 'can')!;
    const senders = [can.id, ...demo.ports.filter(({ lineId }) => lineId === can.id).map(({ id }) => id)];
    for (const text of ['turner can', 'floor turner', 'alive', 'drive temperature', 'turner drive position'])
      expect(of({ text }).requestIds!).withContext(text).toEqual(jasmine.arrayContaining(senders));
    expect(of({ deviceId: deviceNamed('Floor turner').id, text: 'weighing' }).requestIds).toEqual([]);
  });
});

describe('How the trace stands', () => {
  const found = { kept: { first: 11, last: 1210 }, capture: keepsAll, files: [], matching: 1200, records: [] };
  const said = (given: Partial<Standing>) =>
    headlineOf({ found, heldAt: null, recording: null, isRunning: true, isFollowing: true, ...given });

  it('is said with its number of exchanges, and how many of them fit', () => {
    expect(said({})).toBe('1 200 exchanges kept · following');
    expect(said({ found: { ...found, matching: 7 }, isFollowing: false, heldAt: 1010 })).toBe('7 of 1 000 exchanges kept · held');
    expect(said({ isRunning: false })).toContain('the bench is stopped');
    expect(said({ recording: 'line.pcapng' })).toBe('line.pcapng · 1 200 exchanges');
  });

  it('says that nothing has come yet, and what a capture waits for', () => {
    const empty = { ...found, kept: { first: 0, last: 0 }, matching: 0 };
    expect(said({ found: empty })).toBe('waiting for the first exchange');
    expect(said({ found: empty, isRunning: false })).toBe('the bench has not run yet');
    expect(said({ found: { ...empty, capture: { state: 'waits to begin', because: null } } })).toBe('the capture waits to begin');
    expect(said({ found: { ...found, capture: { state: 'ended', because: 'An exception came.' } } })).toContain(
      'the capture has ended: An exception came.',
    );
  });
});
