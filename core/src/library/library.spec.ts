import { fernhollow } from '../demo/index.js';
import { addDevices, applyChanges, type Device, type ProjectDocument, templateOf } from '../model/index.js';
import { fromPapers } from '../papers/index.js';
import { countedIds } from '../testing/index.js';
import { libraryBeside, settingFrom } from './index.js';

const newId = countedIds('019aa444');
const demo = fernhollow();
const meter = demo.devices.find(({ name }) => name === 'Plant meter')!;
const template = templateOf(demo, meter.id);
const of = { id: newId(), version: 3 };

describe('A device and the library', () => {
  let document: ProjectDocument;
  let device: Device;

  beforeEach(() => {
    const added = addDevices(demo, { template, name: 'Meter 2', lineId: null, count: 2, fromLibrary: of, newId });
    if (!added.ok) throw new Error(added.problem.message);
    document = applyChanges(demo, added.value);
    device = document.devices.find(({ name }) => name === 'Meter 2')!;
  });
  const now = () => document.devices.find(({ id }) => id === device.id)!;

  it('are alike where it was just taken from there, papers and all, and it knows of which version it is', () => {
    expect(libraryBeside(document, device, template)).toEqual({ settings: [], map: [] });
    expect(document.devices.filter(({ fromLibrary }) => fromLibrary?.id === of.id).map(({ name }) => name)).toEqual(['Meter 2', 'Meter 3']);
    expect(document.papers.find(({ deviceId }) => deviceId === device.id)?.points.length).toBe(template.papers!.points.length);
    expect(templateOf(document, device.id)).toEqual({ ...template, device: { ...template.device, name: 'Meter 2' }, ports: [] });
  });

  it('show what each has otherwise, in settings and in the map', () => {
    const point = document.points.find(({ deviceId }) => deviceId === device.id)!;
    document = applyChanges(document, [
      { entity: 'device', id: device.id, before: device, after: { ...device, tries: 5, note: 'Ours', functionCodes: [3] } },
      { entity: 'point', id: point.id, before: point, after: { ...point, unit: 'V' } },
    ]);
    const { settings, map } = libraryBeside(document, now(), template);
    expect(settings.map(({ field, here, there }) => [field, here, there])).toEqual([
      ['functionCodes', [3], template.device.functionCodes],
      ['tries', 5, template.device.tries],
    ]);
    expect(map.map(({ point: own, differs }) => [own?.name, differs])).toEqual([[point.name, ['unit']]]);
    const newest = { ...of, version: 4 };
    document = applyChanges(document, [
      settingFrom(now(), settings, newest),
      fromPapers(map[0]!, { deviceId: device.id, projectId: demo.project.id, newId })!,
    ]);
    expect(libraryBeside(document, now(), template)).toEqual({ settings: [], map: [] });
    expect([now().fromLibrary, now().note]).toEqual([newest, 'Ours']);
  });
});
