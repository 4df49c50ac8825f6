import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { formatAddress, isBitTable, readDeviceAddress, type Table, tableNames, tables } from '@plain-envoy/core/address';
import { align, SHIFTS, type ShiftedBlock, suitsAt } from '@plain-envoy/core/map';
import { type Point, rawText, valueText } from '@plain-envoy/core/model';
import { Editor } from '../../data/editor';

import { focusViewOnOpen } from '../../parts/focus';
import { MapState } from './map-state';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table as RowTable } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';

const MARGIN = 2;
const SHOWN = 400;

/** A point beside what was read at its place, and what lies where it suits. */
interface Row {
  point: Point;
  shift: number;
  address: string;
  at: string;
  raw: string;
  value: string;
  here: string;
  score: number;
  why: string;
}

/**
 * The manual's registers beside those that were read, each point tied to where its value lies. The likeliest shift is
 * proposed for all and for blocks, with the reason; one action moves the points there.
 */
@Component({
  selector: 'pe-align-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, RowTable, TextField],
  templateUrl: './align-view.html',
  styleUrls: ['./wide-view.scss', './align-view.scss'],
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class AlignView {
  protected readonly state = inject(MapState);
  private readonly editor = inject(Editor);
  readonly closed = output();

  protected readonly signed = signed;
  protected readonly shifts = [...SHIFTS].sort((a, b) => a - b);
  protected readonly sources: Option<'live' | 'pasted'>[] = [
    { value: 'live', text: 'what is read now' },
    { value: 'pasted', text: 'pasted numbers' },
  ];
  protected readonly indexes: Option<0 | 1>[] = [
    { value: 0, text: 'index 0' },
    { value: 1, text: 'index 1' },
  ];
  protected readonly tableOptions = computed(() => asOptions(this.tables(), (table) => tableNames[table].many));
  protected readonly tables = computed(() =>
    tables.filter((table) => !isBitTable(table) && this.state.points().some((point) => point.table === table)),
  );
  protected readonly table = linkedSignal<Table>(() => {
    const own = this.state.focusedPoint()?.table;
    return own && this.tables().includes(own) ? own : (this.tables()[0] ?? 'holding');
  });
  protected readonly from = signal<'live' | 'pasted'>('live');
  protected readonly pasted = signal('');
  protected readonly pastedAt = linkedSignal(() => this.written(this.points()[0]?.offset ?? 0));
  protected readonly index = signal<0 | 1>(0);
  protected readonly reading = signal(false);
  protected readonly problem = signal<string | null>(null);
  /** A shift that a person wants to look at; null for what is proposed block by block. */
  protected readonly looked = linkedSignal<unknown, number | null>({
    source: () => [this.table(), this.state.deviceId()],
    computation: () => null,
  });

  protected readonly points = computed(() => this.state.points().filter((point) => point.table === this.table()));
  /** The pasted words by offset, or what cannot be read in them. */
  private readonly pastedWords = computed(() => this.readPasted());
  protected readonly pastedProblem = computed(() => (typeof this.pastedWords() === 'string' ? (this.pastedWords() as string) : null));
  private readonly words = computed<ReadonlyMap<number, number>>(() => {
    if (this.from() === 'live') return this.state.read(this.table())?.words ?? new Map<number, number>();
    const read = this.pastedWords();
    return typeof read === 'string' ? new Map<number, number>() : read;
  });
  protected readonly alignment = computed(() => (this.words().size ? align(this.points(), (offset) => this.words().get(offset)) : null));
  protected readonly proposals = computed(() => this.alignment()?.blocks.filter(({ shift }) => shift !== 0) ?? []);
  private readonly shiftOf = computed(() => {
    const looked = this.looked();
    const shifts = new Map<string, number>();
    for (const { points, shift } of this.alignment()?.blocks ?? []) for (const { id } of points) shifts.set(id, looked ?? shift);
    return shifts;
  });
  protected readonly rows = computed((): Row[] =>
    this.points()
      .slice(0, SHOWN)
      .map((point) => {
        const shift = this.shiftOf().get(point.id) ?? 0;
        const suits = suitsAt(point, shift, (offset) => this.words().get(offset));
        const here = suitsAt(point, 0, (offset) => this.words().get(offset));
        return {
          point,
          shift,
          address: this.written(point.offset),
          at: this.written(point.offset + shift),
          raw: rawText(suits.words, point),
          value: suits.words ? valueText(suits.words, point) : '',
          here: here.words ? valueText(here.words, point) : '',
          score: suits.score,
          why: suits.why,
        };
      }),
  );
  protected readonly idOf = ({ point }: Row): string => point.id;
  protected readonly classOf = ({ shift }: Row): string => (shift === 0 ? '' : 'moved');
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'manual', head: 'Manual', text: ({ address }) => address, kind: 'mono' },
    { name: 'point', head: 'Point', text: ({ point }) => point.name, by: ({ point }) => point.name },
    { name: 'type', head: 'Type', text: ({ point }) => [point.type, point.unit].join(' ') },
    {
      ...{ name: 'here', head: 'Read there', text: ({ here }: Row) => here, more: ({ here }: Row) => here, kind: 'mono number value' },
      classOf: ({ shift }) => (shift === 0 ? '' : 'struck'),
    },
    { name: 'tie', head: '' },
    { name: 'device', head: 'Device', text: ({ at }) => at, kind: 'mono' },
    { name: 'raw', head: 'Raw', text: ({ raw }) => raw, more: ({ raw }) => raw, kind: 'mono cut' },
    { name: 'value', head: 'Value', text: ({ value }) => value, more: ({ value }) => value, kind: 'mono number value' },
    { name: 'why', head: 'Why', kind: 'what', by: ({ score }) => score },
  ];
  protected readonly hidden = computed(() => this.points().length - this.rows().length);

  constructor() {
    focusViewOnOpen();
  }

  protected read(): void {
    this.reading.set(true);
    this.problem.set(null);
    this.state.readAround(this.table(), this.points(), MARGIN).subscribe((problem) => {
      this.problem.set(problem);
      this.reading.set(false);
    });
  }

  protected applyLooked(): void {
    const shift = this.looked();
    if (shift) this.apply({ points: this.points(), shift });
  }

  /** Moves a block of points to where its values lie, as one change. */
  protected apply({ points, shift }: Pick<ShiftedBlock, 'points' | 'shift'>): void {
    const after = points.map((point): Point => ({ ...point, offset: point.offset + shift }));
    const outside = after.find(({ offset }) => offset < 0);
    if (outside) return this.problem.set(`${outside.name} would come before offset 0.`);
    this.state.save(`Shift ${points.length} points by ${signed(shift)}`, after).subscribe((refused) => {
      this.problem.set(refused);
      if (refused) return;
      this.looked.set(null);
      this.editor.say(`${points.length} points are shifted by ${signed(shift)}. Ctrl+Z takes it back.`);
    });
  }

  protected scoreOf(shift: number): string {
    const row = this.alignment()?.ranking.find((ranked) => ranked.shift === shift);
    return row ? `${row.suits} suit, ${row.contradicts} do not` : '';
  }

  private written(offset: number): string {
    return offset < 0 ? '' : formatAddress({ table: this.table(), offset }, this.state.notation(), this.state.device()?.areas);
  }

  /** A column of numbers, or lines of index and number, as a controller's array shows it. */
  private readPasted(): ReadonlyMap<number, number> | string {
    const from = readDeviceAddress(this.pastedAt(), this.state.context());
    if (!from.ok) return from.problem.message;
    const words = new Map<number, number>();
    for (const [row, line] of this.pasted()
      .split(/\r\n|\r|\n/)
      .entries()) {
      if (!line.trim()) continue;
      const cells = line
        .replace(/[;,:=]/g, ' ')
        .trim()
        .split(/\s+/);
      const word = Number(cells.at(-1)!.replace(/^16#/, '0x'));
      if (!Number.isInteger(word) || word < -0x8000 || word > 0xffff)
        return `Line ${row + 1}, “${line.trim()}”, ends with no register’s value.`;
      const at = cells.length > 1 && /^\[?\d+\]?$/.test(cells[0]!) ? Number(cells[0]!.replace(/\D/g, '')) - this.index() : words.size;
      words.set(from.value[0]!.offset + at, word & 0xffff);
    }
    return words;
  }
}

function signed(shift: number): string {
  return shift > 0 ? `+${shift}` : `−${-shift}`;
}
