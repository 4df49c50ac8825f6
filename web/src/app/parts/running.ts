import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { percentOf } from './format';

/** How far something is that goes through things one by one, and a way to stop it; in a row with what belongs to it. */
@Component({
  selector: 'pe-running',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatProgressBarModule],
  template: `<mat-progress-bar mode="determinate" [value]="percent()" [attr.aria-label]="label()" />
    <span class="quiet" role="status">{{ doing() }}</span>
    <button mat-stroked-button type="button" [name]="stopName()" (click)="stopped.emit()">Stop</button>`,
  styles: `
    :host {
      display: contents;
    }

    mat-progress-bar {
      flex: 1;
    }
  `,
})
export class Running {
  readonly progress = input.required<{ done: number; total: number; doing: string } | null>();
  /** What the bar tells: `How far the measuring is`. */
  readonly label = input.required<string>();
  /** The name of the button. */
  readonly stopName = input.required<string>();
  readonly stopped = output();

  protected readonly percent = computed(() => percentOf(this.progress()));
  protected readonly doing = computed(() => {
    const progress = this.progress();
    return progress ? `${progress.doing}: ${progress.done + 1} of ${progress.total}` : 'It begins';
  });
}
