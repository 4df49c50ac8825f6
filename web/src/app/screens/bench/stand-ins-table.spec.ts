import { idleBench, newCounters, type StandInState } from '@plain-envoy/core/feed';
import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { of } from 'rxjs';
import { demo, deviceNamed, pageOf, pick, pointNamed, type Stage, stage, submit, textOf, turn, typeInto } from '../../testing.spec-helper';
import { StandInCard } from './stand-in-card';
import { StandInsTable } from './stand-ins-table';

const damper = deviceNamed('Exhaust damper');
const standIn = (fields: Partial<StandInState> = {}): StandInState => ({
  deviceId: damper.id,
  name: damper.name,
  kind: BY_ITS_MAP,
  cut: false,
  hasRegisters: true,
  late: null,
  heard: null,
  program: null,
  recording: null,
  texts: [],
  cans: [],
  links: [],
  stations: [],
  held: [],
  faults: [],
  ...fields,
});

describe('StandInCard', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const press = (card: ReturnType<Stage['show']>, text: string) => {
    [...(card.nativeElement as HTMLElement).querySelectorAll('button')].find((button) => button.innerText.includes(text))!.click();
    card.detectChanges();
  };

  it('holds a value that was typed in its unit, and explains one that is none', async () => {
    const card = on.show(StandInCard, { standIn: standIn() });
    pick(card, 'point', pointNamed('Position').id);
    typeInto(card, 'input[name=value]', 'wide open');
    await submit(card);
    expect(textOf(card, '[role=alert], mat-error')).toBe('“wide open” is no number.');
    typeInto(card, 'input[name=value]', '12.5');
    await submit(card);
    const request = on.http.expectOne(`/api/projects/${demo.project.id}/stand-ins/${damper.id}/registers`);
    expect(request.request.body).toEqual({ table: 'input', offset: 0, words: [125] });
  });

  it('holds a bit of a register beside its other bits, once they are known', async () => {
    const point = demo.points.find(({ deviceId, table }) => deviceId === damper.id && table === 'holding')!;
    Object.assign(on.project, { pointsOf$: of(new Map([[damper.id, [{ ...point, type: 'bit', bit: 3 }]]])) });
    const card = on.show(StandInCard, { standIn: standIn() });
    expect(on.live.points.wanted()).toEqual([point.id]);
    typeInto(card, 'input[name=value]', 'off');
    await submit(card);
    expect(textOf(card, '[role=alert], mat-error')).toContain('has not been read yet');
    on.live.points.take([{ pointId: point.id, words: [0b1010], quality: 'good', reason: null, atMs: 0 }]);
    await submit(card);
    expect(on.http.expectOne(`/api/projects/${demo.project.id}/stand-ins/${damper.id}/registers`).request.body).toEqual(
      jasmine.objectContaining({ words: [0b0010] }),
    );
  });

  it('writes once over Modbus where the point can be written, and says what came of it', async () => {
    const card = on.show(StandInCard, { standIn: standIn() });
    pick(card, 'point', pointNamed('Position').id);
    expect((card.nativeElement as HTMLElement).querySelector('button[name=write]'))
      .withContext('it is read only')
      .toBeNull();
    const setPoint = demo.points.find(({ deviceId, table }) => deviceId === damper.id && table === 'holding')!;
    pick(card, 'point', setPoint.id);
    typeInto(card, 'input[name=value]', '40');
    press(card, 'Write');
    const write = on.http.expectOne(`/api/projects/${demo.project.id}/bench/write`);
    expect(write.request.body).toEqual({ pointId: setPoint.id, value: '40', broadcast: false });
    write.flush({ error: { message: 'It was not written: it answers exception 3.', path: [] } }, { status: 502, statusText: 'No' });
    await turn();
    card.detectChanges();
    expect(textOf(card, '[role=alert], mat-error')).toBe('It was not written: it answers exception 3.');
  });

  it('shows what is held and releases it', () => {
    const card = on.show(StandInCard, { standIn: standIn({ held: [{ table: 'input', offset: 0 }] }) });
    expect(textOf(card)).toContain('1 Position is held');
    press(card, 'Release');
    expect(on.http.expectOne(`/api/projects/${demo.project.id}/stand-ins/${damper.id}/release`).request.body).toEqual({
      table: 'input',
      offset: 0,
      count: 1,
    });
  });
});

