import { ChangeDetectionStrategy, Component } from '@angular/core';
import { DeviceCountersTable } from './device-counters-table';
import { InquiryForm } from './inquiry-form';

/** What devices say of themselves: what they have counted on their line beside what we have, and any other question of the standard. */
@Component({
  selector: 'pe-ask-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DeviceCountersTable, InquiryForm],
  template: `<pe-device-counters-table /> <pe-inquiry-form />`,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
      gap: 12px;
      flex: none;
      height: 100%;
      overflow: auto;
      padding: 8px 16px 12px;
      box-sizing: border-box;
    }
  `,
})
export class AskPanel {}
