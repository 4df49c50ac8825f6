import type { ComponentFixture } from '@angular/core/testing';
import '@plain-envoy/core/formula';
import { acceptanceSteps, type Signed, type Signing } from '@plain-envoy/core/acceptance';
import { compile } from '@plain-envoy/core/compile';
import { demo, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { ProtocolView } from './protocol-view';

const steps = acceptanceSteps({ document: demo, ...compile(demo) });
const path = `/api/projects/${demo.project.id}/acceptance`;
const signed = (index: number, fields: Partial<Signed> = {}): Signed => {
  const { sort, of, which, rests } = steps[index]!;
  return {
    sort,
    of,
    which,
    rests,
    stage: 'works',
    result: 'passed',
    note: '',
    name: 'Ada',
    at: '2026-11-29T14:05:00.000Z',
    revision: 3,
    ...fields,
  };
};

describe('The protocol, on Handover', () => {
  let on: Stage;
  let view: ComponentFixture<ProtocolView>;
  const drawn = async () => {
    for (let times = 0; times < 3; times++) {
      await turn();
      view.detectChanges();
    }
  };
  const open = async (kept: Signed[] = []) => {
    on = await stage();
    view = on.show(ProtocolView, { of: demo.project.id });
    on.http.expectOne(path).flush(kept);
    await drawn();
  };
  const rows = () => [...pageOf(view).querySelectorAll<HTMLElement>('tbody tr')];
  const cells = (index: number) => [...rows()[index]!.querySelectorAll('td')].map(({ innerText }) => innerText.trim());
  const submit = async () => {
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
  };
  const set = async <K extends 'stage' | 'only'>(name: K, value: string) => {
    (view.componentInstance as unknown as Record<K, { set(to: string): void }>)[name].set(value);
    await drawn();
  };

  it('says step by step what is done and what must be seen, and how each stands', async () => {
    await open([signed(0), signed(1, { result: 'failed', note: 'Nothing came.' }), signed(2, { rests: 'of another time' })]);
    expect(cells(0)).toEqual(['1', steps[0]!.title, 'passed', 'Ada']);
    expect(cells(1)[2]).toBe('failed');
    expect(cells(2)[2]).toBe('changed since');
    expect(textOf(view, '[data-name=tally]')).toBe(`1 of ${steps.length} passed, 1 failed, 1 changed since.`);
    expect(textOf(view, 'aside')).toContain(steps[0]!.does.works);
    rows()[2]!.click();
    await drawn();
    expect(textOf(view, '[data-name=signed]')).toContain('What it rests on has changed since.');
    await set('stage', 'site');
    expect(textOf(view, 'aside')).toContain(steps[2]!.does.site);
    expect(textOf(view, '[data-name=tally]')).toBe(`0 of ${steps.length} passed.`);
  });

  it('is signed step by step, by the same name, and goes on to the next that is still to be done', async () => {
    await open([signed(1)]);
    await submit();
    on.http.expectNone(path);
    expect(textOf(view, 'form')).toContain('Who signs?');
    typeInto(view, 'input[name=name]', 'B. Second');
    await submit();
    const request = on.http.expectOne(path);
    const asked = request.request.body as Signing;
    expect(asked).toEqual(jasmine.objectContaining({ of: steps[0]!.of, stage: 'works', result: 'passed', name: 'B. Second' }));
    request.flush(signed(0, { name: 'B. Second' }));
    await drawn();
    expect(cells(0)[3]).toBe('B. Second');
    expect(textOf(view, 'aside h2')).toBe(`3. ${steps[2]!.title}`);
    expect(pageOf(view).querySelector<HTMLInputElement>('input[name=name]')!.value).toBe('B. Second');
  });

  it('keeps what was typed where it is refused, and where somebody else signs meanwhile', async () => {
    await open();
    typeInto(view, 'input[name=name]', 'B. Second');
    typeInto(view, 'textarea[name=note]', 'By eye.');
    await submit();
    on.http
      .expectOne(path)
      .flush({ error: { message: 'This is no step of the protocol any more.', path: [] } }, { status: 404, statusText: 'Not Found' });
    await drawn();
    expect(textOf(view, 'form [role=alert]')).toBe('This is no step of the protocol any more.');
    view.componentInstance['acceptance'].load();
    on.http.expectOne(path).flush([signed(5)]);
    await drawn();
    expect(pageOf(view).querySelector<HTMLTextAreaElement>('textarea[name=note]')!.value).toBe('By eye.');
  });

  it('shows only what is still to be done, and all that must be seen where that is much', async () => {
    await open([signed(0)]);
    await set('only', 'open');
    expect(cells(0)[0]).toBe('2');
    await set('only', 'all');
    const index = steps.findIndex(({ sees }) => sees.works.length > 8);
    view.componentInstance['chosenId'].set([steps[index]!.sort, steps[index]!.of, steps[index]!.which].join(' '));
    await drawn();
    expect(pageOf(view).querySelectorAll('aside li').length).toBe(8);
    pageOf(view).querySelector<HTMLElement>('[name=all-seen]')!.click();
    await drawn();
    expect(pageOf(view).querySelectorAll('aside li').length).toBe(steps[index]!.sees.works.length);
  });

  it('says why what was signed is not known', async () => {
    on = await stage();
    view = on.show(ProtocolView, { of: demo.project.id });
    on.http.expectOne(path).flush({ error: { message: 'The database does not answer.', path: [] } }, { status: 503, statusText: 'Away' });
    await drawn();
    expect(textOf(view, '.column [role=alert]')).toBe('The database does not answer.');
  });
});
