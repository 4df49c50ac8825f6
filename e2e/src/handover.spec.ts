import { DEMO_ID } from '@plain-envoy/core/model';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { onDemo } from './on-demo.js';

describe('The handover, in a browser', () => {
  const on = onDemo();
  const api = (path: string) => `${on.start.address}/api/projects/${DEMO_ID}${path}`;

  it('lists variables by rules of one’s own, as they are typed, and gives them away so', async () => {
    await on.page.open('/handover?view=variables');
    await on.page.says('tbody tr:first-child', 'Air_on_sensor_fault');
    await on.page.click('mat-select[name=profile]');
    await (await on.page.withText('mat-option', 'A new profile')).click();
    await on.page.retype('input[name=profile-name]', 'Kiln package');
    await on.page.retype('input[name=prefix]', 'g_');
    await on.page.says('tbody tr:first-child', 'g_Air_on_sensor_fault');
    await on.page.retype('input[name=columns]', 'name, adress');
    await on.page.press(Key.ENTER);
    await on.page.says('mat-error', '“adress” is no column');
    await on.page.retype('input[name=columns]', 'name, address, initial');
    await on.page.press(Key.ENTER);
    await on.page.says('.about', 'by “Kiln package”');
    await on.page.retype('input[name=variable-name]', 'xFault');
    await on.page.retype('input[name=initial]', 'on');
    await on.page.press(Key.ENTER);
    await on.page.says('tbody tr:first-child', 'xFault');
    const { document } = (await (await fetch(api(''))).json()) as { document: ProjectDocument };
    const kiln = document.devices.find(({ name }) => name === 'Kiln controller')!;
    const csv = await (await fetch(api(`/devices/${kiln.id}/variables?format=csv`))).text();
    expect(csv.replace('\uFEFF', '').split('\r\n').slice(0, 3)).toEqual([
      'Name;Address;Initial value',
      'xFault;B2;TRUE',
      'g_Damper_is_open;B3;',
    ]);
  });

  it('shows the program of a controller part by part, makes it portable by keyboard alone, and gives it away', async () => {
    await on.page.open('/handover?view=program');
    await on.page.says('.cm-content', 'What Kiln controller carries', 20_000);
    await on.page.choose('part', 'Interface');
    await on.page.says('.cm-content', 'FUNCTION_BLOCK Transaction');
    const portable = await on.page.shows('mat-checkbox[name=portable] input');
    await on.browser.driver.executeScript('arguments[0].focus()', portable);
    await on.page.press(Key.SPACE);
    await on.page.press(Key.TAB);
    await on.page.retype('input[name=scan-ms]', '1');
    await on.page.press(Key.ENTER);
    await on.page.says('mat-error', 'At least 5 ms.');
    await on.page.retype('input[name=scan-ms]', '20');
    await on.page.press(Key.ENTER);
    await on.page.says('.about', 'portable');
    const { document } = (await (await fetch(api(''))).json()) as { document: ProjectDocument };
    const kiln = document.devices.find(({ name }) => name === 'Kiln controller')!;
    const text = await (await fetch(api(`/devices/${kiln.id}/program?format=st`))).text();
    expect(text).toContain('FUNCTION RealOfBits : REAL');
    expect(text).not.toContain('LREAL');
    const xml = await (await fetch(api(`/devices/${kiln.id}/program?format=xml`))).text();
    expect(xml).toContain('<Program name="Kiln_controllerExchange">');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('measures on the bench what is lost when a device fails, by keyboard alone, and says whether it is as reckoned', async () => {
    await on.page.open('/handover?view=losses');
    await on.page.says('.failing', 'Exhaust damper', 20_000);
    await on.browser.driver.executeScript('arguments[0].focus()', await on.page.withText('.failing tbody tr', 'Exhaust damper'));
    await on.page.press(Key.ENTER);
    await on.page.says('.what h2', 'When the device Exhaust damper fails');
    await on.browser.driver.executeScript('arguments[0].focus()', await on.page.shows('button[name=measure-one]'));
    await on.page.press(Key.ENTER);
    await on.page.says('[data-name=measured]', 'as reckoned', 60_000);
    await on.page.says('.values tbody tr', 'It stood still for');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('lays what a device says today beside a revision that has a name, and takes it over, by keyboard alone', async () => {
    const { revision } = (await (await fetch(api(''))).json()) as { revision: number };
    const named = await fetch(api(`/revisions/${revision}/name`), {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'As designed', note: '' }),
    });
    expect(named.status).toBe(200);
    const focus = async (css: string) => on.browser.driver.executeScript('arguments[0].focus()', await on.page.shows(css));
    await on.page.open('/handover?view=found');
    await on.page.says('.failing', 'Fan drive north', 20_000);
    await on.browser.driver.executeScript('arguments[0].focus()', await on.page.withText('.failing tbody tr', 'Fan drive north'));
    await on.page.press(Key.ENTER);
    await focus('button[name=look-one]');
    await on.page.press(Key.ENTER);
    await on.page.says('.failing tbody tr', /Fan drive north\s+3 differ/, 20_000);
    await focus('.values tbody tr:first-child button');
    await on.page.press(Key.ENTER);
    await on.page.says('.mat-mdc-snack-bar-label', 'Fan drive north: Ramp to top speed as it was found.');
    await on.page.says('.failing tbody tr', /Fan drive north\s+2 differ/);
    await on.page.choose('beside', 'As designed');
    await on.page.says('.failing tbody tr', /Fan drive north\s+3 differ/);
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('has the protocol signed step by step by keyboard alone, and says what rests on what has changed', async () => {
    await on.page.open('/handover?view=protocol');
    await on.page.says('aside h2', '1. Air-on temperature', 20_000);
    await on.page.retype('input[name=name]', 'A. Tester');
    await on.page.press(Key.ENTER);
    await on.page.says('aside h2', '2. Air-on humidity');
    await on.page.says('tbody tr:first-child', 'passed');
    await on.page.retype('input[name=name]', 'A. Tester');
    await on.page.press(Key.ENTER);
    await on.page.says('[data-name=tally]', '2 of');
    const { document, revision } = (await (await fetch(api(''))).json()) as { document: ProjectDocument; revision: number };
    const route = document.routes.find(({ name }) => name === 'Air-on humidity')!;
    const changes = [{ entity: 'route', id: route.id, before: route, after: { ...route, onlyDifferent: !route.onlyDifferent } }];
    const edit = await fetch(api('/change-sets'), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ label: 'Another', baseRevision: revision, changes }),
    });
    expect(edit.status).toBe(200);
    await on.page.says('tbody tr:nth-child(2)', 'changed since');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('puts the chapters of the book in another order by keyboard alone, has a title page, and makes it', async () => {
    const focus = async (css: string) => on.browser.driver.executeScript('arguments[0].focus()', await on.page.shows(css));
    await on.page.open('/handover?view=book');
    await on.page.says('pe-book-chapter', 'Kiln gateway', 20_000);
    await focus('button[data-chapter=lines]');
    await on.page.chord(Key.ALT, Key.ARROW_DOWN);
    await on.page.shows('li:first-child button[data-chapter=settings]');
    await on.page.press(Key.ARROW_DOWN);
    await on.page.press(Key.ENTER);
    await on.page.says('pe-book-chapter h2', 'Register maps', 20_000);
    await on.page.retype('input[name=text-2]', 'A. Second');
    await on.page.press(Key.ENTER);
    await on.page.says('.form[aria-label="Make the book"]', 'Make it');
    const { document } = (await (await fetch(api(''))).json()) as { document: ProjectDocument };
    expect(document.project.book.chapters.slice(0, 2)).toEqual(['settings', 'lines']);
    await focus('button[name=make-html]');
    await on.page.press(Key.ENTER);
    await on.page.says('.mat-mdc-snack-bar-label', 'Fernhollow-Maltings-book.html is made.', 30_000);
    await focus('button[name=parcel]');
    await on.page.press(Key.ENTER);
    await on.page.says('.mat-mdc-snack-bar-label', 'Fernhollow-Maltings.zip is made.', 60_000);
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('names a revision, says what is otherwise and what that means, and goes back to it', async () => {
    const { document, revision } = (await (await fetch(api(''))).json()) as { document: ProjectDocument; revision: number };
    const round = document.rounds.find(({ name }) => name === 'Kiln, fast')!;
    const edit = await fetch(api('/change-sets'), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        ...{ label: 'Twice as often', baseRevision: revision },
        changes: [{ entity: 'round', id: round.id, before: round, after: { ...round, periodMs: 250 } }],
      }),
    });
    expect(edit.status).toBe(200);
    await on.page.open('/handover?view=revisions');
    await on.page.says('tbody tr:first-child', 'Twice as often');
    await on.page.says('.differences', 'period ms');
    await on.page.says('.means', 'Kiln bus is asked for', 20_000);
    await on.page.click('tbody tr:nth-child(2)');
    await on.page.says('.compared h2', `Revision ${revision}`);
    await on.page.retype('input[name=revision-name]', 'Works test');
    await on.page.press(Key.ENTER);
    await on.page.says('tbody tr:nth-child(2)', 'Works test');
    await on.page.click('button[name=go-back]');
    await on.page.says('tbody tr:first-child', `Back to revision ${revision}`);
    const after = (await (await fetch(api(''))).json()) as { document: ProjectDocument };
    expect(after.document).toEqual(document);
  }, 60_000);
});
