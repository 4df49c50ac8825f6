import { of } from 'rxjs';
import type { StandInState } from '@plain-envoy/core/feed';
import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { deviceNamed, pageOf, type Stage, stage, submit, textOf, typeInto, pick } from '../../testing.spec-helper';
import { StandIns } from '../../data/stand-ins';
import { FaultForm } from './fault-form';

describe('FaultForm', () => {
  let on: Stage;
  let asked: unknown[];
  const standIn = (faults: StandInState['faults'] = []): StandInState => ({
    ...{
      deviceId: 'fan',
      name: 'Fan drive north',
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
      faults,
    },
  });
  beforeEach(async () => {
    asked = [];
    const answer = { ok: true, value: null };
    const setFaults = (_id: string, faults: unknown) => (asked.push(faults), of(answer));
    const reboot = (_id: string, ms: number) => (asked.push(ms), of(answer));
    on = await stage([{ provide: StandIns, useValue: { setFaults, reboot } }]);
  });

  it('begins a fault with what was typed, beside those that are in force, and ends one', async () => {
    const form = on.show(FaultForm, { standIn: standIn([{ kind: 'silent' }]) });
    expect(textOf(form, 'li')).toContain('does not answer');
    pick(form, 'fault', 'slow');
    typeInto(form, 'input[name=ms]', '300');
    await submit(form);
    expect(asked).toEqual([[{ kind: 'silent' }, { kind: 'slow', ms: 300, spreadMs: 50 }]]);
    (form.nativeElement as HTMLElement).querySelector<HTMLElement>('li button')!.click();
    expect(asked.at(-1)).toEqual([]);
    (form.nativeElement as HTMLElement).querySelector<HTMLElement>('button[name=reboot]')!.click();
    expect(asked.at(-1)).toBe(3000);
  });

  it('offers what the ports of a device can have: texts have no exceptions, and Modbus no full buffer', () => {
    const offered = (name: string) => {
      const form = on.show(FaultForm, { standIn: { ...standIn(), deviceId: deviceNamed(name).id } });
      pageOf(form).querySelector<HTMLElement>('[data-name=fault] .mat-mdc-select-trigger')!.click();
      form.detectChanges();
      const texts = [...document.querySelectorAll('mat-option')].map((option) => option.textContent?.trim());
      form.destroy();
      return texts;
    };
    expect(offered('Weigh indicator')).toContain('takes no text');
    expect(offered('Weigh indicator')).not.toContain('refuses a span');
    expect(offered('Text port')).toContain('takes no text');
    expect(offered('Text port')).toContain('refuses a span');
    expect(offered('Burner control')).not.toContain('takes no text');
  });

  it('says what does not fit, and keeps what was typed', async () => {
    const form = on.show(FaultForm, { standIn: standIn() });
    pick(form, 'fault', 'lost');
    typeInto(form, 'input[name=percent]', '140');
    await submit(form);
    expect([asked, textOf(form, '.field-problem, mat-error')]).toEqual([[], 'At most 100 %.']);
    expect((form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=percent]')!.value).toBe('140');
  });
});
