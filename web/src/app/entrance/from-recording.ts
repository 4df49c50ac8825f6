import { ChangeDetectionStrategy, Component, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { switchMap } from 'rxjs';
import { Projects } from '../data/projects';
import { Recordings } from '../data/recordings';
import { textControl } from '../parts/controls';
import { TextField } from '../parts/text-field';
import { textValidator } from '../parts/schema-group';
import { type Heard, HeardView } from './heard-view';
import { projectOf } from './project-of';

/** A recording, and the project that it would be made into: who was asked what, how often, and how it was answered. */
@Component({
  selector: 'pe-from-recording',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [HeardView, MatButtonModule, MatDialogModule, MatProgressBarModule, ReactiveFormsModule, TextField],
  template: `<form [formGroup]="form" (ngSubmit)="make()">
    <h2 mat-dialog-title>A project from {{ file.name }}</h2>
    <mat-dialog-content>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      @if (busy(); as text) {
        <p role="status">{{ text }}</p>
        <mat-progress-bar mode="indeterminate" aria-label="It goes on" />
      }
      @if (heard(); as told) {
        <pe-heard [heard]="told">
          <pe-text label="Name of the project" name="name" formControlName="name" />
        </pe-heard>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button mat-dialog-close type="button">Cancel</button>
      <button mat-flat-button type="submit" name="make" [disabled]="!heard() || !!busy()">Make the project</button>
    </mat-dialog-actions>
  </form>`,
  styles: `
    pe-text {
      display: block;
      max-width: 420px;
      margin-top: 10px;
    }
  `,
})
export class FromRecording {
  private readonly projects = inject(Projects);
  private readonly dialog = inject<MatDialogRef<FromRecording, string>>(MatDialogRef);
  private readonly gone = inject(DestroyRef);
  protected readonly file = inject<File>(MAT_DIALOG_DATA);
  protected readonly busy = signal<string | null>('What is in it is listened to …');
  protected readonly problem = signal<string | null>(null);
  protected readonly heard = signal<Heard | null>(null);
  protected readonly form = new FormGroup({
    name: textControl(
      this.file.name.replace(/\.[^.]*$/, '').slice(0, 80) || 'A recording',
      textValidator((text) => (text.trim() ? null : 'A name is needed.')),
    ),
  });
  constructor() {
    const recordings = inject(Recordings);
    recordings
      .maps()
      .pipe(
        switchMap((kept) => recordings.listen(this.file, this.form.getRawValue().name, kept)),
        takeUntilDestroyed(),
      )
      .subscribe((told) => {
        this.busy.set(null);
        if (told.kind === 'failed') this.problem.set(`${this.file.name}: ${told.sentence}`);
        else this.heard.set(told);
      });
  }

  protected make(): void {
    this.form.markAllAsTouched();
    const heard = this.heard();
    if (!heard || this.form.invalid) return;
    this.problem.set(null);
    this.busy.set('It is written …');
    projectOf(this.projects, heard, this.form.getRawValue().name)
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe((answer) => {
        this.busy.set(null);
        if (answer.ok) this.dialog.close(answer.value);
        else this.problem.set(answer.problem.message);
      });
  }
}
