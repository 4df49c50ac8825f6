import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { SplitAreaComponent, type SplitAreaSize, SplitComponent } from 'angular-split';

/** What is left of a pane that is folded: its row of tabs, or the edge that it is pulled out by; in percent. */
const FOLDED = 6;

/**
 * Two panes with a bar between them that is dragged, moved with the arrow keys, and with a double click or Enter folds the second one.
 * How they were left is remembered in this browser. Without a second one, the first has all the room.
 */
@Component({
  selector: 'pe-panes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SplitAreaComponent, SplitComponent],
  template: `<as-split
    unit="percent"
    [direction]="direction()"
    [gutterSize]="8"
    [gutterStep]="24"
    [gutterAriaLabel]="label()"
    (dragEnd)="keep($event.sizes)"
    (gutterDblClick)="fold()"
    (keydown.enter)="foldByKey($event)"
  >
    <as-split-area [size]="both() ? 100 - share() : 100" [minSize]="both() ? 15 : 100"><ng-content /></as-split-area>
    <as-split-area [size]="share()" [minSize]="FOLDED" [visible]="both()"><ng-content select="[second]" /></as-split-area>
  </as-split>`,
  styles: `
    :host {
      display: block;
      flex: 1;
      min-width: 0;
      min-height: 0;
    }
    as-split-area {
      display: flex;
      flex-direction: column;
      overflow: hidden !important;
    }
  `,
})
export class Panes {
  /** Under which they are remembered. */
  readonly name = input.required<string>();
  readonly direction = input<'horizontal' | 'vertical'>('vertical');
  /** What the bar between them moves. */
  readonly label = input.required<string>();
  /** The part of the second one, in percent, until it is moved. */
  readonly second = input(44);
  readonly both = input(true);
  readonly moved = output();

  protected readonly FOLDED = FOLDED;
  private readonly key = computed(() => `plain-envoy panes ${this.name()}`);
  protected readonly share = linkedSignal(() => sizeIn(localStorage.getItem(this.key())) ?? this.second());
  private unfolded: number | null = null;

  protected keep(sizes: readonly SplitAreaSize[]): void {
    this.set(Number(sizes[1]));
  }

  protected fold(): void {
    if (this.share() > FOLDED) {
      this.unfolded = this.share();
      this.set(FOLDED);
    } else {
      this.set(this.unfolded ?? this.second());
    }
  }

  protected foldByKey(event: Event): void {
    if (!(event.target as HTMLElement).classList.contains('as-split-gutter')) return;
    event.preventDefault();
    this.fold();
  }

  private set(share: number): void {
    this.share.set(share);
    localStorage.setItem(this.key(), String(share));
    this.moved.emit();
  }
}

function sizeIn(text: string | null): number | null {
  const size = Number(text);
  return text !== null && size >= FOLDED && size <= 85 ? size : null;
}
