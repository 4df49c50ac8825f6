import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { Session } from '../data/session';

/** Asks for the passphrase and for one’s name. It lies over the page, so that what is typed there stays. */
@Component({
  selector: 'pe-sign-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ReactiveFormsModule, MatButtonModule, MatDialogModule, MatFormFieldModule, MatInputModule],
  template: `<form [formGroup]="form" (ngSubmit)="signIn()">
    <h2 mat-dialog-title>Sign in to Plain Envoy</h2>
    <mat-dialog-content>
      <p>What you change and do here is kept with your name.</p>
      <mat-form-field appearance="outline">
        <mat-label>Your name</mat-label>
        <input matInput formControlName="name" autocomplete="name" cdkFocusInitial />
        <mat-error>{{ form.controls.name.getError('refused') }}</mat-error>
      </mat-form-field>
      <mat-form-field appearance="outline">
        <mat-label>Passphrase</mat-label>
        <input matInput type="password" formControlName="passphrase" autocomplete="current-password" />
        <mat-error>{{ form.controls.passphrase.getError('refused') }}</mat-error>
      </mat-form-field>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-flat-button type="submit" [disabled]="busy()">Sign in</button>
    </mat-dialog-actions>
  </form>`,
  styles: `
    mat-form-field {
      display: block;
      margin-top: 12px;
    }
    p {
      margin: 0;
    }
  `,
})
export class SignIn {
  private readonly session = inject(Session);
  private readonly dialog = inject(MatDialogRef<SignIn>);
  protected readonly busy = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true }),
    passphrase: new FormControl('', { nonNullable: true }),
  });

  protected signIn(): void {
    const { name, passphrase } = this.form.getRawValue();
    this.busy.set(true);
    this.session.signIn(name, passphrase).subscribe((answer) => {
      this.busy.set(false);
      this.problem.set(null);
      if (answer.ok) return this.dialog.close();
      const { message, path } = answer.problem;
      const field = path[0] === 'name' || path[0] === 'passphrase' ? this.form.controls[path[0]] : null;
      if (!field) return this.problem.set(message);
      field.setErrors({ refused: message });
      field.markAsTouched();
    });
  }
}
