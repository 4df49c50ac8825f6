import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';

/** Asks whether what was typed and not saved may go. */
@Component({
  selector: 'pe-leave-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `<h2 mat-dialog-title>Not saved yet</h2>
    <mat-dialog-content>What was typed for {{ what }} is not saved.</mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" name="let-go" [mat-dialog-close]="true">Let it go</button>
      <button mat-flat-button type="button" name="stay" [mat-dialog-close]="false">Stay here</button>
    </mat-dialog-actions>`,
})
export class LeaveDialog {
  protected readonly what = inject<string>(MAT_DIALOG_DATA);
}
