import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Attachment } from '@plain-envoy/core/feed';
import type { Device } from '@plain-envoy/core/model';
import { concatMap, from } from 'rxjs';
import { AttachmentStore } from '../data/attachments';
import { Editor } from '../data/editor';
import { atEdge } from '../data/state';
import { sizeText } from '../parts/format';

/** The files of a device: its manual, pictures of it. They are kept with the project. */
@Component({
  selector: 'pe-attachments',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `<h3>Attached</h3>
    @for (each of rows(); track each.id) {
      <div class="row">
        <a [href]="store.addressOf(each)" target="_blank" rel="noopener">{{ each.name }}</a>
        <span class="quiet">{{ sizeText(each.size) }}{{ each.by ? ', by ' + each.by : '' }}</span>
        <button mat-button type="button" [attr.aria-label]="'Take ' + each.name + ' off'" (click)="remove(each)">Take off</button>
      </div>
    }
    <button
      mat-stroked-button
      type="button"
      name="attach"
      (click)="file.click()"
      (drop)="drop($event)"
      (dragover)="$event.preventDefault()"
    >
      Attach a manual or a picture
    </button>
    <input
      #file
      class="file"
      type="file"
      name="attachment"
      multiple
      aria-label="Attach files"
      (change)="add(file.files); file.value = ''"
    />
    @if (adding(); as name) {
      <span class="quiet" aria-live="polite">{{ name }} is sent …</span>
    }
    @if (problem(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }`,
  styles: `
    h3 {
      font-size: 13px;
      margin: 16px 0 4px;
    }
    .row {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    .row a {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .row .quiet {
      flex: 1;
      white-space: nowrap;
    }
    .file {
      display: none;
    }
  `,
})
export class Attachments {
  protected readonly store = inject(AttachmentStore);
  private readonly state = atEdge(this.store, 'ofDevice');
  private readonly editor = inject(Editor);
  readonly device = input.required<Device>();

  protected readonly sizeText = sizeText;
  protected readonly rows = computed(() => this.state.ofDevice().get(this.device().id) ?? []);
  protected readonly adding = signal<string | null>(null);
  protected readonly problem = signal<string | null>(null);

  constructor() {
    this.store.load().subscribe((answer) => this.problem.set(answer.ok ? null : answer.problem.message));
  }

  protected add(files: FileList | null): void {
    const deviceId = this.device().id;
    this.problem.set(null);
    from([...(files ?? [])])
      .pipe(
        concatMap((file) => {
          this.adding.set(file.name);
          return this.store.add(deviceId, file);
        }),
      )
      .subscribe({
        next: (answer) => {
          if (!answer.ok) this.problem.set(answer.problem.message);
        },
        complete: () => this.adding.set(null),
      });
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    this.add(event.dataTransfer?.files ?? null);
  }

  protected remove(attachment: Attachment): void {
    this.store.remove(attachment).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.editor.say(`${attachment.name} is taken off ${this.device().name}.`);
    });
  }
}
