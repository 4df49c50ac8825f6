import { noIdentification } from '@plain-envoy/core/identity';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { busesOf, type SerialBus } from '@plain-envoy/core/findings';
import { type Change, templateOf } from '@plain-envoy/core/model';
import { from, Observable, Subject, throwError } from 'rxjs';
import { idleBench, type ProveEvent } from '@plain-envoy/core/feed';
import { Proofs } from '../../data/proofs';
import { Refused } from '../../data/api';
import { demo, deviceNamed, pressKey, type Stage, stage, submit, pageOf, textOf, turn, typeInto, pick } from '../../testing.spec-helper';
import { AddLine } from './add-line';
import { LineForm } from './line-form';
import { LinesScreen } from './lines';
import { Members } from './members';
import { PortForm } from '../../device/port-form';
import { Prove } from './prove';
import { LineTimes } from './times';
import { Wiring } from './wiring';
import { layoutWiring } from '@plain-envoy/core/wiring';
import { type SerialLine } from '@plain-envoy/core/media';

const lineNamed = (name: string) => demo.lines.find((line) => line.name === name)!;
const kilnBus = lineNamed('Kiln bus') as SerialLine;
const busOf = (name: string) => busesOf(demo).find(({ line }) => line.name === name) as SerialBus;
const portsOn = (name: string) => busOf(name).members.map(({ port }) => port);
const portOf = (name: string) => demo.ports.find((port) => port.deviceId === deviceNamed(name).id)!;
const changeSets = `/api/projects/${demo.project.id}/change-sets`;
const sentBy = (on: Stage) => on.http.expectOne(changeSets).request.body as { label: string; changes: Change[] };

describe('Members', () => {
  it('mark what differs from the line, and set it on either in one action', async () => {
    const on = await stage();
    const members = on.show(Members, { line: kilnBus, ports: portsOn('Kiln bus') });
    const row = (members.nativeElement as HTMLElement).querySelector<HTMLElement>('[data-port="Fan drive south"]')!;
    expect([...row.querySelectorAll<HTMLElement>('.differs')].map((cell) => cell.innerText.replace(/\s+/g, ' '))).toEqual(['≠ none']);
    expect((members.nativeElement as HTMLElement).querySelectorAll('.differs').length).toBe(1);
    const [asLine, lineSo] = [...row.querySelectorAll('button')];
    asLine!.click();
    const set = sentBy(on);
    expect([set.label, set.changes[0]!.after!['parity']]).toEqual(['Set Fan drive south as Kiln bus', 'even']);
    lineSo!.click();
    const line = sentBy(on).changes[0]!;
    expect([line.entity, line.after!['parity'], line.after!['name']]).toEqual(['line', 'none', 'Kiln bus']);
  });

  it('are put to another place along the line with Alt and an arrow key, and keep the keyboard', async () => {
    const on = await stage();
    const bus = portsOn('Kiln bus');
    const members = on.show(Members, { line: kilnBus, ports: bus });
    const row = () => pageOf(members).querySelector<HTMLTableRowElement>(`[data-port="Air-on transmitter"]`)!;
    const press = (key: string, altKey = false) => row().dispatchEvent(new KeyboardEvent('keydown', { key, altKey, cancelable: true }));
    row().focus();
    press('ArrowUp', true);
    const { label, changes } = sentBy(on);
    expect(label).toBe('Put Air-on transmitter to place 3 of Kiln bus');
    expect(changes.map(({ after }) => [after!['atM'], after!['position']])).toEqual([
      [131, bus[2]!.position],
      [260, bus[3]!.position],
    ]);
    members.componentRef.setInput('ports', [bus[0], bus[1], changes[0]!.after, changes[1]!.after, bus[4], bus[5]]);
    await turn();
    members.detectChanges();
    expect([row().rowIndex, document.activeElement === row()]).toEqual([4, true]);
    press('ArrowDown');
    expect((document.activeElement as HTMLElement).dataset['port']).toBe('Fan drive south');
  });

  it('at the ends of the line go no further', async () => {
    const on = await stage();
    const members = on.show(Members, { line: kilnBus, ports: portsOn('Kiln bus') });
    const last = pageOf(members).querySelector<HTMLElement>('tr[data-port]:last-child')!;
    last.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', altKey: true, cancelable: true }));
    on.http.expectNone(changeSets);
  });

  it('show addresses, clients and what is fixed on a network, and mark what was found wrong', async () => {
    const on = await stage();
    const members = on.show(Members, { line: lineNamed('Process net'), ports: portsOn('Process net') });
    const row = textOf(members, '[data-port="Burner control"]');
    for (const text of ['10.40.8.21', '255.255.255.0', '502', 'fixed', 'answers', '1 of 2']) expect(row).toContain(text);
    const twice = on.show(Members, { line: lineNamed('Loft bus'), ports: portsOn('Loft bus') });
    expect(textOf(twice, '[data-port="Grain cable 6"] .differs')).toContain('5');
  });
});

