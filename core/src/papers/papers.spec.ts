import { fernhollow, mendedFernhollow } from '../demo/index.js';
import { applyChanges, type PaperPoint, type ProjectDocument } from '../model/index.js';
import { countedIds, SmallProject } from '../testing/index.js';
import { beside, fromPapers, mapAsPapers, paperOf, papersOf, releasedInPapers } from './index.js';

const newId = countedIds('019aa333');

describe('The papers of a device', () => {
  let small: SmallProject;
  let drive: ReturnType<SmallProject['device']>;
  let document: ProjectDocument;
  const of = () => ({ deviceId: drive.id, projectId: small.document.project.id, newId });
  const named = (name: string) => document.points.find((point) => point.name === name)!;
  const edit = (name: string, fields: object) => {
    const before = named(name);
    document = applyChanges(document, [{ entity: 'point', id: before.id, before, after: { ...before, ...fields } }]);
  };

  beforeEach(() => {
    small = new SmallProject();
    drive = small.device('Drive');
    const release = small.point(drive, 'Release', { offset: 4 });
    small.point(drive, 'Speed', { offset: 2, scale: { factor: 0.1, offset: 0 }, releasedBy: release.id });
    document = applyChanges(small.document, [mapAsPapers(small.document, { ...of(), source: 'The manual, page 7' })]);
  });

  it('are its map as it was when they were taken, and stay so whatever becomes of the map', () => {
    expect(papersOf(document, drive.id)?.source).toBe('The manual, page 7');
    edit('Speed', { offset: 3, type: 'int16', order: 'BADC' });
    expect(paperOf(document, named('Speed'))).toEqual(jasmine.objectContaining({ id: named('Speed').id, offset: 2, order: 'ABCD' }));
    expect(releasedInPapers(document, named('Speed'))).toBe('Release');
    expect(beside(document, drive.id).map(({ point, differs }) => [point?.name, differs])).toEqual([['Speed', ['offset', 'type']]]);
  });

  it('know a point by its name, or else by its place', () => {
    edit('Speed', { name: 'Set speed' });
    expect(paperOf(document, named('Set speed'))?.name).toBe('Speed');
    expect(beside(document, drive.id)).toEqual([]);
    edit('Set speed', { offset: 9 });
    expect(paperOf(document, named('Set speed'))).toBeNull();
    expect(beside(document, drive.id).map(({ point, paper }) => [point?.name, paper?.name])).toEqual([
      ['Set speed', undefined],
      [undefined, 'Speed'],
    ]);
  });

  it('give the map what they have: other values of a point, or the point itself', () => {
    edit('Speed', { offset: 3, note: 'ours' });
    const [changed] = beside(document, drive.id);
    document = applyChanges(document, [fromPapers(changed!, of())!]);
    expect([named('Speed').offset, named('Speed').note]).toEqual([2, 'ours']);
    const gone = named('Release');
    document = applyChanges(document, [{ entity: 'point', id: gone.id, before: gone, after: null }]);
    const [missing] = beside(document, drive.id);
    document = applyChanges(document, [fromPapers(missing!, of())!]);
    expect(named('Release').offset).toBe(4);
    expect(beside(document, drive.id)).toEqual([]);
    small.point(drive, 'New', { offset: 50 });
    expect(fromPapers({ point: small.document.points.at(-1)!, paper: null, differs: [] }, of())).toBeNull();
  });

  it('are taken again as one change of what is there, and forgotten by none', () => {
    edit('Speed', { offset: 3 });
    const again = mapAsPapers(document, { ...of(), source: 'Checked' });
    expect(again.before).toEqual(papersOf(document, drive.id)!);
    expect((again.after as { points: PaperPoint[] }).points.map(({ offset, releasedBy }) => [offset, releasedBy])).toEqual([
      [4, null],
      [3, 'Release'],
    ]);
    expect(papersOf({ papers: [] }, drive.id)).toBeUndefined();
  });

  it('of the demo are those of its devices without what is wrong with it on purpose', () => {
    expect(fernhollow().papers.length).toBeGreaterThan(10);
    const strays = (of: ProjectDocument) =>
      of.devices.flatMap(({ id }) => beside(of, id).map(({ point, differs }) => [point?.name, ...differs]));
    expect(strays(mendedFernhollow())).toEqual([]);
    expect(strays(fernhollow())).toEqual([['Reactive energy', 'order']]);
  });
});
