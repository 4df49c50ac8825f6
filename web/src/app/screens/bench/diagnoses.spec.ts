import type { TellingTest } from '@plain-envoy/core/diagnose';
import { demo, type Stage, stage, textOf } from '../../testing.spec-helper';
import { Diagnoses } from './diagnoses';

describe('Diagnoses', () => {
  let on: Stage;
  beforeEach(async () => {
    on = await stage();
  });
  const cause = (name: string) => ({
    ...{ cause: name, sentence: `${name} is likely.`, evidence: `Seen: ${name}.`, at: { entity: 'port' as const, id: `port-${name}` } },
    ...{ more: [`More for ${name}.`], against: [`Not for ${name}.`], likelihood: 0.5 },
  });

  const after = { ...demo.devices[0]!, timeoutMs: 4000 };
  const test: TellingTest = {
    label: 'Wait 4000 ms',
    action: { kind: 'edit', label: 'Wait 4000 ms', changes: [{ entity: 'device', id: after.id, before: demo.devices[0]!, after }] },
  };

  it('shows the most probable reason with its evidence and the place to mend it, and the others on demand', () => {
    const view = on.show(Diagnoses, {
      diagnoses: [
        {
          deviceId: 'fan',
          name: 'Fan drive south',
          seen: 'Of its last 10 tries 10 without an answer.',
          causes: ['parity', 'power'].map(cause),
          test,
        },
      ],
    });
    const host = view.nativeElement as HTMLElement;
    expect(textOf(view)).toContain('Fan drive south. parity is likely.');
    expect(textOf(view)).not.toContain('power is likely.');
    expect(host.querySelector('a')!.getAttribute('href')).toBe('/lines?port=port-parity');
    expect(textOf(view)).toContain('More for parity.');
    expect(textOf(view)).toContain('Against it: Not for parity.');
    host.querySelector<HTMLElement>('[aria-expanded]')!.click();
    view.detectChanges();
    expect(textOf(view, 'ol')).toContain('power is likely.');
    expect(textOf(view, 'ol')).toContain('50 %');
    host.querySelector<HTMLElement>('button.test')!.click();
    const edit = on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`);
    expect(edit.request.body).toEqual(
      jasmine.objectContaining({ label: 'Wait 4000 ms', changes: test.action.kind === 'edit' ? test.action.changes : [] }),
    );
  });

  it('says so when nothing is wrong', () => {
    expect(textOf(on.show(Diagnoses, { diagnoses: [] }))).toContain('Nothing is wrong');
  });
});
