import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { screens } from '../screens/list';
import { everywhere, inParts } from './everywhere';
import type { KeyNote } from '../parts/actions';

/** All keys, by where they work. */
@Component({
  selector: 'pe-keys-sheet',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `<h2 mat-dialog-title>Keys</h2>
    <mat-dialog-content tabindex="0" role="region" aria-label="All keys, by where they work">
      @for (group of groups; track group.name) {
        <section [attr.aria-label]="group.name">
          <h3>{{ group.name }}</h3>
          <dl>
            @for (row of group.keys; track $index) {
              <dt class="mono">{{ row.keys }}</dt>
              <dd>{{ row.does }}</dd>
            }
          </dl>
        </section>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end"><button mat-button mat-dialog-close type="button">Close</button></mat-dialog-actions>`,
  styles: `
    mat-dialog-content {
      max-height: 78vh;
      columns: 2;
      column-gap: 28px;
    }
    section {
      break-inside: avoid;
      margin-bottom: 12px;
    }
    h3 {
      margin: 0 0 4px;
      font-size: 14px;
    }
    dl {
      display: grid;
      grid-template-columns: minmax(96px, max-content) 1fr;
      gap: 3px 12px;
      margin: 0;
      font-size: 13px;
    }
    dt {
      max-width: 150px;
    }
    dd {
      margin: 0;
    }
  `,
})
export class KeysSheet {
  protected readonly groups: readonly { name: string; keys: readonly KeyNote[] }[] = [
    { name: 'Everywhere', keys: [...pressed(everywhere), ...inParts] },
    ...screens.map(({ name, actions, keys }) => ({ name, keys: [...pressed(actions), ...keys] })).filter(({ keys }) => keys.length),
  ];
}

function pressed(actions: readonly { name: string; keys?: string }[]): KeyNote[] {
  return actions.flatMap(({ name, keys }) => (keys ? [{ keys, does: name }] : []));
}
