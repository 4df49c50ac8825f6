import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Editor } from '../../data/editor';
import { Parcels } from '../../data/parcels';
import { atEdge } from '../../data/state';
import { downloadBlob } from '../../parts/download';
import { percentOf } from '../../parts/format';

/** Has the parcel made, and says how far it is and why it was not. */
@Component({
  selector: 'pe-parcel-button',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `@if (parcel.problem(); as text) {
      <span class="problem" role="alert">{{ text }}</span>
    }
    @if (parcel.isRunning()) {
      <span class="quiet" role="status">The parcel is packed: {{ percent() }} %</span>
      <button mat-stroked-button type="button" name="stop-parcel" (click)="stop()">Stop</button>
    } @else {
      <button
        mat-stroked-button
        type="button"
        name="parcel"
        title="Everything of the project that is handed over, in one ZIP with SHA-256 sums"
        (click)="make()"
      >
        Parcel
      </button>
    }`,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 8px;
      white-space: nowrap;
    }
  `,
})
export class ParcelButton {
  private readonly parcels = inject(Parcels);
  protected readonly parcel = atEdge(this.parcels, 'progress', 'problem', 'isRunning');
  protected readonly percent = computed(() => Math.floor(percentOf(this.parcel.progress())));

  constructor() {
    const editor = inject(Editor);
    this.parcels.made$.pipe(takeUntilDestroyed()).subscribe(({ name, blob }) => {
      downloadBlob(blob, name);
      editor.say(`${name} is made.`);
    });
  }

  protected make(): void {
    this.parcels.make();
  }

  protected stop(): void {
    this.parcels.stop();
  }
}
