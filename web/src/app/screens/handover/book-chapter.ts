import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input, linkedSignal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Block, Section } from '@plain-envoy/core/book';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';

/** So many sections are shown at first, and so many more each time; and so many rows of each table. */
const SECTIONS = 12;
const ROWS = 40;

interface Row {
  id: string;
  cells: readonly (string | number | null)[];
}

type Shown =
  | Exclude<Block, { kind: 'table' | 'drawing' }>
  | { kind: 'table'; title: string; columns: Column<Row>[]; rows: Row[]; more: number }
  | { kind: 'drawing'; says: string; address: string };

/** A chapter of a book, as it stands there. */
@Component({
  selector: 'pe-book-chapter',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, NgTemplateOutlet, Table],
  templateUrl: './book-chapter.html',
  styleUrl: './book-chapter.scss',
})
export class BookChapterView {
  readonly chapter = input.required<Section>();
  private readonly count = linkedSignal(() => (this.chapter(), SECTIONS));

  protected readonly blocks = computed(() => this.chapter().blocks.map(shownOf));
  protected readonly sections = computed(() =>
    this.chapter()
      .sections.slice(0, this.count())
      .map(({ title, blocks }) => ({ title, blocks: blocks.map(shownOf) })),
  );
  protected readonly more = computed(() => Math.max(0, this.chapter().sections.length - this.count()));
  protected readonly idOf = ({ id }: Row): string => id;

  protected showMore(): void {
    this.count.update((count) => count + SECTIONS);
  }
}

function shownOf(block: Block): Shown {
  switch (block.kind) {
    case 'drawing': {
      const { svg, says } = block.drawing;
      return { kind: 'drawing', says, address: `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}` };
    }
    case 'table': {
      const columns = block.columns.map(({ head, isNumber }, at): Column<Row> => ({
        ...{ name: `column ${at}`, head, text: ({ cells }) => cells[at] ?? '' },
        ...(isNumber ? { kind: 'number' } : {}),
      }));
      const rows = block.rows.slice(0, ROWS).map((cells, index) => ({ id: String(index), cells }));
      return { kind: 'table', title: block.title, columns, rows, more: block.rows.length - rows.length };
    }
    default:
      return block;
  }
}
