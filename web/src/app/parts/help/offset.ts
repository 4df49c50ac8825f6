import { ChangeDetectionStrategy, Component } from '@angular/core';
import type { HelpTopic } from './topic';

@Component({
  selector: 'pe-offset-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 300 92" role="img" aria-label="The holding register that papers call 40011 has the offset 10 on the wire">
    <text class="quiet" x="6" y="24">in the papers</text>
    <text class="quiet" x="6" y="79">on the wire</text>
    @for (cell of cells; track $index; let at = $index) {
      <rect [class]="cell.here ? 'point' : 'box'" [attr.x]="88 + 52 * at" y="33" width="46" height="26" />
      <text class="mono" text-anchor="middle" [class.what]="cell.here" [attr.x]="111 + 52 * at" y="24">{{ cell.number }}</text>
      <text class="mono" text-anchor="middle" [class.what]="cell.here" [attr.x]="111 + 52 * at" y="79">{{ cell.offset }}</text>
    }
    <text x="215" y="50" text-anchor="middle">…</text>
  </svg>`,
  styleUrl: './drawing.scss',
})
class OffsetDrawing {
  protected readonly cells = [
    { number: '40001', offset: '0', here: false },
    { number: '40002', offset: '1', here: false },
    { number: '', offset: '', here: false },
    { number: '40011', offset: '10', here: true },
  ];
}

export const offset: HelpTopic = {
  sentence:
    'Papers count registers from 1, often with a digit for the table before them; on the wire they are counted from 0, and the function says which table.',
  drawing: OffsetDrawing,
};
