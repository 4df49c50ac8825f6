import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { hangOn } from '@plain-envoy/core/making';
import type { Device } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../data/editor';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { controlOf } from '../parts/controls';
import { named } from '../parts/named';
import { problemIn, refuseIn, settle, valueIn } from '../parts/schema-group';
import { SearchField } from '../parts/search-field';

/** One more port for a device, on a line that is chosen. */
@Component({
  selector: 'pe-hang-on',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, ReactiveFormsModule, SearchField],
  template: `<form [formGroup]="form" (ngSubmit)="hang()">
    <pe-search label="Hang it on a line" name="hang-on" none="none" formControlName="lineId" [options]="options()" />
    @if (isSerial()) {
      <mat-checkbox name="asks" formControlName="asks">it asks there, as a gateway or master does</mat-checkbox>
    }
    <button mat-stroked-button type="submit" [disabled]="!typed().lineId">Hang it on</button>
    @if (problem(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }
  </form>`,
  styles: `
    form {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 4px 8px;
      align-items: center;
      margin-top: 8px;
    }
    mat-checkbox,
    p {
      grid-column: 1 / -1;
    }
    mat-checkbox {
      order: 1;
    }
    p {
      order: 2;
    }
  `,
})
export class HangOnForm {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  readonly device = input.required<Device>();

  protected readonly form = new FormGroup({ lineId: controlOf(''), asks: controlOf(false) });
  protected readonly typed = valueIn(() => this.form);
  protected readonly problem = problemIn(() => this.form);
  private readonly lines = computed(() => this.project.document()!.lines);
  protected readonly options = computed(() => named(this.lines()));
  private readonly line = computed(() => this.lines().find(({ id }) => id === this.typed().lineId));
  protected readonly isSerial = computed(() => this.line()?.kind === 'serial');

  protected hang(): void {
    const { id, name } = this.device();
    const made = hangOn(this.project.document()!, { deviceId: id, ...this.form.getRawValue(), newId });
    if (!made.ok) return refuseIn(this.form, made.problem);
    const label = `Hang ${name} on ${this.line()!.name}`;
    this.store.commit(label, [made.value]).subscribe((answer) => {
      if (!settle(this.form, answer)) return;
      this.editor.say(`${label}. Undo with Ctrl+Z.`);
      this.form.reset();
    });
  }
}
