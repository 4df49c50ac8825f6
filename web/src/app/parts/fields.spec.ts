import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { pageOf, pick, shownIn, textOf, turn, typeInto } from '../testing.spec-helper';
import { asOptions, Choose } from './choose';
import { SearchField } from './search-field';
import { TextField } from './text-field';

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, ReactiveFormsModule, SearchField, TextField],
  template: `<pe-search name="point" label="Point" [none]="none()" [options]="points" [(value)]="pointId" />
    <pe-choose name="parity" label="Parity" [options]="parities" [problem]="problem()" [(value)]="parity" />
    <pe-text name="count" label="Count" [formControl]="count" />`,
})
class Host {
  readonly none = signal('');
  readonly problem = signal<string | null>(null);
  readonly points = [
    { value: 'a', text: 'End position open, Exhaust damper', more: '10001' },
    { value: 'b', text: 'Position, Exhaust damper', more: '30001' },
    { value: 'c', text: 'Position, Grain cable 1', more: '30001' },
  ];
  readonly pointId = signal('a');
  readonly parities = asOptions(['none', 'even', 'odd'] as const);
  readonly parity = signal<'none' | 'even' | 'odd'>('even');
  readonly count = new FormControl('7', { nonNullable: true });
}

describe('the parts of a form', () => {
  let fixture: ComponentFixture<Host>;
  let host: Host;
  const box = () => pageOf(fixture).querySelector<HTMLInputElement>('[data-name=point] input')!;
  const enter = () => {
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
    fixture.detectChanges();
  };
  const leave = async () => {
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', keyCode: 27, bubbles: true }));
    box().dispatchEvent(new Event('blur'));
    await turn();
    fixture.detectChanges();
  };
  const search = (text: string) => {
    box().dispatchEvent(new Event('focusin'));
    typeInto(fixture, '[data-name=point] input', text);
  };

  beforeEach(() => {
    fixture = TestBed.createComponent(Host);
    host = fixture.componentInstance;
    fixture.detectChanges();
  });

  it('take what their control is given, without its being taken for typed', () => {
    const told: string[] = [];
    host.count.valueChanges.subscribe((value) => told.push(value));
    host.count.setValue('12', { emitEvent: false });
    fixture.detectChanges();
    expect(pageOf(fixture).querySelector<HTMLInputElement>('[data-name=count] input')!.value).toBe('12');
    expect([told, host.count.dirty]).toEqual([[], false]);
    typeInto(fixture, '[data-name=count] input', '13');
    expect([told, host.count.dirty]).toEqual([['13'], true]);
  });

  describe('pe-search', () => {
    it('finds by parts of the name, the device and the address, in any order; what begins so comes first', () => {
      const found = () => [...document.querySelectorAll('mat-option')].map((option) => option.textContent!.trim().split(',')[0]);
      search('exhaust 30001');
      expect(found()).toEqual(['Position']);
      search('position');
      expect(found()).toEqual(['Position', 'Position', 'End position open']);
      search('nobody');
      expect(found()).toEqual(['Nothing is called so.']);
    });

    it('takes what fits best at Enter, also before the list has come', () => {
      box().value = 'position gr';
      box().dispatchEvent(new Event('input', { bubbles: true }));
      enter();
      expect([host.pointId(), shownIn(fixture, 'point')]).toEqual(['c', 'Position, Grain cable 1']);
    });

    it('goes back to what was chosen where what is typed chooses nothing', async () => {
      search('nobody');
      enter();
      await leave();
      expect([host.pointId(), shownIn(fixture, 'point')]).toEqual(['a', 'End position open, Exhaust damper']);
      search('');
      await leave();
      expect(host.pointId()).withContext('there is no none').toBe('a');
    });

    it('can be emptied where nothing may be chosen', async () => {
      host.none.set('always');
      fixture.detectChanges();
      search('');
      enter();
      await leave();
      expect([host.pointId(), shownIn(fixture, 'point'), box().placeholder]).toEqual(['', '', 'always']);
    });

    it('takes what is chosen by mouse', () => {
      pick(fixture, 'point', 'b');
      expect(host.pointId()).toBe('b');
    });
  });

  it('pe-choose takes one of a list, and says at its place what is wrong with it', async () => {
    pick(fixture, 'parity', 'odd');
    expect([host.parity(), shownIn(fixture, 'parity')]).toEqual(['odd', 'odd']);
    host.problem.set('The line is even.');
    fixture.detectChanges();
    await turn();
    fixture.detectChanges();
    expect(textOf(fixture, '[data-name=parity] mat-error')).toBe('The line is even.');
    expect(pageOf(fixture).querySelector('[data-name=parity] mat-select')!.getAttribute('aria-invalid')).toBe('true');
  });

  it('pe-text is a control of a form: it takes its value, tells what is typed, shows its error, and can be turned off', async () => {
    const field = pageOf(fixture).querySelector<HTMLInputElement>('input[name=count]')!;
    expect(field.value).toBe('7');
    typeInto(fixture, 'input[name=count]', 'many');
    expect(host.count.value).toBe('many');
    host.count.setErrors({ schema: 'A whole number.' });
    host.count.disable({ emitEvent: false });
    host.count.enable();
    host.count.setErrors({ schema: 'A whole number.' });
    fixture.detectChanges();
    await turn();
    fixture.detectChanges();
    expect([textOf(fixture, '[data-name=count] mat-error'), field.value]).toEqual(['A whole number.', 'many']);
    host.count.disable();
    fixture.detectChanges();
    expect(field.disabled).toBeTrue();
  });
});
