import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ListenEvent } from '@plain-envoy/core/feed';
import type { KeptMap } from '@plain-envoy/core/overheard';
import { exhaustMap, filter, interval, type Subscription } from 'rxjs';
import { Api, Refused } from '../data/api';
import { Projects } from '../data/projects';
import { Recordings } from '../data/recordings';
import { asOptions, Choose } from '../parts/choose';
import { controlOf, textControl } from '../parts/controls';
import { downloadBlob } from '../parts/download';
import { typedNumber } from '../parts/form';
import { problemIn, refuseIn } from '../parts/schema-group';
import { TextField } from '../parts/text-field';
import { type Heard, HeardView } from './heard-view';
import { projectOf } from './project-of';

const EACH_MS = 2000;
/** So much is kept of what is heard. */
const MOST_BYTES = 10_000_000;

/** A serial line on which Plain Envoy only listens: what is heard grows into a proposal of a project while it goes on. */
@Component({
  selector: 'pe-listen-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, HeardView, MatButtonModule, MatDialogModule, ReactiveFormsModule, TextField],
  template: `<h2 mat-dialog-title>A project from what is heard on a serial line</h2>
    <mat-dialog-content>
      <p>Nothing is sent. On a line of two wires one adapter hears both directions; on one of four wires it takes one for each.</p>
      <form class="fields" [formGroup]="form" (ngSubmit)="begin()">
        <pe-text label="Serial port" name="path" placeholder="/dev/ttyUSB0" formControlName="path" [note]="portsText()" />
        <pe-text label="Second port, for the other direction of four wires" name="second" placeholder="none" formControlName="second" />
        <pe-text label="Baud" name="baud" numeric formControlName="baud" />
        <pe-choose label="Data bits" name="dataBits" formControlName="dataBits" [options]="dataBits" />
        <pe-choose label="Parity" name="parity" formControlName="parity" [options]="parities" />
        <pe-choose label="Stop bits" name="stopBits" formControlName="stopBits" [options]="stopBits" />
        @if (problem(); as text) {
          <p class="problem wide" role="alert">{{ text }}</p>
        }
        <div class="actions wide">
          @if (listening()) {
            <button mat-stroked-button type="button" name="stop" (click)="stop()">Stop listening</button>
          } @else {
            <button mat-flat-button type="submit" name="listen">{{ bytes() ? 'Listen on' : 'Listen' }}</button>
          }
          @if (bytes()) {
            <button mat-button type="button" name="save" (click)="save()">Keep the recording as a file</button>
            <button mat-button type="button" name="anew" (click)="anew()">Forget what was heard</button>
          }
          <span class="quiet" aria-live="polite">{{ told() }}</span>
        </div>
      </form>
      @if (heard(); as heard) {
        <pe-heard [heard]="heard">
          <pe-text label="Name of the project" name="name" [(value)]="name" />
        </pe-heard>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button mat-dialog-close type="button">Cancel</button>
      <button mat-flat-button type="button" name="make" [disabled]="!heard() || !name().trim() || isMaking()" (click)="make()">
        Make the project
      </button>
    </mat-dialog-actions>`,
  styles: `
    pe-heard pe-text {
      display: block;
      max-width: 420px;
      margin-top: 10px;
    }
    .fields {
      margin: 10px 0;
    }
    .wide {
      grid-column: 1 / -1;
    }
    .actions {
      align-items: center;
      flex-wrap: wrap;
    }
  `,
})
export class ListenIn {
  private readonly api = inject(Api);
  private readonly projects = inject(Projects);
  private readonly recordings = inject(Recordings);
  private readonly dialog = inject<MatDialogRef<ListenIn, string>>(MatDialogRef);
  private readonly gone = inject(DestroyRef);

  protected readonly dataBits = asOptions([8, 7] as const);
  protected readonly parities = asOptions(['none', 'even', 'odd'] as const);
  protected readonly stopBits = asOptions([1, 2] as const);
  protected readonly form = new FormGroup({
    path: textControl(''),
    second: textControl(''),
    baud: textControl(19_200),
    dataBits: controlOf<8 | 7>(8),
    parity: controlOf<'none' | 'even' | 'odd'>('even'),
    stopBits: controlOf<1 | 2>(1),
  });
  protected readonly name = signal('What was heard');
  protected readonly problem = problemIn(() => this.form);
  private readonly ports = signal<readonly { path: string; about: string }[]>([]);
  protected readonly portsText = computed(() =>
    this.ports().length
      ? `This machine has ${this.ports()
          .map(({ path, about }) => (about ? `${path} (${about})` : path))
          .join(', ')}.`
      : 'This machine shows no serial port; a path can be typed all the same.',
  );
  /** What was heard so far, as lines of a recording that can be opened again, and how many bytes that is. */
  private lines: string[] = [];
  protected readonly bytes = signal(0);
  /** Devices that are kept, by which those that are heard are named. */
  private readonly kept = signal<readonly KeptMap[]>([]);
  protected readonly listening = signal<Subscription | null>(null);
  protected readonly heard = signal<Heard | null>(null);
  private readonly nothing = signal<string | null>(null);
  protected readonly isMaking = signal(false);
  protected readonly told = computed(() => {
    if (!this.listening() && this.bytes() === 0) return '';
    if (this.bytes() === 0) return 'Nothing is heard yet: check the wires, and whether anybody asks.';
    return this.nothing() ?? `${this.bytes()} bytes heard`;
  });

