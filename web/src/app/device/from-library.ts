import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { libraryBeside, settingFrom } from '@plain-envoy/core/library';
import { type Change, type Device, type DeviceTemplate, templateOf } from '@plain-envoy/core/model';
import { type Beside, fromPapers } from '@plain-envoy/core/papers';
import { distinctUntilChanged, map, of, switchMap } from 'rxjs';
import { v7 as newId } from 'uuid';
import { Editor } from '../data/editor';
import { Library } from '../data/library';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { ownText, theirsText } from '../parts/beside';
import { labelOf } from '../parts/schema-fields';
import { SearchField } from '../parts/search-field';
import { CellTemplate, type Column } from '../parts/table/column';
import { Table } from '../parts/table/table';

/** A setting or a point that the device has otherwise than the library. */
interface Row {
  id: string;
  name: string;
  here: string;
  there: string;
  /** What gives it to the device; null where the library has nothing of it. */
  change: (() => Change | null) | null;
}

/** Gives a device to the library, and lays it beside the newest version there: what differs is taken over row by row. */
@Component({
  selector: 'pe-from-library',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, SearchField, Table],
  template: `<h3>In the library</h3>
    @if (entry(); as known) {
      <p>
        {{ known.name }}, version {{ device().fromLibrary!.version }}
        @if (known.version > device().fromLibrary!.version) {
          <b class="newer">The library has version {{ known.version }}.</b>
        }
      </p>
      @if (rows().length) {
        <pe-table label="What differs from the library" [columns]="columns" [rows]="rows()" [idOf]="idOf">
          <ng-template peCell="take" let-row>
            @if (row.change) {
              <button mat-button type="button" (click)="take([row])">Take</button>
            }
          </ng-template>
        </pe-table>
      } @else if (template()) {
        <p class="quiet">It is like its newest version.</p>
      }
    } @else if (device().fromLibrary) {
      <p class="quiet">It is from a library that is not here, or was taken out of it.</p>
    } @else {
      <p class="quiet">It is not kept there.</p>
    }
    @if (problem(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }
    <div class="give">
      <pe-search
        label="Give it as"
        name="give-as"
        none="a device of its own"
        [options]="options()"
        [value]="chosenAs()"
        (valueChange)="asWhich.set($event)"
      />
      <button mat-stroked-button type="button" name="give" (click)="give()">Give to the library</button>
      @if (takable().length > 1) {
        <button mat-stroked-button type="button" name="take-all" (click)="take(takable())">Take all {{ takable().length }}</button>
      }
    </div>`,
  styles: `
    h3 {
      font-size: 13px;
      margin: 16px 0 4px;
    }
    p {
      margin: 4px 0;
    }
    .newer {
      color: var(--pe-carried);
    }
    .give {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      margin-top: 8px;
    }
  `,
})
export class FromLibrary {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  private readonly libraryStore = inject(Library);
  private readonly library = atEdge(this.libraryStore, 'all');
  readonly device = input.required<Device>();
  protected readonly problem = signal<string | null>(null);
  /** The device of the library as whose next version it is given; '' for a new one; null before anything is chosen. */
  protected readonly asWhich = signal<string | null>(null);
  protected readonly options = computed(() =>
    (this.library.all() ?? []).map(({ id, name, version }) => ({ value: id, text: `version ${version + 1} of ${name}` })),
  );
  protected readonly chosenAs = computed(() => {
    const { fromLibrary, name } = this.device();
    const all = this.library.all() ?? [];
    return this.asWhich() ?? all.find(({ id }) => id === fromLibrary?.id)?.id ?? all.find((row) => row.name === name)?.id ?? '';
  });
  /** The device of the library that it is of, at its newest version. */
  protected readonly entry = computed(() => this.library.all()?.find(({ id }) => id === this.device().fromLibrary?.id) ?? null);
  protected readonly template = toSignal(
    toObservable(this.entry).pipe(
      distinctUntilChanged((a, b) => a?.id === b?.id && a?.version === b?.version),
      switchMap((entry) =>
        entry ? this.libraryStore.get(entry).pipe(map((answer): DeviceTemplate | null => (answer.ok ? answer.value : null))) : of(null),
      ),
    ),
    { initialValue: null },
  );
  protected readonly idOf = ({ id }: Row) => id;
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'name', head: 'What', text: ({ name }) => name },
    { name: 'there', head: 'The library has', text: ({ there }) => there },
    { name: 'here', head: 'It has here', text: ({ here }) => here },
    { name: 'take', head: '' },
  ];
  protected readonly rows = computed((): Row[] => {
    const [device, template, document] = [this.device(), this.template(), this.project.document()];
    if (!template || !document || !this.entry()) return [];
    const { settings, map: points } = libraryBeside(document, device, template);
    return [
      ...settings.map((setting): Row => ({
        id: setting.field,
        name: labelOf(setting.field),
        here: JSON.stringify(setting.here),
        there: JSON.stringify(setting.there),
        change: () => null,
      })),
      ...points.map((row): Row => this.pointRow(row, device)),
    ];
  });
  protected readonly takable = computed(() => this.rows().filter(({ change }) => change !== null));

  private pointRow(row: Beside, { id: deviceId, projectId, notation, areas }: Device): Row {
    const context = { notation, areas };
    const { point, paper } = row;
    return {
      id: point?.id ?? `theirs ${paper!.name}`,
      name: (point ?? paper)!.name,
      here: ownText(row, context),
      there: theirsText(row, context),
      change: paper ? () => fromPapers(row, { deviceId, projectId, newId }) : null,
    };
  }

  private newest(): Device['fromLibrary'] {
    const entry = this.entry();
    return entry && { id: entry.id, version: entry.version };
  }

  /** Takes these over as one edit; from then on the device is of the newest version. */
  protected take(rows: readonly Row[]): void {
    const device = this.device();
    const fields = new Set<string>(rows.map(({ id }) => id));
    const settings = libraryBeside(this.project.document()!, device, this.template()!).settings.filter(({ field }) => fields.has(field));
    const points = rows.flatMap(({ change }) => change?.() ?? []);
    this.commit(`${rows.length === 1 ? rows[0]!.name : `${rows.length} things`} of ${device.name} as in the library`, [
      settingFrom(device, settings, this.newest()),
      ...points,
    ]);
  }

  protected give(): void {
    const device = this.device();
    const template = templateOf(this.project.document()!, device.id);
    this.libraryStore.give(template, this.chosenAs() || null).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok) return;
      this.asWhich.set(null);
      this.commit(`${device.name} is version ${answer.value.version} of the library`, [settingFrom(this.device(), [], answer.value)]);
    });
  }

  private commit(label: string, changes: Change[]): void {
    this.store.commit(label, changes).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }
}
