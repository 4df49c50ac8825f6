import { ChangeDetectionStrategy, Component } from '@angular/core';
import type { HelpTopic } from './topic';

@Component({
  selector: 'pe-shield-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 300 84" role="img" aria-label="The shield runs through and is earthed at one end only">
    <path class="ink" d="M40 24H260M40 34H260" />
    <rect class="box" x="10" y="14" width="34" height="30" />
    <rect class="box" x="256" y="14" width="34" height="30" />
    <rect class="point" x="52" y="16" width="196" height="26" rx="13" stroke-dasharray="5 3" />
    <path class="point" d="M66 42V58M56 58H76M59 62H73M62 66H70" />
    <text class="what" x="84" y="64">earthed here</text>
    <text class="quiet" x="244" y="64" text-anchor="end">and not here</text>
    <text class="quiet" x="150" y="11" text-anchor="middle">shield, through from device to device</text>
  </svg>`,
  styleUrl: './drawing.scss',
})
class ShieldDrawing {}

export const shield: HelpTopic = {
  sentence:
    'The shield goes through from device to device and is joined to earth in one place; joined in two, it carries the current that flows between their earths.',
  drawing: ShieldDrawing,
};
