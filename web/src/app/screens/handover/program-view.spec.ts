import '@plain-envoy/core/formula';
import type { ComponentFixture } from '@angular/core/testing';
import { compile } from '@plain-envoy/core/compile';
import { controllerProgram } from '@plain-envoy/core/controller-program';
import { standardProfile } from '@plain-envoy/core/handover';
import type { Change, ListProfile, ProjectDocument } from '@plain-envoy/core/model';
import { of } from 'rxjs';
import type { AskProgram, ToldProgram } from '../../data/program.worker';
import { Programs } from '../../data/programs';
import { demo, deviceNamed, pageOf, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { ProgramView } from './program-view';

const kiln = deviceNamed('Kiln controller');

/** Makes programs at once, in the page itself. */
class AtOnce {
  readonly asked: AskProgram[] = [];
  make(asked: AskProgram) {
    this.asked.push(asked);
    const controller = asked.document.devices.find(({ id }) => id === asked.controllerId)!;
    const made = controllerProgram(asked.document, compile(asked.document).plan, controller, asked)!;
    const { parts, name, leftOut, single } = made;
    const counts = { requests: made.requests.length, channels: made.channels.length, routes: made.routeIds.length };
    return of<ToldProgram>({ program: { parts, name, leftOut, single, ...counts } });
  }
}

describe('The program of a controller, on Handover', () => {
  let on: Stage;
  let view: ComponentFixture<ProgramView>;
  let programs: AtOnce;
  const open = async (document?: ProjectDocument) => {
    programs = new AtOnce();
    on = await stage([{ provide: Programs, useValue: programs }], document);
    view = on.show(ProgramView, { of: kiln.id });
    on.http.match(`/api/projects/${demo.project.id}/proofs`).forEach((request) => request.flush([]));
    await drawn();
  };
  const drawn = async () => {
    await new Promise((done) => setTimeout(done, 300));
    await turn();
    view.detectChanges();
    await turn();
    view.detectChanges();
  };
  const tick = (name: string) => pageOf(view).querySelector<HTMLInputElement>(`mat-checkbox input[name=${name}]`)!.click();
  const submit = async () => {
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
  };

  it('is shown part by part, with what it carries, and can be copied', async () => {
    await open();
    expect(textOf(view, '.cm-content')).toContain('What Kiln controller carries');
    expect(textOf(view, 'section[aria-label="What it does"]')).toMatch(
      /Kiln_controllerExchange\s+\d+ routes by \d+ requests on \d+ connections\./,
    );
    expect(view.componentInstance.copied()).toContain('PROGRAM Kiln_controllerExchange');
    (view.componentInstance as unknown as { part: { set(part: string): void } }).part.set('interface');
    await drawn();
    expect(view.componentInstance.copied()).toContain('FUNCTION_BLOCK Transaction');
    expect(textOf(view, '[data-name=tally]')).toContain('It was not proved yet.');
  });

  it('follows the form at once, keeps it for the controller, and says where what was typed does not fit', async () => {
    await open();
    tick('portable');
    await drawn();
    expect(programs.asked.at(-1)!.portable).toBeTrue();
    expect(textOf(view, 'section[aria-label="What it does"]')).toContain('single precision');
    typeInto(view, 'input[name=scan-ms]', '2');
    await submit();
    expect(textOf(view, 'mat-error')).toBe('At least 5 ms.');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    typeInto(view, 'input[name=scan-ms]', '50');
    tick('part-exchange');
    await submit();
    const { changes } = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { changes: Change[] };
    expect(changes.length).toBe(1);
    expect(changes[0]!.before).toBeNull();
    expect(changes[0]!.after as unknown).toEqual(
      jasmine.objectContaining({
        ...{ name: 'Kiln controller', deviceIds: [kiln.id], portable: true, scanMs: 50, prefix: standardProfile.prefix },
        parts: ['variables', 'types', 'values', 'interface', 'program'],
      }),
    );
  });

  it('says who else follows the same profile, and shows what is left out with its reason', async () => {
    const steep = deviceNamed('Steep controller');
    const profile: ListProfile = {
      ...{ ...standardProfile, id: '019aa333-0000-7000-8000-000000000001', projectId: demo.project.id, deviceIds: [kiln.id, steep.id] },
      ...{ name: 'Small', portable: true },
    };
    const energy = demo.points.find(({ name, deviceId }) => name === 'Plant energy' && deviceId === kiln.id)!;
    await open({
      ...demo,
      listProfiles: [profile],
      points: demo.points.map((point) => (point.id === energy.id ? { ...point, type: 'float64', length: null } : point)),
    });
    expect(textOf(view, 'form')).toContain('“Small”, which Steep controller follows too');
    expect(textOf(view, '.problem')).toContain('Plant energy has 64 bits.');
  });

  it('is proved by what runs it', async () => {
    await open();
    const fetched: string[] = [];
    spyOn(window, 'fetch').and.callFake((_, init) => {
      fetched.push(init?.body as string);
      return new Promise(() => undefined);
    });
    pageOf(view).querySelector<HTMLButtonElement>('button[name=prove-program]')!.click();
    await drawn();
    const sent = JSON.parse(fetched.at(-1)!) as { byPrograms: boolean; withLoss: boolean; routeIds: string[] };
    expect([sent.byPrograms, sent.withLoss]).toEqual([true, true]);
    expect(sent.routeIds.length).toBeGreaterThan(100);
    pageOf(view).querySelector<HTMLButtonElement>('button[name=stop-proof]')!.click();
    await drawn();
    expect(pageOf(view).querySelector('button[name=prove-program]')).not.toBeNull();
  });
});
