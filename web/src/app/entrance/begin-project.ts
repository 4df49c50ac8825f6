import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatRadioModule } from '@angular/material/radio';
import type { Begun } from '@plain-envoy/core/beginnings';
import type { Project } from '@plain-envoy/core/model';
import { Projects } from '../data/projects';
import { controlOf, textControl } from '../parts/controls';
import { typedNumber } from '../parts/form';
import { forgetRefusals, problemIn, refuseIn, settle, textValidator, valueIn } from '../parts/schema-group';
import { TextField } from '../parts/text-field';

/** Asks for little and begins a project, with which it is closed. */
@Component({
  selector: 'pe-begin-project',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatRadioModule, ReactiveFormsModule, TextField],
  template: `<form [formGroup]="form" (ngSubmit)="begin()">
    <h2 mat-dialog-title>Begin a project</h2>
    <mat-dialog-content>
      <div class="names">
        <pe-text label="Name" name="name" formControlName="name" />
        <pe-text label="Client" name="client" formControlName="client" />
      </div>
      <mat-radio-group formControlName="like" aria-label="What it begins with">
        @for (one of ways(); track one.id) {
          <mat-radio-button [value]="one.id">
            <b>{{ one.name }}</b>
            <span class="quiet">{{ one.says }}</span>
          </mat-radio-button>
        }
      </mat-radio-group>
      @if (counted(); as devices) {
        <pe-text
          label="Field devices"
          name="devices"
          numeric
          formControlName="devices"
          [note]="'From 1 to ' + devices.most + '; more can be added later'"
        />
      }
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button mat-dialog-close type="button">Cancel</button>
      <button mat-flat-button type="submit" [disabled]="busy()">Begin</button>
    </mat-dialog-actions>
  </form>`,
  styles: `
    .names {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 12px;
      padding-top: 6px;
    }
    mat-radio-group {
      display: block;
      margin: 12px 0 4px;
    }
    mat-radio-button {
      display: block;
    }
    mat-radio-button .quiet {
      display: block;
      font-size: 13px;
    }
    pe-text[name='devices'] {
      display: block;
      width: 260px;
      margin-top: 8px;
    }
  `,
})
export class BeginProject {
  private readonly projects = inject(Projects);
  private readonly dialog = inject<MatDialogRef<BeginProject, Project>>(MatDialogRef);
  protected readonly busy = signal(false);
  protected readonly ways = signal<readonly Begun[]>([]);
  protected readonly form = new FormGroup({
    name: textControl(
      '',
      textValidator((text) => (text.trim() ? null : 'A name is needed.')),
    ),
    client: textControl(''),
    like: controlOf('rtu'),
    devices: textControl(''),
  });
  protected readonly problem = problemIn(() => this.form);
  private readonly typed = valueIn(() => this.form);
  /** How many field devices it can begin with; null where that is not asked. */
  protected readonly counted = computed(() => this.ways().find(({ id }) => id === this.typed().like)?.devices ?? null);

  constructor() {
    this.projects.beginnings().subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form, answer.problem);
      this.ways.set(answer.value);
      const usual = answer.value.find(({ id }) => id === 'rtu')?.devices?.usual;
      if (usual) this.form.controls.devices.reset(String(usual));
    });
  }

  protected begin(): void {
    forgetRefusals(this.form);
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    const { name, client, like, devices } = this.form.getRawValue();
    const count = this.counted() ? { devices: typedNumber(devices) } : {};
    this.busy.set(true);
    this.projects.begin({ name: name.trim(), client: client.trim(), like, ...count }).subscribe((answer) => {
      this.busy.set(false);
      if (settle(this.form, answer) && answer.ok) this.dialog.close(answer.value);
    });
  }
}
