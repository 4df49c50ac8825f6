import { DEMO_ID } from '@plain-envoy/core/model';
import { type ProjectDocument } from '@plain-envoy/core/model';
import { By } from 'selenium-webdriver';
import { deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('Proofs and errands, in a browser', () => {
  const on = onDemo();

  it('proves the routes of a device with their evidence, and says when a proof no longer counts', async () => {
    await on.page.open('/bench?view=proofs');
    const row = (name: string) => `//pe-proofs-view//tbody/tr[td[normalize-space(.)='${name}']]`;
    const state = async (name: string) =>
      (await on.browser.driver.findElements(By.xpath(`${row(name)}/td[@data-cell='state']`)))[0]?.getText();
    await on.page.choose('only-device', 'Burner control');
    await on.page.says('button[name=prove-some]', 'Prove 6 shown');
    await on.page.click('mat-checkbox[name=with-loss] input');
    await on.page.click('button[name=prove-some]');
    await on.page.shows('button[name=stop-proof]');
    await on.page.says('pe-proofs-view .tally', 'The last proof took', 60_000);
    const names = ['Burner release', 'Burner set point', 'Burner command', 'Burner status', 'Flue temperature', 'Burner burns'];
    expect(await Promise.all(names.map(state))).toEqual(names.map(() => '✓ proved'));
    await on.browser.driver.findElement(By.xpath(`${row('Flue temperature')}/td[2]`)).click();
    await on.page.says('.evidence', 'a number of its own');
    await on.page.says('.evidence', 'the sign');
    const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
    const flue = document.points.find(({ name }) => name === 'Flue temperature')!;
    const change = { entity: 'point', id: flue.id, before: flue, after: { ...flue, offset: flue.offset + 1 } };
    await on.api('POST', `projects/${document.project.id}/change-sets`, { label: 'Shift', baseRevision: 0, changes: [change] });
    await eventually('the proof no longer counts', async () => (await state('Flue temperature')) === '↻ changed since');
    const held = (await on.api('GET', `projects/${DEMO_ID}/stand-ins`)) as { held: unknown[] }[];
    expect(held.flatMap((standIn) => standIn.held)).toEqual([]);
    expect(await on.browser.complaints()).toEqual([]);
  }, 120_000);

  it('proves by the programs of the controllers what they carry', async () => {
    await on.page.open('/bench?view=proofs');
    await on.page.choose('only-device', 'Burner control');
    await on.page.click('mat-checkbox[name=with-loss] input');
    await on.page.click('mat-checkbox[name=by-programs] input');
    await on.page.click('button[name=prove-some]');
    await on.page.says('pe-proofs-view .tally', 'The last proof took', 60_000);
    await on.page.says('pe-proofs-view tbody', 'By the program of Kiln controller, a scan each 10 ms.');
    const states = await on.browser.driver.findElements(By.css("pe-proofs-view td[data-cell='state']"));
    expect(new Set(await Promise.all(states.map((state) => state.getText())))).toEqual(new Set(['✓ proved']));
    expect(await on.browser.complaints()).toEqual([]);
  }, 120_000);

  it('runs an errand with its steps and times, and keeps what was typed where it cannot be saved', async () => {
    await on.page.open('/bench?view=errands');
    await on.page.click('button[name=run-errand]');
    await on.page.says('pe-errands-view [data-run]', '✓ done', 20_000);
    await on.page.says('pe-errands-view .runs', /Reply is Batch \d+ is ready, as it should be/);
    await on.page.retype('input[name=errand-name]', '');
    await on.page.click('button[name=save-errand]');
    await on.page.says('pe-errands-view mat-error', 'A name is needed.');
    await on.page.retype('input[name=errand-name]', 'Yard');
    await on.page.click('button[name=save-errand]');
    await eventually('the new name', async () => (await on.page.chosen('errand')) === 'Yard');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('says at which step an errand failed and why, stops one that waits, and finds a step whose point is gone', async () => {
    const display = deviceId('Yard display');
    await on.api('PUT', `projects/${DEMO_ID}/stand-ins/${display}/faults`, { faults: [{ kind: 'silent' }] });
    await on.page.open('/bench?view=errands');
    await on.page.click('button[name=run-errand]');
    await on.page.says('pe-errands-view [data-run]', '✗ failed', 20_000);
    await on.page.says('pe-errands-view [data-run] tr.bad', 'It does not answer');
    await on.api('PUT', `projects/${DEMO_ID}/stand-ins/${display}/faults`, { faults: [] });

    const { document, revision } = (await on.api('GET', `projects/${DEMO_ID}`)) as {
      document: ProjectDocument;
      revision: number;
    };
    const errand = document.errands.find(({ name }) => name === 'Batch on the yard display')!;
    const text = document.points.find(({ deviceId: owner, name }) => owner === display && name === 'Text')!;
    const wait = { kind: 'wait', pointId: text.id, is: 'equals', value: 'never', withinMs: 60_000 };
    const changes = [
      { entity: 'errand', id: errand.id, before: errand, after: { ...errand, steps: [wait, ...errand.steps] } },
      { entity: 'point', id: text.id, before: text, after: null },
    ];
    await on.api('POST', `projects/${document.project.id}/change-sets`, {
      label: 'Wait',
      baseRevision: revision,
      changes: changes.slice(0, 1),
    });
    await on.page.says('pe-errands-view ol li:first-child', 'wait until');
    await on.page.click('button[name=run-errand]');
    await on.page.click('button[name=stop-errand]');
    await on.page.says('pe-errands-view [data-run]', '■ stopped');

    await on.api('POST', `projects/${document.project.id}/change-sets`, {
      ...{ label: 'Take the text away', baseRevision: revision + 1, changes: changes.slice(1) },
    });
    await on.page.open('/site');
    await on.page.click('.pill.findings');
    await (await on.page.withText('pe-findings-panel .place', 'Batch on the yard display, step 1: its point is no longer')).click();
    await eventually('the errand', async () => (await on.page.chosen('errand')) === 'Batch on the yard display');
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);

  it('fails the proof of a route with a wrong map and names the reason, and leaves nothing behind when it is stopped', async () => {
    const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
    const flue = document.points.find(({ name }) => name === 'Flue temperature')!;
    const change = { entity: 'point', id: flue.id, before: flue, after: { ...flue, offset: flue.offset + 1 } };
    await on.api('POST', `projects/${document.project.id}/change-sets`, { label: 'Shift', baseRevision: 0, changes: [change] });
    await on.page.open('/bench?view=proofs');
    await on.page.choose('only-device', 'Burner control');
    await on.page.says('button[name=prove-some]', 'Prove 6 shown');
    await on.page.click('mat-checkbox[name=with-loss] input');
    await on.page.click('button[name=prove-some]');
    await on.page.says('pe-proofs-view .tally', 'The last proof took', 60_000);
    await on.page.click('mat-checkbox[name=with-loss] input');
    await on.page.says('pe-proofs-view tbody', /✗ failed[\s\S]*The map has offset \d+ .* its papers say \d+/);
    await on.page.click('button[name=prove-all]');
    await on.page.says('pe-proofs-view [role=status]', / of 125/);
    await on.page.click('button[name=stop-proof]');
    await on.page.shows('button[name=prove-all]');
    await eventually('nothing held or cut off', async () => {
      const all = (await on.api('GET', `projects/${DEMO_ID}/stand-ins`)) as { held: unknown[]; cut: boolean }[];
      return all.every(({ held, cut }) => held.length === 0 && !cut);
    });
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);
});