  constructor() {
    this.api
      .get<{ path: string; about: string }[]>('machine/serial-ports')
      .pipe(takeUntilDestroyed())
      .subscribe((answer) => answer.ok && this.ports.set(answer.value));
    this.recordings
      .maps()
      .pipe(takeUntilDestroyed())
      .subscribe((kept) => this.kept.set(kept));
    let known = 0;
    interval(EACH_MS)
      .pipe(
        filter(() => this.bytes() !== known && this.bytes() > 0),
        exhaustMap(() => {
          known = this.bytes();
          return this.recordings.listen(this.recording(), this.name(), this.kept());
        }),
        takeUntilDestroyed(),
      )
      .subscribe((told) => {
        this.nothing.set(told.kind === 'failed' ? `${told.sentence} Are baud and parity those of the line?` : null);
        if (told.kind === 'heard') this.heard.set(told);
      });
    this.gone.onDestroy(() => this.stop());
  }

  protected begin(): void {
    const { path, second, baud, ...settings } = this.form.getRawValue();
    const paths = [path, second].map((each) => each.trim()).filter((each, index) => each || index === 0);
    const body = { paths, settings: { ...settings, baud: typedNumber(baud) } };
    // Times go on where they were when it is listened again.
    const from = this.lines.length ? this.lastMs() + EACH_MS : 0;
    this.form.markAllAsTouched();
    this.form.updateValueAndValidity();
    this.listening.set(
      this.api.stream<ListenEvent>('machine/listen', body).subscribe({
        next: (event) => {
          if (event.kind === 'heard') this.take(event, from);
          if (event.kind === 'failed') refuseIn(this.form, { message: event.sentence, path: [] });
        },
        error: (error: unknown) => {
          this.listening.set(null);
          const problem = error instanceof Refused ? error.problem : { message: String(error), path: [] };
          refuseIn(this.form, { ...problem, path: fieldOf(problem.path) });
        },
        complete: () => this.listening.set(null),
      }),
    );
  }

  protected stop(): void {
    this.listening()?.unsubscribe();
    this.listening.set(null);
  }

  protected anew(): void {
    this.lines = [];
    this.bytes.set(0);
    this.heard.set(null);
    this.nothing.set(null);
  }

  protected save(): void {
    downloadBlob(this.recording(), 'heard.txt');
  }

  protected make(): void {
    const heard = this.heard();
    if (!heard) return;
    this.stop();
    this.isMaking.set(true);
    projectOf(this.projects, heard, this.name())
      .pipe(takeUntilDestroyed(this.gone))
      .subscribe((answer) => {
        this.isMaking.set(false);
        if (answer.ok) this.dialog.close(answer.value);
        else refuseIn(this.form, { message: answer.problem.message, path: [] });
      });
  }

  private take({ atMs, hex }: Extract<ListenEvent, { kind: 'heard' }>, from: number): void {
    if (this.bytes() > MOST_BYTES) {
      this.stop();
      return refuseIn(this.form, { message: 'So much is enough; it was stopped.', path: [] });
    }
    const bytes = hex.match(/../g)!.join(' ');
    this.lines.push(`${((from + atMs) / 1000).toFixed(6)} ${bytes}`);
    this.bytes.update((count) => count + hex.length / 2);
  }

  private recording(): Blob {
    return new Blob([`${this.lines.join('\n')}\n`], { type: 'text/plain' });
  }

  private lastMs(): number {
    return Number(this.lines.at(-1)?.split(' ')[0] ?? 0) * 1000;
  }
}

/** Where in the form stands what the server names. */
function fieldOf([at, index]: readonly (string | number)[]): string[] {
  if (at === 'paths') return [index === 1 ? 'second' : 'path'];
  return at === 'settings' ? [String(index)] : [];
}
