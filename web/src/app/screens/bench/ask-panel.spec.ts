import type { ComponentFixture } from '@angular/core/testing';
import type { CountersSeen } from '@plain-envoy/core/diagnose';
import type { DeviceCounters } from '@plain-envoy/core/feed';
import { idleBench } from '@plain-envoy/core/feed';
import { inquiries } from '@plain-envoy/core/codec';
import { demo, deviceNamed, type Stage, stage, submit, textOf, turn, typeInto, pick } from '../../testing.spec-helper';
import type { SearchField } from '../../parts/search-field';
import { DeviceCountersTable } from './device-counters-table';
import { InquiryForm } from './inquiry-form';

const benchPath = `/api/projects/${demo.project.id}/bench`;
const pageOf = ({ nativeElement }: ComponentFixture<unknown>) => nativeElement as HTMLElement;
const click = async (fixture: ComponentFixture<unknown>, selector: string) => {
  pageOf(fixture).querySelector<HTMLButtonElement>(selector)!.click();
  await turn();
  fixture.detectChanges();
};

describe('DeviceCountersTable', () => {
  const kiln = ['Fan drive north', 'Fan drive south', 'Exhaust damper'].map((name) => deviceNamed(name));
  const zero: DeviceCounters = {
    ...{ atMs: 1, messages: 0, damaged: 0, exceptions: 0, toIt: 0, unanswered: 0, notTaken: 0, busy: 0, overruns: 0, commands: null },
  };
  const seen = (its: Partial<DeviceCounters>, sent: number, noAnswer = 0): CountersSeen => ({
    its: { ...zero, ...its },
    ours: { sent, noAnswer, damaged: 0, exceptions: 0 },
  });
  let on: Stage;
  beforeEach(async () => (on = await stage()));

  /** Reads, and answers for each device in turn. */
  async function read(view: ComponentFixture<unknown>, ...answers: ({ seen: CountersSeen | null; why: string | null } | null)[]) {
    await click(view, 'button[name=read-counters]');
    for (const [index, answer] of answers.entries()) {
      const request = on.http.expectOne(`${benchPath}/counters`);
      expect(request.request.body).toEqual({ deviceId: kiln[index]!.id });
      if (answer) request.flush(answer);
      else request.flush({ error: { message: 'The bench does not run this project.', path: [] } }, { status: 409, statusText: 'No' });
      await turn();
    }
    view.detectChanges();
  }
  const row = (view: ComponentFixture<unknown>, index: number) =>
    pageOf(view).querySelector<HTMLElement>(`tr[data-counted="${kiln[index]!.id}"]`)!;

  it('lays what each device counts beside what we do, and says since the second look who saw what go wrong', async () => {
    const view = on.show(DeviceCountersTable);
    expect(row(view, 0).innerText).toContain('Not read yet.');
    expect(pageOf(view).innerText).toMatch(/Air-on transmitter\s+Function 8 is none of those that it has/);
    const silent = { seen: null, why: 'It answers exception 11.' };
    await read(view, { seen: seen({ toIt: 100, damaged: 2 }, 90), why: null }, silent, null);
    expect(row(view, 0).innerText).toMatch(/0\s+2\s+100\s+0\s+0\s+90\s+0/);
    expect(row(view, 1).innerText).toContain('It answers exception 11.');
    expect(row(view, 2).innerText).toContain('The bench does not run this project.');
    await read(view, { seen: seen({ toIt: 195, damaged: 12 }, 190, 10), why: null }, silent, silent);
    expect(row(view, 0).innerText).toMatch(/0\s+10\s+95\s+0\s+0\s+\+100\s+\+10/);
    expect(row(view, 0).nextElementSibling!.textContent).toContain('It heard 10 damaged messages');
    expect(row(view, 0).classList).toContain('trouble');
  });

  it('begins anew when it is told to, and reads another line when that is chosen', async () => {
    const view = on.show(DeviceCountersTable);
    const good = { seen: seen({ toIt: 100 }, 90), why: null };
    await read(view, good, good, good);
    await click(view, 'button[name=counters-anew]');
    expect(row(view, 0).innerText).toContain('Not read yet.');
    const loft = demo.lines.find(({ name }) => name === 'Loft bus')!;
    pick(view, 'counters-line', loft.id);
    expect(pageOf(view).innerText).toContain('Grain cable 1');
    expect(pageOf(view).innerText).not.toContain('Fan drive north');
  });

  it('reads nothing while the bench stands still', () => {
    on.live.running$.next(false);
    const view = on.show(DeviceCountersTable);
    expect(pageOf(view).querySelector<HTMLButtonElement>('button[name=read-counters]')!.disabled).toBeTrue();
    expect(textOf(view, '.tools')).toContain('Run the bench first.');
  });
});

