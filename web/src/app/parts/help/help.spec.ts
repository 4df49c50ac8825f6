import { OverlayContainer } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { asOptions, Choose } from '../choose';
import { TextField } from '../text-field';
import { topics } from './topics';

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, TextField],
  template: `
    <pe-choose label="Byte order" name="order" help="wordOrder" [options]="orders" value="ABCD" />
    <pe-text label="Else step" name="else" hint="Where it goes on; empty: it fails" />
    <pe-text label="Name" name="name" />
  `,
})
class Host {
  protected readonly orders = asOptions(['ABCD', 'CDAB']);
}

describe('What is meant by a field', () => {
  const shown = () => {
    const host = TestBed.createComponent(Host);
    host.detectChanges();
    const page = host.nativeElement as HTMLElement;
    const cards = () => {
      TestBed.tick();
      return [...TestBed.inject(OverlayContainer).getContainerElement().querySelectorAll<HTMLElement>('pe-help-card')];
    };
    let escapes = 0;
    page.addEventListener('keydown', ({ key }) => (escapes += Number(key === 'Escape')));
    const press = (selector: string, key: string) => {
      const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
      page.querySelector(selector)!.dispatchEvent(event);
      return event;
    };
    return { page, cards, press, escaped: () => escapes };
  };

  it('is said with a drawing at a press of its question mark, and goes at another', () => {
    const { page, cards } = shown();
    const ask = page.querySelector<HTMLElement>('[data-name=order] pe-help button')!;
    ask.click();
    expect(cards().map(({ innerText }) => innerText.includes(topics.wordOrder.sentence))).toEqual([true]);
    expect(cards()[0]!.querySelectorAll('svg rect').length).toBe(16);
    expect(TestBed.inject(OverlayContainer).getContainerElement().querySelector('mat-option'))
      .withContext('the list stays closed')
      .toBeNull();
    ask.click();
    expect(cards()).toEqual([]);
  });

  it('is said at F1, where there is something to say, one at a time', () => {
    const { cards, press } = shown();
    expect(press('[data-name=else] input', 'F1').defaultPrevented).toBeTrue();
    expect(cards().map(({ innerText }) => innerText.trim())).toEqual(['Where it goes on; empty: it fails']);
    press('[data-name=order] mat-select', 'F1');
    expect(cards().map(({ innerText }) => innerText.includes('no standard says'))).toEqual([true]);
    expect(press('[data-name=name] input', 'F1').defaultPrevented).toBeFalse();
  });

  it('is closed by Escape, which closes nothing else, and by leaving the field', () => {
    const { page, cards, press, escaped } = shown();
    press('[data-name=else] input', 'F1');
    press('[data-name=else] input', 'Escape');
    expect([cards().length, escaped()]).toEqual([0, 0]);
    press('[data-name=else] input', 'Escape');
    expect(escaped()).toBe(1);
    press('[data-name=else] input', 'F1');
    expect(cards().length).toBe(1);
    page.querySelector('[data-name=else] input')!.dispatchEvent(new FocusEvent('focusout', { bubbles: true }));
    expect(cards()).toEqual([]);
  });

  it('has a sentence and a named drawing for each topic', () => {
    for (const [name, { sentence, drawing }] of Object.entries(topics)) {
      const drawn = TestBed.createComponent(drawing!);
      drawn.detectChanges();
      expect((drawn.nativeElement as HTMLElement).querySelector('svg')!.getAttribute('aria-label'))
        .withContext(name)
        .toBeTruthy();
      expect(sentence)
        .withContext(name)
        .toMatch(/^[A-Z].*\.$/);
    }
  });
});
