import type { ComponentFixture } from '@angular/core/testing';
import { demo, pageOf, stage, textOf, turn } from '../../testing.spec-helper';
import { LossesView } from './losses-view';

describe('What is lost when, on Handover', () => {
  let view: ComponentFixture<LossesView>;
  const drawn = async () => {
    await turn();
    view.detectChanges();
  };
  beforeEach(async () => {
    const on = await stage();
    view = on.show(LossesView, { of: demo.project.id });
    await drawn();
  });
  const failing = (name: string) =>
    [...pageOf(view).querySelectorAll<HTMLElement>('.failing tbody tr')].find((row) => row.querySelector('td')!.innerText === name)!;
  const choose = async (name: string) => {
    failing(name).click();
    await drawn();
  };
  const values = () =>
    [...pageOf(view).querySelectorAll<HTMLElement>('.values tbody tr')].map((row) =>
      [...row.querySelectorAll('td')].map(({ innerText }) => innerText.trim()),
    );

  it('says of each device and line how many values are lost, and how', async () => {
    const cells = [...failing('Turner CAN').querySelectorAll('td')].map(({ innerText }) => innerText.trim());
    expect(cells).toEqual(['Turner CAN', '', '2', '', '3', '2']);
    await choose('Turner CAN');
    expect(textOf(view, '.what h2')).toBe('When the line Turner CAN fails');
    expect(textOf(view, '.what p')).toBe('7 values do not arrive any more; none of them looks as good as before.');
    expect(textOf(view, '.what ul')).toContain('Floor turner trips after 3 s, by Sequence wanted.');
    expect(values().find(([value]) => value === 'Kiln controller Turner drive position')).toEqual([
      ...['Kiln controller Turner drive position', 'stands still, marked by Kiln controller Turner position is valid'],
      ...['within 1.5 s', 'Turner drive position'],
    ]);
  });

  it('shows what looks as good as before as trouble', async () => {
    await choose('Exhaust damper');
    expect(textOf(view, '.what p')).toBe('3 values do not arrive any more; 3 of them look as good as before.');
    expect(pageOf(view).querySelectorAll('.values .problem').length).toBe(3);
  });
});
