import { Component, input } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { ROW_PX, rowsInView } from './rows-in-view';

@Component({
  template: `<div class="box" style="height: 280px; overflow: auto">
    <p style="height: 100px; margin: 0">Above the table</p>
    <table style="border-collapse: collapse">
      <tbody>
        @if (window().above; as px) {
          <tr [style.height.px]="px"></tr>
        }
        @for (row of window().rows; track $index) {
          <tr [attr.data-row]="row" style="height: ${ROW_PX}px">
            <td style="padding: 0">{{ row }}</td>
          </tr>
        }
        @if (window().below; as px) {
          <tr [style.height.px]="px"></tr>
        }
      </tbody>
    </table>
  </div>`,
})
class Long {
  readonly count = input(1000);
  protected readonly window = rowsInView(() => Array.from({ length: this.count() }, (_, index) => index));
}

describe('rowsInView', () => {
  let fixture: ComponentFixture<Long>;
  const box = () => (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('.box')!;
  const drawn = () => [...box().querySelectorAll<HTMLElement>('[data-row]')].map((row) => Number(row.dataset['row']));
  const scrollTo = async (top: number) => {
    const scrolled = new Promise((done) => box().addEventListener('scroll', done, { once: true }));
    box().scrollTop = top;
    await scrolled;
    fixture.detectChanges();
  };
  beforeEach(() => {
    fixture = TestBed.createComponent(Long);
    document.body.append(fixture.nativeElement as HTMLElement);
    fixture.detectChanges();
  });
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());

  it('draws what can be seen and a little more, in a table as high as if all were drawn', () => {
    expect(drawn().length).toBeLessThan(50);
    expect(drawn()[0]).toBe(0);
    expect(box().querySelector('tbody')!.offsetHeight).toBe(1000 * ROW_PX);
  });

  it('follows the scrolling, counted from the top of the table', async () => {
    await scrollTo(100 + 500 * ROW_PX);
    expect(drawn()).toContain(500);
    expect(drawn()).toContain(510);
    expect(drawn()).not.toContain(480);
    expect(box().querySelector<HTMLElement>('[data-row="500"]')!.getBoundingClientRect().top).toBeCloseTo(
      box().getBoundingClientRect().top,
      0,
    );
    await scrollTo(box().scrollHeight);
    expect(drawn().at(-1)).toBe(999);
  });

  it('shows the end of what is left when rows go', async () => {
    await scrollTo(100 + 900 * ROW_PX);
    fixture.componentRef.setInput('count', 12);
    fixture.detectChanges();
    expect(drawn()).toEqual(Array.from({ length: 12 }, (_, index) => index));
  });
});
