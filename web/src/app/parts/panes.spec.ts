import { Component, signal } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { Panes } from './panes';

@Component({
  imports: [Panes],
  template: `<div style="display: flex; height: 500px; width: 800px">
    <pe-panes name="test" label="Height of what is below" [second]="40" [both]="both()">
      <div class="one" style="flex: 1">One</div>
      <div second class="two" style="flex: 1">Two</div>
    </pe-panes>
  </div>`,
})
class Host {
  readonly both = signal(true);
}

describe('Panes', () => {
  let fixture: ComponentFixture<Host>;
  const page = () => fixture.nativeElement as HTMLElement;
  const show = () => {
    fixture = TestBed.createComponent(Host);
    document.body.append(page());
    fixture.detectChanges();
  };
  const height = (pane: string) => Math.round(page().querySelector<HTMLElement>(pane)!.getBoundingClientRect().height);
  const press = (key: string) => {
    page()
      .querySelector('.as-split-gutter')!
      .dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    fixture.detectChanges();
  };
  beforeEach(() => localStorage.removeItem('plain-envoy panes test'));
  afterEach(() => {
    page().remove();
    localStorage.removeItem('plain-envoy panes test');
  });

  it('share the room, are moved with the arrow keys, and are remembered', () => {
    show();
    const before = height('.two');
    expect(Math.abs(before - 197)).toBeLessThan(4);
    press('ArrowUp');
    const after = height('.two');
    expect(after).toBeGreaterThan(before + 15);
    page().remove();
    show();
    expect(Math.abs(height('.two') - after)).toBeLessThan(3);
  });

  it('fold the second one with Enter on the bar between them, and unfold it to what it was', () => {
    show();
    const before = height('.two');
    press('Enter');
    expect(height('.two')).toBeLessThan(40);
    press('Enter');
    expect(Math.abs(height('.two') - before)).toBeLessThan(3);
  });

  it('leave all the room to the first where there is no second, and keep what is nonsense out', () => {
    localStorage.setItem('plain-envoy panes test', 'wide');
    show();
    expect(Math.abs(height('.two') - 197)).toBeLessThan(4);
    fixture.componentInstance.both.set(false);
    fixture.detectChanges();
    expect(height('.one')).toBe(500);
  });
});
