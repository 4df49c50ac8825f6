import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { ListedProject, RevisionHistory } from '@plain-envoy/core/feed';
import { consequencesOf, differencesBetween } from '@plain-envoy/core/handover';
import { applyChanges, type Change, type ProjectDocument } from '@plain-envoy/core/model';
import { fileOf, withNewIds } from '@plain-envoy/core/project-file';
import { of } from 'rxjs';
import { v7 as newId } from 'uuid';
import { Revisions } from '../../data/revisions';
import { demo, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { RevisionsView } from './revisions-view';

const OTHER = '019aa555-0000-7000-8000-000000000001';
const round = demo.rounds[0]!;
const hurried = (periodMs: number): Change => ({ entity: 'round', id: round.id, before: round, after: { ...round, periodMs } });
/** What the project was before its one edit, which made it what it is. */
const older = applyChanges(demo, [hurried(round.periodMs * 2)]);
const states: ProjectDocument[] = [older, demo];
const history: RevisionHistory = {
  ...{ current: 1, first: 0, names: [{ revision: 0, name: 'Works test', note: 'As accepted.', atMs: 0, by: 'Ada' }] },
  entries: [{ id: 'e', kind: 'edit', label: 'Faster', revision: 1, atMs: 0, by: 'Ada', size: 1 }],
};

describe('Revisions, on Handover', () => {
  let on: Stage;
  let view: ComponentFixture<RevisionsView>;
  const named: unknown[][] = [];
  const drawn = async () => {
    for (let times = 0; times < 4; times++) await turn();
    view.detectChanges();
  };
  const rows = () => [...pageOf(view).querySelectorAll<HTMLElement>('tbody tr')];
  const click = async (selector: string) => {
    pageOf(view).querySelector<HTMLElement>(selector)!.click();
    await drawn();
  };
  const besideNow = async () => {
    (view.componentInstance as unknown as { beside: { set(beside: string): void } }).beside.set('now');
    await drawn();
  };
  const sent = () => on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { label: string; changes: Change[] };

  beforeEach(async () => {
    named.length = 0;
    on = await stage([
      {
        provide: Revisions,
        useValue: {
          list: () => of({ ok: true, value: history }),
          others: () => of({ ok: true, value: [{ id: OTHER, name: 'Mill' } as ListedProject] }),
          other: (id: string) => of({ ok: true, value: applyChanges(demo, [hurried(id === OTHER ? 999 : 0)]) }),
          at: (revision: number) => of({ ok: true, value: { revision, document: states[revision]! } }),
          name: (...asked: unknown[]) => (named.push(asked), of({ ok: true, value: history })),
          compare: (from: ProjectDocument, to: ProjectDocument) =>
            of({ groups: differencesBetween(from, to), means: consequencesOf(from, to) }),
        } satisfies Partial<Record<keyof Revisions, unknown>>,
      },
    ]);
    view = on.show(RevisionsView, { of: demo.project.id });
    await drawn();
  });

  it('are listed with who made them, and the newest beside the one before it', () => {
    expect(rows().map((row) => [...row.querySelectorAll('td')].slice(0, 5).map(({ innerText }) => innerText.trim()))).toEqual([
      ['1', '', 'Faster', '1', 'Ada'],
      ['0', 'Works test', 'As the project came in', '', 'Ada'],
    ]);
    expect(textOf(view, 'h3')).toBe('From revision 0 to revision 1');
    expect(textOf(view, '[data-difference]').replace(/\s+/g, ' ')).toBe(
      `changed ${round.name} period ms ${round.periodMs * 2} → ${round.periodMs}`,
    );
    expect(textOf(view, '.means').length).toBeGreaterThan(20);
  });

  it('stand under the name that one gives oneself where nobody signs in', async () => {
    typeInto(view, 'input[name=called]', 'Ada');
    await click('button[name=keep-called]');
    on.http.expectOne({ method: 'PUT', url: '/api/session' }).flush({ needed: false, name: 'Ada' });
    await drawn();
    expect(pageOf(view).querySelector<HTMLInputElement>('input[name=called]')!.value).toBe('Ada');
  });

  it('get a name and a note', async () => {
    typeInto(view, 'input[name=revision-note]', 'Why');
    await click('button[name=keep-name]');
    expect([textOf(view, 'mat-error'), named]).toEqual(['A name is needed where there is a note.', []]);
    typeInto(view, 'input[name=revision-name]', 'Delivered');
    await click('button[name=keep-name]');
    expect(named).toEqual([[1, 'Delivered', 'Why']]);
  });

  it('are gone back to by one edit, or one thing of them is', async () => {
    rows()[1]!.click();
    await drawn();
    await besideNow();
    await click('[data-difference] button');
    const one = sent();
    expect(one.changes.map(({ id, after }) => [id, (after as { periodMs: number }).periodMs])).toEqual([[round.id, round.periodMs * 2]]);
    await click('button[name=go-back]');
    const back = sent();
    expect([back.label, back.changes.length]).toEqual(['Back to revision 0', 1]);
  });

  it('stand beside another project, of which nothing is taken over', async () => {
    (view.componentInstance as unknown as { beside: { set(beside: string): void } }).beside.set(`project ${OTHER}`);
    await drawn();
    expect(textOf(view, 'h3')).toBe('From now, revision 0 to Mill');
    expect(textOf(view, '[data-difference]')).toContain('999');
    expect(pageOf(view).querySelector('[data-difference] button')).toBeNull();
  });

  it('stand beside a file of the project, which tells on which side something was changed', async () => {
    const open = async (document: ProjectDocument, revision: number) => {
      const text = JSON.stringify(fileOf(document, revision, []));
      await (view.componentInstance as unknown as { open(file: File): Promise<void> }).open(new File([text], 'theirs.json'));
      await drawn();
    };
    await open(withNewIds(applyChanges(demo, [hurried(777)]), newId), 0);
    expect([...pageOf(view).querySelectorAll<HTMLElement>('[data-difference]')].map(({ dataset }) => dataset['difference'])).toEqual([
      round.name,
    ]);
    expect(pageOf(view).querySelector('[data-difference] button')).withContext('of another project nothing is taken over').toBeNull();
    await open(applyChanges(older, [{ ...hurried(1234), before: { ...round, periodMs: round.periodMs * 2 } }]), 0);
    expect(textOf(view, 'h3')).toContain('to theirs.json, of revision 0');
    expect(textOf(view, '[data-difference]')).toContain('changed here as well');
    await click('[data-difference] button');
    expect(sent().changes[0]!.after).toEqual(jasmine.objectContaining({ periodMs: 1234 }));
    expect(TestBed.inject(Revisions)).toBeDefined();
  });
});
