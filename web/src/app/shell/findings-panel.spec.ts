import type { Change } from '@plain-envoy/core/model';
import { TestBed } from '@angular/core/testing';
import { compile } from '@plain-envoy/core/compile';
import type { Fix } from '@plain-envoy/core/findings';
import { of } from 'rxjs';
import { Mends, triedAll } from '../data/mends';
import { Messages } from '../data/messages';
import { demo, stage } from '../testing.spec-helper';
import { FindingsPanel } from './findings-panel';

const welcome = (fix: Fix) => ({ ...fix, effect: 'Then all is well.' });

describe('the list of findings', () => {
  const panel = async () => {
    const tried = triedAll(compile(demo).findings.map(({ check, at, fixes }) => ({ of: { check, at }, mends: fixes.map(welcome) })));
    TestBed.overrideComponent(FindingsPanel, { set: { providers: [{ provide: Mends, useValue: { tried$: of(tried) } }] } });
    const { http, show } = await stage();
    const fixture = show(FindingsPanel);
    const page = fixture.nativeElement as HTMLElement;
    const button = [...page.querySelectorAll('button')].find((each) => each.textContent!.trim() === 'Set Fan drive south as the line is')!;
    return { http, page, button };
  };

  it('offers the mend where one is clear, and does it as one change', async () => {
    const { http, button } = await panel();
    const say = spyOn(TestBed.inject(Messages), 'say');
    button.click();
    const request = http.expectOne(`/api/projects/${demo.project.id}/change-sets`);
    const { label, changes } = request.request.body as { label: string; changes: Change[] };
    expect(label).toBe('Set Fan drive south as the line is');
    expect(changes.map(({ entity, after }) => [entity, after?.['parity'], after?.['dataBits']])).toEqual([['port', 'even', 8]]);
    request.flush({ projectId: demo.project.id, id: 'x', revision: 1, label, kind: 'edit', undo: label, redo: null, changes });
    expect(say.calls.mostRecent().args[0]).toContain('Undo with Ctrl+Z');
  });

  it('says why a mend was refused, and keeps the finding', async () => {
    const { http, page, button } = await panel();
    const say = spyOn(TestBed.inject(Messages), 'say');
    button.click();
    http
      .expectOne(`/api/projects/${demo.project.id}/change-sets`)
      .flush({ error: { message: 'Somebody else changed it meanwhile.', path: [] } }, { status: 409, statusText: 'Conflict' });
    expect(say.calls.mostRecent().args[0]).toContain('Somebody else changed it meanwhile.');
    expect(page.textContent).toContain('Fan drive south');
  });
});
