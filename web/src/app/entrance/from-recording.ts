import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { describeException, functionOf } from '@plain-envoy/core/frame';
import { Refused } from '../data/api';
import type { ToldRecording, ToldRequest } from '../data/overheard.worker';
import { Projects } from '../data/projects';
import { Recordings } from '../data/recordings';
import { textControl } from '../parts/controls';
import type { Column } from '../parts/table/column';
import { Table } from '../parts/table/table';
import { TextField } from '../parts/text-field';
import { textValidator } from '../parts/schema-group';

type Heard = Extract<ToldRecording, { kind: 'heard' }>;

/** A recording, and the project that it would be made into: who was asked what, how often, and how it was answered. */
@Component({
  selector: 'pe-from-recording',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatProgressBarModule, ReactiveFormsModule, Table, TextField],
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
        <p>
          <b
            >{{ told.exchanges }} exchanges{{ lasted() }}: {{ told.requests.length }} question{{ told.requests.length === 1 ? '' : 's' }} to
            {{ told.devices }} device{{ told.devices === 1 ? '' : 's' }}, {{ told.points }} points.</b
          >
          Types and orders are guessed from how values move; the note of each point says why. What was heard is no manual, so nothing of it
          is proved.
        </p>
        @for (remark of told.remarks; track remark) {
          <p class="remark">{{ remark }}</p>
        }
        <pe-text label="Name of the project" name="name" formControlName="name" />
        <pe-table class="heard" label="What was heard" scrolls [columns]="columns" [rows]="told.requests" [idOf]="idOf" />
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button mat-dialog-close type="button">Cancel</button>
      <button mat-flat-button type="submit" name="make" [disabled]="!heard() || !!busy()">Make the project</button>
    </mat-dialog-actions>
  </form>`,
  styles: `
    .heard {
      display: block;
      max-height: 46vh;
      overflow: auto;
      margin-top: 10px;
    }
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
  protected readonly lasted = computed(() => {
    const ms = this.heard()?.lastedMs ?? null;
    return ms === null ? '' : ` in ${ms < 120_000 ? `${Math.round(ms / 1000)} s` : `${Math.round(ms / 60_000)} min`}`;
  });
  protected readonly form = new FormGroup({
    name: textControl(
      this.file.name.replace(/\.[^.]*$/, '').slice(0, 80) || 'A recording',
      textValidator((text) => (text.trim() ? null : 'A name is needed.')),
    ),
  });
  protected readonly idOf = ({ endpointId, askedBy, unit, functionCode, span }: ToldRequest) =>
    [endpointId, askedBy, unit, functionCode, span.offset, span.count].join(' ');
  protected readonly columns: readonly Column<ToldRequest>[] = [
    { name: 'where', head: 'Asked', text: ({ endpointId }) => endpointId },
    { name: 'unit', head: 'Unit', text: ({ unit }) => String(unit) },
    { name: 'what', head: 'What', text: ({ functionCode }) => `${functionCode} ${functionOf(functionCode)?.name ?? ''}` },
    {
      name: 'span',
      head: 'Offsets',
      text: ({ span }) => (span.count === 1 ? String(span.offset) : `${span.offset}–${span.offset + span.count - 1}`),
    },
    { name: 'period', head: 'Period', text: ({ periodMs }) => (periodMs === null ? 'not known' : `${Math.round(periodMs)} ms`) },
    { name: 'seen', head: 'Seen', text: ({ seen }) => String(seen) },
    { name: 'answer', head: 'Answered', text: answerText },
  ];

  constructor() {
    inject(Recordings)
      .listen(this.file, this.form.getRawValue().name)
      .pipe(takeUntilDestroyed())
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
    this.projects
      .takeIn(new Blob([named(heard.file, this.form.getRawValue().name.trim())]))
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe({
        next: (event) => {
          if (event.kind === 'done') this.dialog.close(event.id);
        },
        error: (error: unknown) => {
          this.busy.set(null);
          this.problem.set(error instanceof Refused ? error.problem.message : String(error));
        },
      });
  }
}

function answerText({ seen, answered, silent, refused, responseMs }: ToldRequest): string {
  const parts = [
    answered === seen ? 'always' : answered ? `${answered} of ${seen}` : '',
    silent ? `${silent} got no answer` : '',
    ...[...refused].map(([code, times]) => `${times} refused: ${describeException(code)}`),
    responseMs ? `in ${responseMs.usual.toFixed(1)} ms` : '',
  ];
  return parts.filter(Boolean).join(', ');
}

/** The project of a file under another name. */
function named(file: string, name: string): string {
  const project = JSON.parse(file) as { document: { project: { name: string } } };
  project.document.project.name = name;
  return JSON.stringify(project);
}
