import { demo, deviceNamed, pressKey, stage, submit, textOf, turn, typeInto, pick } from '../testing.spec-helper';
import type { Change } from '@plain-envoy/core/model';
import { AddDevice } from '../screens/site/add-device';
import { ReckonerDrawer } from './reckoner-drawer';

describe('ReckonerDrawer', () => {
  const search = 'input[type=search]';

  it('lists every reckoner, finds them by what they are about, and starts from an example', async () => {
    const drawer = (await stage()).show(ReckonerDrawer);
    expect(
      textOf(drawer, 'li')
        .split('\n')
        .map((line) => line.trim()),
    ).toContain('ground-loop');
    typeInto(drawer, search, 'serial line');
    expect(textOf(drawer, 'li').trim()).toBe('line-time');
    expect(textOf(drawer, 'section')).toContain('35.8');
  });

  it('reckons while typing, tells what is wrong at its field, and keeps what was typed while another is looked at', async () => {
    const drawer = (await stage()).show(ReckonerDrawer);
    typeInto(drawer, 'input[name=last]', '9');
    expect(textOf(drawer, 'section')).toContain('10');
    typeInto(drawer, 'input[name=last]', '-4');
    expect(textOf(drawer, '.field-problem, mat-error')).toContain('start at 0');
    typeInto(drawer, 'input[name=last]', '19');
    pressKey((drawer.nativeElement as HTMLElement).querySelector(search)!, 'ArrowDown');
    drawer.detectChanges();
    expect(textOf(drawer, 'li[aria-selected=true]').trim()).toBe('bits');
    pressKey((drawer.nativeElement as HTMLElement).querySelector(search)!, 'ArrowUp');
    drawer.detectChanges();
    expect((drawer.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=last]')!.value).toBe('19');
  });

  it('has rows where a reckoner takes a list, and shows lists as tables', async () => {
    const drawer = (await stage()).show(ReckonerDrawer);
    typeInto(drawer, search, 'ground');
    expect(textOf(drawer, 'section table')).toContain('0.625');
    const add = [...(drawer.nativeElement as HTMLElement).querySelectorAll('button')].find((button) =>
      button.innerText.includes('Add one'),
    )!;
    add.click();
    drawer.detectChanges();
    expect((drawer.nativeElement as HTMLElement).querySelectorAll('input[name=earthV]').length).toBe(3);
  });

  it('takes several lines where they count, and shows what another reckoner takes as that wants it', async () => {
    const drawer = (await stage()).show(ReckonerDrawer);
    typeInto(drawer, search, 'find-telegram');
    typeInto(drawer, 'textarea[name=text]', '12;ok\n13;ok\n14;no');
    expect(textOf(drawer, 'section')).toContain('"kind":"counter"');
    expect(textOf(drawer, 'section')).toContain('Each ends with CR. Its parts are separated by “;”.');
  });

  it('copies its result', async () => {
    const drawer = (await stage()).show(ReckonerDrawer);
    const write = spyOn(navigator.clipboard, 'writeText').and.resolveTo();
    [...(drawer.nativeElement as HTMLElement).querySelectorAll('button')].find((button) => button.innerText.includes('Copy'))!.click();
    expect((JSON.parse(write.calls.mostRecent().args[0]) as { count: number }).count).toBe(88);
  });
});

describe('AddDevice', () => {
  const changeSets = `/api/projects/${demo.project.id}/change-sets`;

  it('forecasts names and unit IDs, and adds them in one change set', async () => {
    const on = await stage();
    const form = on.show(AddDevice);
    pick(form, 'like', deviceNamed('Grain cable 1').id);
    expect((form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[name=name]')!.value).toBe('Grain cable 7');
    typeInto(form, 'input[name=count]', '3');
    expect(textOf(form)).toContain('Grain cable 7 to Grain cable 9 · unit 21 to unit 23 · 9 points in all');
    await submit(form);
    const { changes } = on.http.expectOne(changeSets).request.body as { changes: Change[] };
    expect(changes.filter(({ entity }) => entity === 'device').length).toBe(3);
  });

  it('explains a count or a name that does not fit, and a file that is no template', async () => {
    const on = await stage();
    const form = on.show(AddDevice);
    typeInto(form, 'input[name=count]', 'many');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('A whole number from 1 to 100.');
    typeInto(form, 'input[name=count]', '1');
    typeInto(form, 'input[name=name]', 'Plant meter');
    await submit(form);
    expect(textOf(form, '.field-problem, mat-error')).toBe('There is a device “Plant meter” already.');
    const picker = (form.nativeElement as HTMLElement).querySelector<HTMLInputElement>('input[type=file]')!;
    const files = new DataTransfer();
    files.items.add(new File(['Name;Address'], 'list.csv'));
    picker.files = files.files;
    picker.dispatchEvent(new Event('change'));
    for (let turns = 0; turns < 100 && !textOf(form, '.field-problem, mat-error').includes('list.csv'); turns++) {
      await turn();
      form.detectChanges();
    }
    expect(textOf(form, '.field-problem, mat-error')).toContain('list.csv: This file is not JSON');
    on.http.expectNone(changeSets);
  });
});