describe('PortForm', () => {
  it('tells at the field what was found wrong, saves what is set and its terminals, and keeps bad input', async () => {
    const on = await stage();
    const form = on.show(PortForm, { port: portOf('Fan drive south'), line: kilnBus });
    await turn();
    form.detectChanges();
    expect(textOf(form, '.field-problem, mat-error')).toContain('parity none instead of even');
    typeInto(form, 'input[name=baud]', 'fast');
    await submit(form);
    expect((form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=baud]')!.value).toBe('fast');
    expect(textOf(form, '.field-problem, mat-error')).toContain('A whole number.');
    on.http.expectNone(changeSets);
    typeInto(form, 'input[name=baud]', '9600');
    pick(form, 'parity', 'odd');
    expect(textOf(form, '.field-problem, mat-error')).withContext('what was found of the parity that was there').toBe('');
    typeInto(form, 'input[name="terminal D+"]', 'X9');
    await submit(form);
    const { after } = sentBy(on).changes[0]!;
    expect([after!['baud'], after!['parity'], after!['terminals']]).toEqual([9600, 'odd', { 'D+': 'X9', 'D−': '22', C: '23' }]);
  });

  it('takes a port off its line', async () => {
    const on = await stage();
    const form = on.show(PortForm, { port: portOf('Plant meter'), line: kilnBus });
    [...(form.nativeElement as HTMLElement).querySelectorAll('button')].find((button) => button.innerText.includes('Take it off'))!.click();
    expect(sentBy(on).changes.map(({ entity, after }) => [entity, after])).toEqual([['port', null]]);
  });
});

describe('LineForm', () => {
  it('saves settings, cable, colours and the serial port that leads to it; a problem in the cable is told at its field', async () => {
    const on = await stage();
    const form = on.show(LineForm, { line: kilnBus });
    on.http.expectOne('/api/machine/serial-ports').flush([{ path: '/dev/ttyUSB0', about: 'Adapter' }]);
    await turn();
    form.detectChanges();
    expect(textOf(form)).toContain('This machine has one serial port.');
    typeInto(form, 'input[name=shieldOhmPerKm]', '-3');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('A resistance is not negative.');
    typeInto(form, 'input[name=shieldOhmPerKm]', '');
    typeInto(form, 'input[name=repeatersAtM]', '200 300');
    typeInto(form, 'input[name="colour D+"]', 'red');
    typeInto(form, 'input[name=boundTo]', '/dev/ttyUSB0');
    await submit(form);
    const after = sentBy(on).changes[0]!.after as SerialLine;
    expect([after.cable.shieldOhmPerKm, after.cable.repeatersAtM, after.cable.colours['D+'], after.boundTo]).toEqual([
      null,
      [200, 300],
      'red',
      '/dev/ttyUSB0',
    ]);
  });
});

describe('AddLine', () => {
  it('needs a name, and adds a line of the chosen kind', async () => {
    const on = await stage();
    const form = on.show(AddLine);
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('A name is needed.');
    typeInto(form, 'input[name=name]', 'Hall bus');
    pick(form, 'kind', 'can');
    await submit(form);
    const { label, changes } = sentBy(on);
    expect([label, changes[0]!.before, changes[0]!.after!['kind']]).toEqual(['Add Hall bus', null, 'can']);
  });
});

describe('Wiring', () => {
  const layout = layoutWiring(busOf('Kiln bus'), 1000);

  it('puts stations in their order along the cable, each signal on its wire', () => {
    expect(layout.stations.map(({ name }) => name)).toEqual(busOf('Kiln bus').members.map(({ name }) => name));
    expect(layout.stations.map(({ x }) => x)).toEqual([...layout.stations.map(({ x }) => x)].sort((a, b) => a - b));
    for (const station of layout.stations) expect(station.taps.map(({ y }) => y)).toEqual(layout.wires.map(({ y }) => y));
    expect(layout.stations.filter(({ terminated }) => terminated).map(({ name }) => name)).toEqual(['Kiln gateway', 'Exhaust damper']);
    expect(layout.stations[1]!.distance?.text).toBe('120 m');
  });

  it('joins transmit to receive where the cable is crossed', () => {
    const cable = busOf('Weighbridge cable');
    const [a, b] = layoutWiring(cable, 1000).stations;
    const y = (station: typeof a, signal: string) => station!.taps.find((tap) => tap.signal === signal)!.y;
    expect([y(a, 'TX'), y(a, 'RX'), y(a, 'GND')]).toEqual([y(b, 'RX'), y(b, 'TX'), y(b, 'GND')]);
    const straight = { ...cable, line: { ...cable.line, cable: { ...cable.line.cable, crossing: 'straight' as const } } };
    const [c, d] = layoutWiring(straight, 1000).stations;
    expect(y(c, 'TX')).toBe(y(d, 'TX'));
  });

  it('shows the sheet with terminals and how each device is set', async () => {
    const on = await stage();
    const wiring = on.show(Wiring, { bus: busOf('Kiln bus') });
    expect(textOf(wiring, '.sheet-head')).toContain('RS-485 two-wire, 19200 8E1, 430 m');
    expect(textOf(wiring, 'tbody tr:first-child')).toContain('SG');
    expect(textOf(wiring, 'thead')).toContain('white');
  });
});

describe('LineTimes', () => {
  it('show what a character, the silences and reads take', async () => {
    const on = await stage();
    const text = textOf(on.show(LineTimes, { line: kilnBus }));
    for (const part of ['11 bits, 0.57 ms', '2.01 ms', '255 bytes', '35.8', '1004.6 ms']) expect(text).toContain(part);
  });
});

const told = (...events: ProveEvent[]) => from(events);

describe('Prove', () => {
  const asked: { kind: string; body: object }[] = [];
  let answer: () => Observable<ProveEvent>;
  const proofs = {
    run: (_project: string, kind: string, body: object) => {
      asked.push({ kind, body });
      return answer();
    },
  };
  const prove = async (line = lineNamed('Loft bus')) => {
    asked.length = 0;
    const on = await stage([{ provide: Proofs, useValue: proofs }]);
    const fixture = on.show(Prove, { line });
    await turn();
    fixture.detectChanges();
    const press = async (text: string) => {
      [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')].find((button) => button.innerText.includes(text))!.click();
      await turn();
      fixture.detectChanges();
    };
    return { on, fixture, press };
  };

  const said = (identity: string | null) => ({ identity, identification: null, registers: null });
  const ofTwo = {
    like: [
      { id: 'meter', name: 'Meter', version: 1 },
      { id: 'old', name: 'Old meter', version: 2 },
    ],
    sentence: 'It gives the 40 registers of Meter and Old meter.',
  };

  it('asks for a sweep with what was typed, tells progress, and makes an unexpected one a device', async () => {
    answer = () =>
      told(
        { kind: 'forecast', worstMs: 61_000, total: 247, pauses: true },
        { kind: 'unit', unit: 9, state: 'answers', sentence: 'gives a register', ...said('Works, pump') },
        { kind: 'unit', unit: 10, state: 'answers', sentence: 'gives a register', ...said('Works; Fan AF') },
        { kind: 'unit', unit: 11, state: 'answers', sentence: 'gives a register', ...said(null), registers: ofTwo },
        { kind: 'progress', done: 247, total: 247 },
        { kind: 'done', found: 1, tookMs: 60_000 },
      );
    const { on, fixture, press } = await prove();
    await press('Sweep');
    expect(asked).toEqual([
      { kind: 'units', body: { lineId: lineNamed('Loft bus').id, first: 1, last: 247, timeoutMs: 300, registers: true, on: 'stand-ins' } },
    ]);
    expect(textOf(fixture, '.outcome')).toContain('Took 60 s; forecast at worst 61 s');
    expect(textOf(fixture, '.outcome')).toContain('left to the bench in between');
    expect(textOf(fixture, '[data-id="unit 1"]')).toContain('missing');
    expect(textOf(fixture, '[data-id="unit 9"]')).toContain('unexpected');
    const template = templateOf(demo, deviceNamed('Plant meter').id);
    on.http
      .expectOne('/api/library')
      .flush([{ id: 'fan', name: 'Fan AF', version: 3, points: 2, note: '', identification: noIdentification, atMs: 1, by: null }]);
    fixture.detectChanges();
    expect(textOf(fixture, '[data-id="unit 10"]')).toContain('like Fan AF of the library');
    expect(textOf(fixture, '[data-id="unit 11"]')).toContain('It gives the 40 registers of Meter and Old meter.');
    expect(textOf(fixture, '[data-id="unit 11"]')).toContain('Make it a device like Old meter');
    await press('Make all 3 devices');
    on.http.expectOne('/api/library/fan/versions/3').flush(template);
    const { label, changes } = sentBy(on);
    expect(label).toBe('Add 3 devices that were found');
    const [devices, ports] = (['device', 'port'] as const).map((kind) => changes.filter(({ entity }) => entity === kind));
    expect(devices!.map(({ after }) => [after!['name'], after!['note'], after!['fromLibrary']])).toEqual([
      ['Found at unit 9', 'Works, pump', null],
      ['Fan AF unit 10', template.device.note, { id: 'fan', version: 3 }],
      ['Found at unit 11', '', null],
    ]);
    expect(ports!.map(({ after }) => [after!['unitId'], after!['baud']])).toEqual([
      [9, 9600],
      [10, 9600],
      [11, 9600],
    ]);
  });

  it('makes one of several that it may be what was chosen', async () => {
    answer = () => told({ kind: 'unit', unit: 11, state: 'answers', sentence: 'gives a register', ...said(null), registers: ofTwo });
    const { on, press } = await prove();
    await press('Sweep');
    await press('Make it a device like Old meter');
    on.http.expectOne('/api/library').flush([]);
    on.http.expectOne('/api/library/old/versions/2').flush(templateOf(demo, deviceNamed('Plant meter').id));
    expect(sentBy(on).label).toBe('Add Old meter unit 11');
  });

  it('shows a refusal at its field, and keeps what was typed', async () => {
    answer = () => throwError(() => new Refused({ message: 'Unit IDs on a line are 1 to 247.', path: ['last'] }));
    const { fixture, press } = await prove();
    typeInto(fixture, 'input[name=last]', '300');
    await press('Sweep');
    expect(textOf(fixture, '.field-problem, mat-error')).toBe('Unit IDs on a line are 1 to 247.');
    expect((fixture.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=last]')!.value).toBe('300');
  });

  it('is stopped at once, and says that it was not through', async () => {
    let stopped = false;
    const events = new Subject<ProveEvent>();
    answer = () =>
      new Observable((listener) => {
        events.subscribe(listener);
        return () => (stopped = true);
      });
    const { fixture, press } = await prove();
    await press('Sweep');
    events.next({ kind: 'forecast', worstMs: 61_000, total: 247, pauses: true });
    fixture.detectChanges();
    await press('Stop');
    expect(stopped).toBeTrue();
    expect(textOf(fixture, '.outcome')).toContain('Stopped before it was through');
  });

  it('walks to a device, and goes to the real plant only after arming', async () => {
    answer = () => told({ kind: 'step', name: 'connect', passed: false, sentence: 'Nothing listens there.', identification: null, ms: 3 });
    const { on, fixture, press } = await prove(lineNamed('Process net'));
    await press('Walk to it');
    expect(textOf(fixture, '.steps .failed')).toContain('Nothing listens there.');
    (fixture.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[value=real]')!.click();
    fixture.detectChanges();
    expect(textOf(fixture, 'pe-target')).toContain('Real devices would be asked on Process net: Kiln controller, ');
    expect(textOf(fixture, 'pe-target')).toContain('Nothing is written, and it ends by itself.');
    typeInto(fixture, 'input[name=arm-minutes]', 'an hour');
    await press('Ask the real plant');
    const path = `/api/projects/${demo.project.id}/armed`;
    const asks = on.http.expectOne(path);
    expect((asks.request.body as { minutes: number }).minutes).toBeNaN();
    asks.flush({ error: { message: 'A whole number of minutes.', path: ['minutes'] } }, { status: 422, statusText: 'No' });
    await turn();
    fixture.detectChanges();
    expect(textOf(fixture, 'pe-target mat-error')).toBe('A whole number of minutes.');
    await press('Ask the real plant');
    on.http.expectOne(path).flush({ ...idleBench, readingUntilMs: 1 });
    await turn();
    fixture.detectChanges();
    expect(textOf(fixture, 'pe-target')).toContain('frames go to the real plant; they only read');
    await press('Sweep');
    expect(asked.at(-1)).toEqual({
      kind: 'hosts',
      body: {
        ...{ lineId: lineNamed('Process net').id, first: '10.40.8.1', last: '10.40.8.254', ports: [502] },
        ...{ timeoutMs: 500, registers: true, on: 'real' },
      },
    });
  });

  it('shows at which settings a device gave a valid frame', async () => {
    const settings = { baud: 19_200, dataBits: 8, parity: 'none', stopBits: 1 } as const;
    answer = () => told({ kind: 'settings', settings, text: '19200 8N1', valid: true, sentence: 'Unit 12 gives a register.' });
    const { fixture, press } = await prove(kilnBus);
    await press('Search');
    expect(textOf(fixture, '.outcome tr.best')).toContain('19200 8N1');
  });
});

describe('LinesScreen', () => {
  it('lists the lines with what was found, walks them by arrow keys, and opens a port from a finding', async () => {
    const on = await stage();
    const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
    const screen = on.show(LinesScreen, { line: kilnBus.id });
    expect(textOf(screen, '.lines li[aria-selected=true]')).toContain('1 stop');
    expect(textOf(screen, '.findings')).toContain('Fan drive south is set to 19200 8N1');
    pressKey((screen.nativeElement as HTMLElement).querySelector('.lines')!, 'ArrowDown');
    expect(navigate.calls.mostRecent().args[1]?.queryParams).toEqual({ line: lineNamed('Loft bus').id, port: null, panel: null });
    (screen.nativeElement as HTMLElement).querySelector<HTMLElement>('.finding')!.click();
    expect(navigate.calls.mostRecent().args[1]?.queryParams).toEqual({ port: portOf('Fan drive south').id, panel: null });
  });

  it('offers what a line has: text has no times, CAN no wiring', async () => {
    const on = await stage();
    const tabsOf = (name: string) =>
      textOf(on.show(LinesScreen, { line: lineNamed(name).id }), '.tabs')
        .split(/\s+/)
        .filter(Boolean);
    expect(tabsOf('Kiln bus')).toEqual(['Members', 'Wiring', 'Times', 'Prove']);
    expect(tabsOf('Moisture cable')).toEqual(['Members', 'Wiring']);
    expect(tabsOf('Process net')).toEqual(['Members', 'Prove']);
    expect(tabsOf('Turner CAN')).toEqual(['Members']);
  });
});
