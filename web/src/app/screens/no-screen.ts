import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router } from '@angular/router';

/** Shown at an address that no screen has. */
@Component({
  selector: 'pe-no-screen',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div class="screen-head"><h1>No such screen</h1></div>
    <p class="remark" role="status">There is no screen at {{ address }}. The screens are at the left.</p>`,
})
export class NoScreen {
  protected readonly address = inject(Router).url;
}
