import { ChangeDetectionStrategy, Component } from '@angular/core';
import type { HelpTopic } from './topic';

@Component({
  selector: 'pe-word-order-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg
    viewBox="0 0 300 122"
    role="img"
    aria-label="How the bytes A, B, C and D of one value lie in two registers, for each order"
  >
    <text class="quiet" x="118" y="12" text-anchor="middle">first register</text>
    <text class="quiet" x="206" y="12" text-anchor="middle">second register</text>
    @for (order of orders; track order; let row = $index) {
      <text class="mono what" x="12" [attr.y]="34 + 26 * row">{{ order }}</text>
      @for (byte of order; track $index; let at = $index) {
        <rect class="box" [attr.x]="78 + 40 * at + (at > 1 ? 8 : 0)" [attr.y]="19 + 26 * row" width="40" height="21" />
        <text class="mono" text-anchor="middle" [attr.x]="98 + 40 * at + (at > 1 ? 8 : 0)" [attr.y]="34 + 26 * row">{{ byte }}</text>
      }
    }
    <text class="quiet" x="258" y="34">highest</text>
    <text class="quiet" x="258" y="46">first</text>
  </svg>`,
  styleUrl: './drawing.scss',
})
class WordOrderDrawing {
  protected readonly orders = ['ABCD', 'CDAB', 'BADC', 'DCBA'];
}

export const wordOrder: HelpTopic = {
  sentence:
    'A value longer than one register lies in several, and no standard says in which order: A is its highest byte, D its lowest. “Find the order” (Alt+O) tries them all against a value that you know.',
  drawing: WordOrderDrawing,
};
