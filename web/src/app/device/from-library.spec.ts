import type { Change } from '@plain-envoy/core/model';
import { templateOf } from '@plain-envoy/core/model';
import { demo, deviceNamed, pageOf, type Stage, stage, textOf, turn } from '../testing.spec-helper';
import { FromLibrary } from './from-library';

const meter = deviceNamed('Plant meter');
const template = templateOf(demo, meter.id);
const kept = { id: '019aa555-0000-7000-8000-000000000001', name: 'Plant meter', version: 4, points: 12, note: '', atMs: 1, by: null };

describe('FromLibrary', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage()));

  const shown = (version: number | null) => {
    const device = { ...meter, fromLibrary: version === null ? null : { id: kept.id, version } };
    const fixture = on.show(FromLibrary, { device });
    on.http.expectOne('/api/library').flush([kept]);
    fixture.detectChanges();
    return fixture;
  };
  const sent = () => on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { label: string; changes: Change[] };
  const click = (fixture: ReturnType<Stage['show']>, name: string) => {
    pageOf(fixture).querySelector<HTMLElement>(`button[name=${name}]`)!.click();
    fixture.detectChanges();
  };

  it('gives a device as the next version of the one of its name, and the device knows it', () => {
    const fixture = shown(null);
    expect(textOf(fixture, 'p')).toContain('It is not kept there.');
    click(fixture, 'give');
    const give = on.http.expectOne({ method: 'POST', url: '/api/library' });
    expect(give.request.body).toEqual({ template, as: kept.id });
    give.flush({ id: kept.id, version: 5 });
    const { label, changes } = sent();
    expect([label, changes[0]!.after!['fromLibrary']]).toEqual(['Plant meter is version 5 of the library', { id: kept.id, version: 5 }]);
  });

  it('says that there is a newer version and what it has otherwise, and takes that over row by row or all', async () => {
    const fixture = shown(3);
    expect(textOf(fixture, 'p')).toContain('The library has version 4.');
    const newer = {
      ...template,
      device: { ...template.device, tries: 9 },
      points: template.points.map((point, index) => (index ? point : { ...point, unit: 'mHz' })),
    };
    on.http.expectOne(`/api/library/${kept.id}/versions/4`).flush(newer);
    await turn();
    fixture.detectChanges();
    expect(textOf(fixture, 'tbody')).toMatch(
      new RegExp(`Tries\\s+9\\s+${meter.tries}[\\s\\S]*${template.points[0]!.name}\\s+unit mHz\\s+unit`),
    );
    [...pageOf(fixture).querySelectorAll<HTMLElement>('tbody button')][1]!.click();
    const one = sent();
    expect(one.changes.map(({ entity, after }) => [entity, after!['tries'] ?? after!['unit']])).toEqual([
      ['device', meter.tries],
      ['point', 'mHz'],
    ]);
    click(fixture, 'take-all');
    const all = sent();
    expect(all.changes[0]!.after).toEqual(jasmine.objectContaining({ tries: 9, fromLibrary: { id: kept.id, version: 4 } }));
    expect(all.changes.length).toBe(2);
  });

  it('says so where the library does not have it any more', () => {
    const device = { ...meter, fromLibrary: { id: '019aa555-0000-7000-8000-00000000ffff', version: 1 } };
    const fixture = on.show(FromLibrary, { device });
    on.http.expectOne('/api/library').flush([kept]);
    fixture.detectChanges();
    expect(textOf(fixture, 'p')).toContain('It is from a library that is not here, or was taken out of it.');
  });
});
