import { compile } from '../compile/index.js';
import { fernhollow } from '../demo/index.js';
import { cutFor, lossRests, lostWhen, measuredText, newestLosses } from './index.js';

const demo = fernhollow();
const losses = lostWhen(demo, compile(demo).plan);
const named = (name: string) => losses.find(({ failing }) => failing.name === name)!;
const cut = (name: string) => cutFor(demo, named(name).failing).map((id) => demo.devices.find((device) => device.id === id)!.name);

describe('What is measured of a loss', () => {
  it('is made to fail by cutting off the device, or all that is on the line but who is at its beginning', () => {
    expect(cut('Kiln gateway')).toEqual(['Kiln gateway']);
    expect(cut('Kiln bus')).toEqual(['Fan drive north', 'Fan drive south', 'Air-on transmitter', 'Plant meter', 'Exhaust damper']);
    expect(cut('Turner CAN')).toEqual(['Floor turner']);
    expect(cut('Weighbridge cable')).toEqual(['Weigh indicator']);
  });

  it('holds for as long as the same is reckoned', () => {
    const row = named('Exhaust damper');
    expect(lossRests(row)).toBe(lossRests({ ...row, failing: { ...row.failing, name: 'Another' } }));
    expect(lossRests({ ...row, lost: row.lost.map((one) => ({ ...one, toMs: one.toMs + 1000 })) })).not.toBe(lossRests(row));
    expect(lossRests({ ...row, trips: [{ deviceId: 'd', pointId: null, device: 'Fan', by: 'it', afterMs: 1 }] })).not.toBe(lossRests(row));
  });

  it('is the newest of each that may fail, and said in words', () => {
    const { id } = named('Kiln bus').failing;
    const value = { routeId: id, state: 'otherwise' as const, ms: null, sentence: 'It changed all the same.' };
    const kept = (values: unknown[]) => ({ kind: 'loss', of: id, body: { failingId: id, rests: 'x', values } });
    const newest = newestLosses([kept([]), kept([value]), { ...kept([]), kind: 'proof' }]);
    expect(newest.get(id)!.values).toEqual([value]);
    expect(measuredText(value)).toBe('otherwise: It changed all the same.');
    expect(measuredText(undefined)).toBe('');
  });
});