describe('InquiryForm', () => {
  const drive = deviceNamed('Fan drive north');
  let on: Stage;
  beforeEach(async () => (on = await stage()));
  const shown = (question: string) => {
    const form = on.show(InquiryForm);
    pick(form, 'inquiry-device', drive.id);
    pick(form, 'inquiry', question);
    return form;
  };

  it('asks with what was typed, and shows what comes', async () => {
    const form = shown('20');
    typeInto(form, 'input[name=record]', '0x10');
    typeInto(form, 'input[name=count]', '2');
    await submit(form);
    const asked = on.http.expectOne(`${benchPath}/inquire`);
    expect(asked.request.body).toEqual({ deviceId: drive.id, ask: { functionCode: 20, file: 1, record: 16, count: 2 }, confirmed: false });
    asked.flush({ sentence: '', facts: [{ name: 'record 16', text: '615', value: 615 }] });
    await turn();
    form.detectChanges();
    expect(textOf(form, 'table')).toMatch(/record 16\s*615/);
    expect(pageOf(form).innerText).toContain('Function 20 is none of those that it has');
  });

  it('says at its field what does not fit, and keeps what was typed, also when the device refuses', async () => {
    const form = shown('24');
    typeInto(form, 'input[name=offset]', '70000');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('To 65535.');
    expect(pageOf(form).querySelector<HTMLInputElement>('input[name=offset]')!.value).toBe('70000');
    typeInto(form, 'input[name=offset]', '12');
    await submit(form);
    const refusal = { error: { message: 'It answers exception 2.', path: ['ask'] } };
    on.http.expectOne(`${benchPath}/inquire`).flush(refusal, { status: 502, statusText: 'No' });
    await turn();
    form.detectChanges();
    expect(textOf(form, '[role=alert]')).toBe('It answers exception 2.');
    expect(pageOf(form).querySelector<HTMLInputElement>('input[name=offset]')!.value).toBe('12');
  });

  it('changes a device only when that is confirmed, and says where it is', async () => {
    on.live.bench$.next({ ...idleBench, running: true, on: 'real' });
    const form = shown('8/4');
    await submit(form);
    on.http.expectNone(`${benchPath}/inquire`);
    expect(textOf(form, '.remark')).toContain('This makes it fall silent until its communications are restarted, on the real plant.');
    await click(form, '.remark button:last-child');
    expect(pageOf(form).querySelector('.remark')).toBeNull();
    await submit(form);
    await click(form, 'button[name=confirm-inquiry]');
    const asked = on.http.expectOne(`${benchPath}/inquire`);
    expect(asked.request.body).toEqual({ deviceId: drive.id, ask: { functionCode: 8, sub: 4, data: 0 }, confirmed: true });
    asked.flush({ sentence: '', facts: [] });
    await turn();
    form.detectChanges();
    expect(textOf(form, 'table')).toContain('It answers nothing to that, as it should.');
  });

  it('offers every function, and each sub-function of diagnostics by itself', () => {
    const form = on.show(InquiryForm);
    const offeredIn = (name: string) =>
      (
        form.debugElement.query(({ nativeElement }) => (nativeElement as HTMLElement).dataset['name'] === name)
          .componentInstance as SearchField<string>
      )
        .options()
        .map(({ text }) => text);
    const offered = offeredIn('inquiry');
    for (const { code, name } of inquiries) if (code !== 8) expect(offered).toContain(`${code} ${name}`);
    expect(offered).toContain('8/11 messages on the line');
    const devices = offeredIn('inquiry-device');
    expect(devices).toContain('Grain cable 3');
    expect(devices).not.toContain('Weigh indicator');
  });
});
