import { ChangeDetectionStrategy, Component } from '@angular/core';
import type { HelpTopic } from './topic';

@Component({
  selector: 'pe-termination-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 300 96" role="img" aria-label="A resistor across the pair in the first and the last device, none between">
    <path class="ink" d="M24 18H276M24 30H276" />
    @for (x of places; track x) {
      <path class="thin" [attr.d]="'M' + (x - 4) + ' 18V56M' + (x + 4) + ' 30V56'" />
      <rect class="box" [attr.x]="x - 22" y="56" width="44" height="20" />
    }
    <path class="point" d="M24 18v2l-5 1 10 2-10 2 10 2-5 1v2M276 18v2l-5 1 10 2-10 2 10 2-5 1v2" />
    <text class="what" x="6" y="11">120 Ω</text>
    <text class="what" x="262" y="11">120 Ω</text>
    <text x="46" y="92" text-anchor="middle">first</text>
    <text class="quiet" x="150" y="92" text-anchor="middle">none between</text>
    <text x="254" y="92" text-anchor="middle">last</text>
  </svg>`,
  styleUrl: './drawing.scss',
})
class TerminationDrawing {
  protected readonly places = [46, 115, 185, 254];
}

export const termination: HelpTopic = {
  sentence:
    'A resistor across the pair at each of the two ends of the cable swallows what would come back as an echo; a third one loads the line too much.',
  drawing: TerminationDrawing,
};
