import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { Project } from '@plain-envoy/core/model';
import type { Observable } from 'rxjs';
import type { Answer } from '../data/api';
import { textControl } from './controls';
import { forgetRefusals, problemIn, readGroup, schemaValidator, settle } from './schema-group';
import { TextField } from './text-field';

export type About = Pick<Project, 'name' | 'client' | 'note'>;

/** What the dialog is opened with: how the project is called now, and what keeps it. */
export interface AboutProjectData {
  about: About;
  save: (about: About) => Observable<Answer<unknown>>;
}

const check = { schema: Project.pick({ name: true, client: true, note: true }) };

/** The name of a project, for whom it is, and a note. */
@Component({
  selector: 'pe-about-project',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, ReactiveFormsModule, TextField],
  template: `<form [formGroup]="form" (ngSubmit)="save()">
    <h2 mat-dialog-title>About this project</h2>
    <mat-dialog-content>
      <div class="fields">
        <pe-text label="Name" name="name" formControlName="name" />
        <pe-text label="Client" name="client" formControlName="client" />
        <pe-text label="Note" name="note" formControlName="note" [lines]="4" />
      </div>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button mat-dialog-close type="button">Cancel</button>
      <button mat-flat-button type="submit" [disabled]="busy()">Save</button>
    </mat-dialog-actions>
  </form>`,
  styles: `
    .fields {
      display: grid;
      gap: 12px;
      padding-top: 6px;
    }
  `,
})
export class AboutProject {
  private readonly data = inject<AboutProjectData>(MAT_DIALOG_DATA);
  private readonly dialog = inject(MatDialogRef<AboutProject>);
  protected readonly busy = signal(false);
  protected readonly form = new FormGroup(
    { name: textControl(this.data.about.name), client: textControl(this.data.about.client), note: textControl(this.data.about.note) },
    schemaValidator(check),
  );
  protected readonly problem = problemIn(() => this.form);

  protected save(): void {
    forgetRefusals(this.form);
    const about = readGroup(this.form, check);
    if (!about) return;
    this.busy.set(true);
    this.data.save(about).subscribe((answer) => {
      this.busy.set(false);
      if (settle(this.form, answer)) this.dialog.close(true);
    });
  }
}
