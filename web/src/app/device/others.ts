import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Device } from '@plain-envoy/core/model';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { ticked } from '../parts/ticked';

/** Which other devices are set as one is: what is changed on it, or all of its settings. */
@Component({
  selector: 'pe-others',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule],
  template: `<button mat-button type="button" name="others" [attr.aria-expanded]="isOpen()" (click)="turn()">
      {{ isOpen() ? 'For this device alone' : 'The same for other devices …' }}
    </button>
    @if (isOpen()) {
      <div class="box" role="group" aria-label="Other devices that are set the same">
        <mat-checkbox name="all-settings" [checked]="all()" (change)="all.set($event.checked)">
          all its settings, not only what is changed now
        </mat-checkbox>
        <button mat-stroked-button type="button" name="alike" (click)="chooseAlike()">All {{ alike().length }} of its kind</button>
        <div class="list">
          @for (other of rows(); track other.id) {
            <mat-checkbox [name]="'other-' + other.name" [checked]="chosen().has(other.id)" (change)="tick(other.id, $event.checked)">{{
              other.name
            }}</mat-checkbox>
          }
        </div>
      </div>
    }`,
  styles: `
    .box {
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 4px;
      padding: 4px 8px;
    }
    .list {
      max-height: 180px;
      overflow: auto;
      display: flex;
      flex-direction: column;
    }
  `,
})
export class Others {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  readonly device = input.required<Device>();
  /** By id. */
  readonly chosen = model<ReadonlySet<string>>(new Set());
  readonly all = model(false);

  protected readonly isOpen = signal(false);
  /** Those of its kind first: as it is played, and by what it is. */
  protected readonly rows = computed(() => {
    const own = this.device();
    const others = this.project.document()!.devices.filter(({ id }) => id !== own.id);
    return [...others].sort((a, b) => likeness(own, b) - likeness(own, a));
  });
  protected readonly alike = computed(() => {
    const most = Math.max(0, ...this.rows().map((row) => likeness(this.device(), row)));
    return this.rows().filter((row) => likeness(this.device(), row) === most);
  });

  protected turn(): void {
    this.isOpen.update((isOpen) => !isOpen);
    if (!this.isOpen()) this.chosen.set(new Set());
  }

  protected chooseAlike(): void {
    this.chosen.set(new Set(this.alike().map(({ id }) => id)));
  }

  protected tick(id: string, isOn: boolean): void {
    this.chosen.set(ticked(this.chosen(), id, isOn));
  }
}

function likeness(one: Device, other: Device): number {
  const isFromTheSame = one.fromLibrary !== null && one.fromLibrary.id === other.fromLibrary?.id;
  const isPlayedAlike = one.program.trim() !== '' && one.program === other.program;
  return (isFromTheSame ? 4 : 0) + (isPlayedAlike ? 2 : 0) + (one.kind === other.kind ? 1 : 0);
}
