import { fernhollow } from '../demo/index.js';
import { noIdentification } from '../identity/index.js';
import { applyChanges, type Change, templateOf } from '../model/index.js';
import { countedIds } from '../testing/index.js';
import { type FoundThere, likeOf, takeIn } from './index.js';

const demo = fernhollow();
const newId = countedIds('019aa888');
const line = demo.lines.find(({ name }) => name === 'Loft bus')!;
const meter = demo.devices.find(({ name }) => name === 'Plant meter')!;
const found = (unitId: number, more: Partial<FoundThere> = {}): FoundThere => ({
  ...{ place: { unitId }, name: `Found at unit ${unitId}`, identity: '', identification: null, like: null },
  ...more,
});

describe('What was found on a line', () => {
  const made = (all: FoundThere[]) => {
    const changes = takeIn(demo, line, all, newId);
    if (!changes.ok) throw new Error(changes.problem.message);
    return changes.value;
  };
  const devices = (changes: Change[]) => applyChanges(demo, changes).devices.slice(demo.devices.length);

  it('becomes devices of the project in one action, each at the place where it was', () => {
    const changes = made([found(91, { identity: 'Works, pump' }), found(92), found(92, { name: 'Found at unit 91' })]);
    expect(devices(changes).map(({ name, note }) => [name, note])).toEqual([
      ['Found at unit 91', 'Works, pump'],
      ['Found at unit 92', ''],
      ['Found at unit 91 (2)', ''],
    ]);
    const ports = applyChanges(demo, changes).ports.slice(demo.ports.length);
    expect(ports.map((port) => port.kind === 'serial' && [port.unitId, port.baud, port.lineId])).toEqual([
      [91, 9600, line.id],
      [92, 9600, line.id],
      [92, 9600, line.id],
    ] as never);
  });

  it('is like a device of the library where it calls itself so, with its map and papers', () => {
    const of = { id: newId(), version: 2 };
    const changes = made([found(91, { name: 'Plant meter unit 91', like: { template: templateOf(demo, meter.id), of } })]);
    const [device] = devices(changes);
    expect([device!.name, device!.fromLibrary]).toEqual(['Plant meter unit 91', of] as never);
    const after = applyChanges(demo, changes);
    expect(after.points.filter(({ deviceId }) => deviceId === device!.id).length).toBe(
      demo.points.filter(({ deviceId }) => deviceId === meter.id).length,
    );
  });

  it('is matched by what it calls itself, the longest name first, and by nothing else', () => {
    const kept = [
      { name: 'Meter', note: '', identification: { ...noIdentification, vendorName: 'Works', productCode: 'M-1' } },
      { name: 'Meter 3P', note: '', identification: noIdentification },
      { name: 'Fan', note: 'Works, AF-2', identification: noIdentification },
    ];
    expect(likeOf(kept, 'Works; METER 3P; 1.02', null)?.name).toBe('Meter 3P');
    expect(likeOf(kept, 'works, af-2', null)?.name).toBe('Fan');
    expect([likeOf(kept, '', null), likeOf(kept, 'Works, pump', null)]).toEqual([null, null]);
    const said = { ...noIdentification, vendorName: 'Works', productCode: 'M-1', revision: '9' };
    expect(likeOf(kept, 'Works, M-1, 9', said)?.name)
      .withContext('the same product')
      .toBe('Meter');
  });

  it('keeps what it says of itself by its texts', () => {
    const identification = { ...noIdentification, vendorName: 'Works', productCode: 'P-4' };
    const [device] = devices(made([found(91, { identification })]));
    expect([device!.identification, device!.functionCodes.includes(43)]).toEqual([identification, true]);
  });
});