describe('StandInsTable', () => {
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const shown = async (...rows: StandInState[]) => {
    const table = on.show(StandInsTable);
    await turn();
    for (const request of on.http.match(`/api/projects/${demo.project.id}/stand-ins`)) if (!request.cancelled) request.flush(rows);
    await turn();
    table.detectChanges();
    return table;
  };
  const line = (table: ReturnType<Stage['show']>, name = damper.name) =>
    pageOf(table).querySelector<HTMLElement>(`tr[data-stand-in="${name}"]`)!;
  const opened = (table: ReturnType<Stage['show']>) => pageOf(table).querySelectorAll('pe-stand-in-card').length;

  it('tells of each in one line, which opens and closes by its name', async () => {
    const table = await shown(standIn());
    expect(textOf(table)).toContain('TCP port 1502 in the place of 502');
    on.live.devices.take([
      { ...newCounters(damper.id), answered: 12, exceptions: { 2: 3 }, lastOutcome: 'refused', lastError: 'It answers exception 2.' },
    ]);
    table.detectChanges();
    expect(line(table).innerText).toMatch(/Exhaust damper\s+12\s+3\s/);
    expect(line(table).innerText).toContain('It answers exception 2.');
    expect(line(table).querySelector<HTMLElement>('.bad[title]')!.title).toContain('3 × exception 2, ');
    expect(opened(table)).toBe(0);
    line(table).querySelector('button')!.click();
    table.detectChanges();
    expect([opened(table), line(table).querySelector('button')!.getAttribute('aria-expanded')]).toEqual([1, 'true']);
    line(table).querySelector('button')!.click();
    table.detectChanges();
    expect(opened(table)).toBe(0);
  });

  it('says who plays a recording, and why one that should does not', async () => {
    const table = await shown(
      standIn({ recording: { at: { atMs: 0, lastsMs: 9000, round: 1 }, problem: null } }),
      standIn({ deviceId: 'other', name: 'Other', recording: { at: null, problem: 'It is not attached any more.' } }),
    );
    expect(line(table).innerText).toContain('plays a recording');
    expect(line(table, 'Other').innerText).toContain('It answers nothing: It is not attached any more.');
  });

  it('has open what has something to take back, and says in its line what was done on purpose', async () => {
    const table = await shown(standIn({ faults: [{ kind: 'silent' }], held: [{ table: 'input', offset: 0 }] }));
    expect(line(table).innerText).toContain('1 held · does not answer');
    expect(opened(table)).toBe(1);
  });

  it('cuts off and puts back in the line, and says why it could not', async () => {
    const table = await shown(standIn({ cut: true }));
    expect(line(table).innerText).toContain('cut off');
    [...line(table).querySelectorAll('button')].find(({ innerText }) => innerText === 'Put back')!.click();
    const cut = on.http.expectOne(`/api/projects/${demo.project.id}/stand-ins/${damper.id}/cut`);
    expect(cut.request.body).toEqual({ cut: false });
    cut.flush({ error: { message: 'The stand-ins do not answer.', path: [] } }, { status: 503, statusText: 'Away' });
    await turn();
    for (const request of on.http.match(`/api/projects/${demo.project.id}/stand-ins`))
      if (!request.cancelled) request.flush([standIn({ cut: true })]);
    await turn();
    table.detectChanges();
    expect(textOf(table, '[role=alert]')).toBe('Exhaust damper: The stand-ins do not answer.');
  });

  it('offers nothing that is done to a stand-in while the bench runs on the plant itself', async () => {
    on.live.bench$.next({ ...idleBench, running: true, on: 'real' });
    const table = await shown(standIn({ cut: true, held: [{ table: 'input', offset: 0 }] }));
    expect(line(table).innerText.trim()).toBe('Exhaust damper');
    expect([opened(table), pageOf(table).querySelectorAll('button').length]).toEqual([0, 0]);
  });
});
