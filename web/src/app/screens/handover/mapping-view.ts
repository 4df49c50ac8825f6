import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { type MappingRow, mappingSheet } from '@plain-envoy/core/mapping';
import type { Device } from '@plain-envoy/core/model';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

/** What the set-up of a converter is told: every value with its place on both sides, and a sentence for each side and telegram. */
@Component({
  selector: 'pe-mapping-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, Table],
  template: `<div class="sheet">
      <pe-table
        [label]="'Values that ' + converter().name + ' carries'"
        nothing="No value of a device behind it is known yet. Add its telegrams on Registers."
        [columns]="columns"
        [rows]="mapping().rows"
        [idOf]="idOf"
      />
    </div>
    <section class="why">
      <h2>What else its set-up asks for</h2>
      <ul>
        @for (text of mapping().settings; track $index) {
          <li>{{ text }}</li>
        }
      </ul>
      <p><a routerLink="/registers" [queryParams]="{ device: converter().id }">Its image, byte by byte</a></p>
    </section>`,
  styleUrls: ['./handover.scss', './stacked.scss'],
})
export class MappingView {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  /** The id of the converter. */
  readonly of = input.required<string>();
  protected readonly converter = computed((): Device => this.project.document()!.devices.find(({ id }) => id === this.of())!);
  protected readonly mapping = computed(() => mappingSheet(this.project.document()!, this.converter()));
  protected readonly idOf = ({ pointId }: MappingRow): string => pointId;
  protected readonly columns: readonly Column<MappingRow>[] = [
    { name: 'line', head: 'Line', text: ({ line }) => line },
    { name: 'device', head: 'Device', text: ({ device }) => device },
    { name: 'far', head: 'There it is', text: ({ far }) => far },
    { name: 'direction', head: 'Goes', text: ({ direction }) => direction },
    { name: 'bytes', head: 'Bytes', text: ({ bytes }) => bytes, kind: 'mono strong' },
    { name: 'farBytes', head: 'As its line counts', text: ({ farBytes }) => farBytes, kind: 'mono' },
    { name: 'table', head: 'Registers', text: ({ table }) => table },
    { name: 'register', head: 'First', text: ({ register }) => register, kind: 'mono strong' },
    { name: 'registers', head: 'Count', text: ({ registers }) => registers, kind: 'mono number' },
    { name: 'type', head: 'Type', text: ({ type }) => type, kind: 'mono' },
    { name: 'order', head: 'Order', text: ({ order }) => order, kind: 'mono' },
    { name: 'name', head: 'Value', text: ({ name }) => name },
  ];
}
