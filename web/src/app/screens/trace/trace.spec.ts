import type { ComponentFixture } from '@angular/core/testing';
import { rtuFrame, tcpFrame } from '@plain-envoy/core/codec';
import { requestPdu } from '@plain-envoy/core/frame';
import { type CaptureState, rowOf, type TraceRecord, writePcapng } from '@plain-envoy/core/trace';
import { demo, deviceNamed, filesRead, frames, type Stage, stage, submit, textOf, turn, typeInto, pick } from '../../testing.spec-helper';
import { TraceScreen } from './trace';
import { compile } from '@plain-envoy/core/compile';

const airOn = compile(demo).plan.requests.find(({ deviceName, kind }) => deviceName === 'Air-on transmitter' && kind === 'read')!;
const asked = requestPdu({ functionCode: 4, offset: 10, count: 2 });
const answer = Uint8Array.of(4, 4, 0, 0, 0x42, 0x76);
const record = (number: number, fields: Partial<TraceRecord> = {}): TraceRecord => ({
  ...{ number, atMs: 1_700_000_000_000 + number * 100, endpointId: airOn.endpointId, requestId: airOn.id, framing: 'tcp', unit: 21 },
  ...{ functionCode: 4, sent: tcpFrame(number, { unit: 21, pdu: asked }), got: tcpFrame(number, { unit: 21, pdu: answer }) },
  ...{ end: 'answered', ms: 23, failure: null },
  ...fields,
});

