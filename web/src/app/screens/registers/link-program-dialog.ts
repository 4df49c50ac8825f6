import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import type { CarriedLink } from '@plain-envoy/core/converter';
import { linkProgram } from '@plain-envoy/core/link-program';
import { downloadBlob } from '../../parts/download';

/** The types and blocks that a controller needs for the raw bytes of its cyclic link, to be copied into its package. */
@Component({
  selector: 'pe-link-program-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `<h2 mat-dialog-title>Structured Text for {{ link.line.name }}</h2>
    <mat-dialog-content>
      <p>Raw bytes as named values, and back, for the controller that opens the link. Values are raw: scale them where they are used.</p>
      <pre tabindex="0" aria-label="Structured Text">{{ text }}</pre>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <span role="status">{{ said() }}</span>
      <button mat-button type="button" name="copy-program" (click)="copy()">Copy</button>
      <button mat-button type="button" name="save-program" (click)="save()">Save as a file</button>
      <button mat-flat-button type="button" mat-dialog-close>Close</button>
    </mat-dialog-actions>`,
  styles: `
    pre {
      font: 12px/1.5 var(--pe-mono, monospace);
      margin: 0;
    }
    [role='status'] {
      margin-right: auto;
      padding-left: 12px;
    }
  `,
})
export class LinkProgramDialog {
  protected readonly link = inject<CarriedLink>(MAT_DIALOG_DATA);
  protected readonly text = linkProgram(this.link);
  protected readonly said = signal('');

  protected async copy(): Promise<void> {
    await navigator.clipboard.writeText(this.text);
    this.said.set('Copied.');
  }

  protected save(): void {
    downloadBlob(new Blob([this.text], { type: 'text/plain' }), `${this.link.line.name.replace(/\W+/g, '-').toLowerCase()}.st`);
  }
}
