import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Column } from '../parts/table/column';
import { Table } from '../parts/table/table';
import { labelOf } from '../parts/schema-fields';

type Row = readonly string[];

interface Line {
  label: string;
  text: string;
  table: { columns: Column<Row>[]; rows: Row[] } | null;
}

const MAX_ROWS = 50;

/** A result with its units: single values as lines, lists of objects as tables. */
@Component({
  selector: 'pe-result',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Table],
  template: `<dl>
    @for (line of lines(); track line.label) {
      <dt [class.wide]="line.table?.rows?.length">{{ line.label }}</dt>
      <dd class="mono" [class.wide]="line.table?.rows?.length">
        @if (line.table; as table) {
          @if (table.rows.length) {
            <div class="scroll">
              <pe-table [label]="line.label" [columns]="table.columns" [rows]="table.rows" [idOf]="idOf" />
            </div>
          } @else {
            none
          }
        } @else {
          {{ line.text }}
        }
      </dd>
    }
  </dl>`,
  styles: `
    dl {
      display: grid;
      grid-template-columns: minmax(110px, max-content) minmax(0, 1fr);
      gap: 3px 14px;
      margin: 0 0 8px;
    }
    dt {
      color: var(--mat-sys-on-surface-variant);
      font-size: 13px;
    }
    dd {
      margin: 0;
      overflow-wrap: anywhere;
    }
    .wide {
      grid-column: 1 / -1;
    }
    .scroll {
      overflow: auto;
      max-height: 320px;
    }
  `,
})
export class ResultView {
  readonly value = input.required<Record<string, unknown>>();

  protected readonly idOf = (row: Row): string => row.join(' · ');
  protected readonly lines = computed((): Line[] =>
    Object.entries(this.value()).map(([key, value]) => {
      const rows = Array.isArray(value) && (value.length === 0 || typeof value[0] === 'object') ? (value as object[]) : null;
      return { label: labelOf(key), text: rows ? '' : plain(value), table: rows ? tableOf(rows) : null };
    }),
  );
}

function tableOf(rows: readonly object[]): NonNullable<Line['table']> {
  const keys = [...new Set(rows.flatMap((row) => Object.keys(row)))];
  const shown = rows.slice(0, MAX_ROWS).map((row) => keys.map((key) => plain((row as Record<string, unknown>)[key])));
  if (rows.length > MAX_ROWS) shown.push([`and ${rows.length - MAX_ROWS} more`]);
  return { columns: keys.map((key, at) => ({ name: key, head: labelOf(key), text: (row: Row) => row[at] ?? '' })), rows: shown };
}

function plain(value: unknown): string {
  if (value === null || value === undefined) return '–';
  if (typeof value === 'number') return String(Number.isInteger(value) ? value : Number(value.toPrecision(6)));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return value.map(plain).join(value.every(isSentence) ? ' ' : ', ');
  if (isNested(value)) return JSON.stringify(value);
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([key, inner]) => `${labelOf(key)} ${plain(inner)}`)
      .join(', ');
  return String(value);
}

function isSentence(value: unknown): boolean {
  return typeof value === 'string' && value.endsWith('.');
}

/** Something of several levels is what another reckoner takes, and is shown as that wants it. */
function isNested(value: unknown): boolean {
  const inner = typeof value === 'object' && value !== null ? Object.values(value) : [];
  return inner.some((each) => Array.isArray(each) && each.some((one) => typeof one === 'object'));
}
