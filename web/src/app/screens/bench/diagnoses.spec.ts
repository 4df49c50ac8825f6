import { type Stage, stage, textOf } from '../../testing.spec-helper';
import { Diagnoses } from './diagnoses';

describe('Diagnoses', () => {
  let on: Stage;
  beforeEach(async () => {
    on = await stage();
  });
  const cause = (name: string) => ({
    ...{ cause: name, sentence: `${name} is likely.`, evidence: `Seen: ${name}.`, at: { entity: 'port' as const, id: `port-${name}` } },
  });

  it('shows the most probable reason with its evidence and the place to mend it, and the others on demand', () => {
    const view = on.show(Diagnoses, {
      diagnoses: [
        {
          deviceId: 'fan',
          name: 'Fan drive south',
          seen: 'Of its last 10 tries 10 without an answer.',
          causes: ['parity', 'power'].map(cause),
        },
      ],
    });
    const host = view.nativeElement as HTMLElement;
    expect(textOf(view)).toContain('Fan drive south. parity is likely.');
    expect(textOf(view)).not.toContain('power is likely.');
    expect(host.querySelector('a')!.getAttribute('href')).toBe('/lines?port=port-parity');
    host.querySelector<HTMLElement>('button')!.click();
    view.detectChanges();
    expect(textOf(view, 'ol')).toContain('power is likely.');
  });

  it('says so when nothing is wrong', () => {
    expect(textOf(on.show(Diagnoses, { diagnoses: [] }))).toContain('Nothing is wrong');
  });
});