describe('TraceScreen', () => {
  let on: Stage;
  let screen: ComponentFixture<TraceScreen>;
  let capture: CaptureState;
  let files: { id: string; exchanges: number }[];
  const path = `/api/projects/${demo.project.id}/trace`;
  /** Answers the question that is open, and says what it was. */
  const answerWith = async (records: TraceRecord[]) => {
    const requests = on.http.match(path);
    const last = requests.at(-1)!;
    for (const request of requests)
      if (!request.cancelled)
        request.flush({ kept: { first: 1, last: records.length }, capture, files, matching: records.length, rows: records.map(rowOf) });
    await frames(screen);
    return last.request.body as { filter: object; from: number; upTo: number | null };
  };
  const rows = () => [...(screen.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('.list .row')];

  beforeEach(async () => {
    capture = { state: 'keeps', because: null };
    files = [];
    on = await stage();
    screen = on.show(TraceScreen);
    // As high as a page would give it.
    (screen.nativeElement as HTMLElement).style.height = '600px';
  });

  it('lists exchanges in sentences, and shows one with each byte explained and what it carried', async () => {
    const { from, filter } = await answerWith([record(1), record(2, { end: 'silent', got: null })]);
    expect([from < 0, filter]).toEqual([true, {}]);
    expect(rows()[0]!.innerText).toContain(
      'Air-on transmitter is asked for 2 input registers from 30011; it answers Air-on temperature 61.5 °C',
    );
    expect(rows()[1]!.classList).toContain('trouble');
    rows()[0]!.click();
    screen.detectChanges();
    const fields = [...(screen.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('.field-bytes')];
    expect(fields.map((field) => field.title)).toContain('offset: offset 10, the 11th input register');
    expect(textOf(screen, '.points')).toContain('61.5 °C');
    expect(textOf(screen, '.routes')).toContain('Air-on temperature');
  });

  it('asks once for what is shown, and not again because it was shown', async () => {
    on.live.running$.next(false);
    await answerWith([record(1), record(2)]);
    await frames(screen);
    expect(on.http.match(path).length).toBe(0);
  });

  it('asks for what is typed: a device, a point, bytes, a unit, trouble', async () => {
    on.live.running$.next(false);
    await answerWith([record(1)]);
    const after = async (field: string, value: string) => {
      if (field === 'text') typeInto(screen, 'input[name=text]', value);
      else pick(screen, field, value);
      await turn();
      return (await answerWith([record(1)])).filter;
    };
    expect(await after('text', '00 0A 00 02')).toEqual({ hex: '00 0a 00 02' });
    expect(await after('text', 'unit 21')).toEqual({ unit: 21 });
    const byName = (await after('text', 'air-on temp')) as { requestIds: string[] };
    expect(byName.requestIds).toContain(airOn.id);
    const byDevice = (await after('device', deviceNamed('Exhaust damper').id)) as { requestIds: string[] };
    expect(byDevice.requestIds).toEqual([]);
    await after('text', '');
    expect(await after('end', 'trouble')).toEqual(jasmine.objectContaining({ onlyTrouble: true }));
  });

  it('begins with the route from the address', async () => {
    const route = demo.routes.find(({ name }) => name === 'Air-on temperature')!;
    await answerWith([]);
    screen.componentRef.setInput('route', route.id);
    screen.detectChanges();
    await turn();
    const { filter } = (await answerWith([record(1)])) as { filter: { requestIds: string[] } };
    expect(filter.requestIds).toContain(airOn.id);
  });

  it('lets a capture begin or end by itself, says how it stands, and what does not fit', async () => {
    await answerWith([record(1)]);
    const page = screen.nativeElement as HTMLElement;
    page.querySelector<HTMLElement>('button[name=capture]')!.click();
    screen.detectChanges();
    pick(screen, 'capture-on', 'exception');
    typeInto(screen, 'input[name=capture-code]', 'two');
    await submit(screen);
    expect(textOf(screen, 'pe-capture-form .field-problem, pe-capture-form mat-error')).not.toBe('');
    typeInto(screen, 'input[name=capture-code]', '2');
    await submit(screen);
    const armed = on.http.expectOne(`${path}/trigger`);
    expect(armed.request.body).toEqual({ trigger: { on: { kind: 'exception', code: 2 }, action: 'end', after: 200 } });
    armed.flush({});
    capture = { state: 'ended', because: 'Unit 21 answered exception 2.' };
    typeInto(screen, 'input[name=text]', 'air');
    await turn();
    await answerWith([record(1)]);
    expect(textOf(screen, '.screen-head .quiet')).toContain('the capture has ended: Unit 21 answered exception 2.');
    page.querySelector<HTMLElement>('button[name=capture-off]')!.click();
    expect(on.http.expectOne(`${path}/trigger`).request.body).toEqual({ trigger: null });
  });

  it('lets all that comes from now on go to a file, says how much is in it, and ends it', async () => {
    await answerWith([record(1)]);
    const fetched: string[] = [];
    spyOn(HTMLAnchorElement.prototype, 'click').and.callFake(function (this: HTMLAnchorElement) {
      fetched.push(new URL(this.href).pathname);
    });
    (screen.nativeElement as HTMLElement).querySelector<HTMLElement>('button[name=save]')!.click();
    screen.detectChanges();
    document.querySelector<HTMLElement>('button[name=as-it-comes]')!.click();
    const begun = on.http.expectOne(`${path}/captures`);
    expect(begun.request.body).toEqual({ filter: {} });
    begun.flush({ id: 'one' });
    await turn();
    expect(fetched).toEqual([`${path}/captures/one.pcapng`]);
    files = [{ id: 'one', exchanges: 42 }];
    await answerWith([record(1)]);
    expect(textOf(screen, '[role=status]')).toContain('A capture goes to a file: 42 exchanges so far.');
    (screen.nativeElement as HTMLElement).querySelector<HTMLElement>('button[name=end-file]')!.click();
    const ended = on.http.expectOne(`${path}/captures/one`);
    expect(ended.request.method).toBe('DELETE');
    files = [];
    ended.flush({ files });
    await turn();
    await answerWith([record(1)]);
    expect(textOf(screen, '[role=status]')).toBe('');
  });

  it('is held at the last number that was seen, and followed again', async () => {
    await answerWith([record(1), record(2)]);
    const button = (screen.nativeElement as HTMLElement).querySelector<HTMLElement>('button[name=hold]')!;
    button.click();
    await turn();
    // A question that was on its way when it was held is answered before.
    const first = await answerWith([record(1), record(2)]);
    const { upTo } = first.upTo === null ? await answerWith([record(1), record(2)]) : first;
    expect(upTo).toBe(2);
    expect(textOf(screen, 'button[name=hold]')).toBe('Follow');
    expect(textOf(screen, '.screen-head .quiet')).toContain('held');
  });

  it('explains pasted bytes of a serial line, and says what is none', async () => {
    await answerWith([]);
    (screen.nativeElement as HTMLElement).querySelector<HTMLElement>('button[name=paste]')!.click();
    screen.detectChanges();
    typeInto(screen, 'textarea', 'hello');
    await submit(screen);
    expect(textOf(screen, '.field-problem, mat-error')).toContain('hex digits in pairs');
    const bytes = [...rtuFrame({ unit: 21, pdu: asked }), ...rtuFrame({ unit: 21, pdu: answer })];
    typeInto(screen, 'textarea', bytes.map((byte) => byte.toString(16).padStart(2, '0')).join(' '));
    await submit(screen);
    await frames(screen);
    expect(textOf(screen, '.screen-head .quiet')).toContain('Pasted bytes · 1 exchange');
    expect(rows()[0]!.innerText).toContain('Unit 21 is asked for 2 input registers');
  });

  it('opens a recording of Modbus TCP, whose addresses are those of the plant', async () => {
    await answerWith([]);
    const file = new File([writePcapng([record(1)], () => ({ ip: '10.40.8.30', port: 502 })).slice().buffer], 'day.pcapng');
    const read = filesRead();
    const transfer = new DataTransfer();
    transfer.items.add(file);
    (screen.nativeElement as HTMLElement).dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true }));
    await read();
    await frames(screen, 20);
    expect(rows()[0]!.innerText).toContain('Air-on transmitter is asked for 2 input registers from 30011');
  });
});
