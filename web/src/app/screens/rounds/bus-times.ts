import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { arbitrate, type FrameTime, hexIdentifier } from '@plain-envoy/core/can';
import { periodOf, timeOfBus } from '@plain-envoy/core/can-line';
import { type CarriedFrame, framesOn } from '@plain-envoy/core/converter';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { percentText } from './round-words';

interface Row {
  frame: CarriedFrame;
  periodMs: number | null;
  time: FrameTime | null;
}

/** A line of CAN in time: how full its frames make it at worst, and how late each of them can be. */
@Component({
  selector: 'pe-bus-times',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Table],
  template: `
    <p class="remark sentence">{{ sentence() }}</p>
    <pe-table
      scrolls
      label="Frames on the bus"
      nothing="Nothing is sent here yet. Frames are described on Registers, at their device."
      [columns]="columns"
      [rows]="rows()"
      [idOf]="idOf"
    />
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      flex-direction: column;
      gap: 8px;
      min-height: 0;
      padding: 8px 16px 12px;
    }
  `,
})
export class BusTimes {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  readonly lineId = input.required<string>();

  private readonly time = computed(() => timeOfBus(this.project.document()!, this.lineId()));
  protected readonly rows = computed((): Row[] => {
    const times = new Map(this.time().frames.map((time) => [time.id, time]));
    return framesOn(this.project.document()!, this.lineId())
      .sort(arbitrate)
      .map((frame) => ({ frame, periodMs: periodOf(frame), time: times.get(frame.id) ?? null }));
  });
  protected readonly sentence = computed(() => {
    const line = this.project.document()!.lines.find(({ id }) => id === this.lineId());
    const rows = this.rows();
    const late = rows.filter(isLate).map(({ frame }) => frame.name);
    const uncounted = rows.filter(({ periodMs }) => periodMs === null).length;
    return [
      `The frames of ${line?.name ?? 'this line'} that come again and again fill ${percentText(this.time().load)} of it, each with as many stuffed bits as there can be.`,
      late.length
        ? `${late.join(' and ')} can take longer than ${late.length === 1 ? 'its period' : 'their periods'}.`
        : 'Each is there before its next.',
      ...(uncounted ? [`${uncounted} ${uncounted === 1 ? 'is' : 'are'} sent only on a change or once, and not counted.`] : []),
    ].join(' ');
  });

  protected readonly idOf = ({ frame }: Row): string => frame.id;
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'identifier', head: 'Identifier', kind: 'mono', text: ({ frame }) => hexIdentifier(frame) },
    { name: 'frame', head: 'Frame', text: ({ frame }) => frame.name },
    { name: 'way', head: 'Which way', text: ({ frame }) => `${frame.direction === 'sent' ? 'of' : 'to'} ${frame.deviceName}` },
    { name: 'period', head: 'Every, ms', kind: 'number', text: ({ periodMs }) => periodMs ?? 'on a change' },
    { name: 'bits', head: 'Bits at most', kind: 'number', text: ({ time }) => time?.worstBits ?? '' },
    { name: 'takes', head: 'On the bus, ms', kind: 'number', text: ({ time }) => time?.worstMs.toFixed(2) ?? '' },
    {
      ...{ name: 'worst', head: 'There after, ms', kind: 'number', hint: 'From when it is due until its last bit, at worst' },
      text: ({ time }) => (time ? (time.worstResponseMs?.toFixed(2) ?? 'never') : ''),
      classOf: (row) => (isLate(row) ? 'bad' : ''),
    },
  ];
}

function isLate({ time, periodMs }: Row): boolean {
  return time !== null && (time.worstResponseMs === null || time.worstResponseMs > (periodMs ?? Infinity));
}
