import { type CellField, cellFields, cellOf } from '@plain-envoy/core/fields';
import type { ColDef, ICellRendererParams, ValueFormatterParams } from 'ag-grid-community';
import { byPlace, type Point } from '@plain-envoy/core/model';

/** What the grid asks its surroundings for each cell. */
export interface CellSource {
  text(point: Point, field: CellField): string;
  isWrong(point: Point, field: CellField): boolean;
  write(point: Point, field: CellField, text: string): void;
  raw(point: Point): string;
  value(point: Point): string;
  quality(point: Point): string;
  age(point: Point): string;
  routes(point: Point): number;
  /** In which field of which telegram it lies; empty for a register. */
  lies(point: Point): string;
}

/** The fields that are typed, with a column wide enough for most of what they hold; to Quality all are seen in a window of 1280 px. */
const editable = cellFields.map((field) => ({ field, ...cellOf(field), width: 22 + 9 * cellOf(field).characters }));

const shown: readonly { id: 'raw' | 'value' | 'quality' | 'age'; head: string; width: number; class: string }[] = [
  { id: 'raw', head: 'Raw', width: 96, class: 'mono number' },
  { id: 'value', head: 'Value', width: 126, class: 'mono number value' },
  { id: 'quality', head: 'Quality', width: 76, class: '' },
  { id: 'age', head: 'Age', width: 66, class: 'mono number' },
];

/** The columns that a person may choose from, with those that are shown at first. */
export const columnChoices = [
  ...editable.map(({ field, label, isShown }) => ({ id: field as string, head: label, first: isShown })),
  ...shown.map(({ id, head }) => ({ id: id as string, head, first: id !== 'age' })),
  { id: 'routes', head: 'Routes', first: true },
  { id: 'lies', head: 'Lies in', first: true },
];
export const liveColumns: readonly string[] = shown.map(({ id }) => id);

export function columnsOf(source: CellSource): ColDef<Point>[] {
  return [
    {
      colId: 'shape',
      headerName: '',
      width: 34,
      minWidth: 34,
      sortable: false,
      suppressMovable: true,
      resizable: false,
      cellRenderer: shapeOf,
      cellClass: 'shape',
    },
    ...editable.map(({ field, label, width, isCode, isShown, choices }): ColDef<Point> => ({
      colId: field,
      headerName: label,
      width,
      hide: !isShown,
      editable: true,
      cellClass: isCode ? 'mono' : '',
      cellClassRules: { wrong: ({ data }) => !!data && source.isWrong(data, field) },
      valueGetter: ({ data }) => (data ? source.text(data, field) : ''),
      valueSetter: ({ data, newValue }) => {
        source.write(data, field, String(newValue ?? ''));
        return false;
      },
      filter: 'agTextColumnFilter',
      ...(choices ? { cellEditor: 'agSelectCellEditor', cellEditorParams: { values: choices } } : {}),
      ...(field === 'address' ? { comparator: (_a, _b, one, other) => byPlace(one.data!, other.data!) } : {}),
    })),
    ...shown.map(({ id, head, width, class: cellClass }): ColDef<Point> => ({
      colId: id,
      headerName: head,
      width,
      hide: id === 'age',
      cellClass,
      sortable: false,
      headerClass: cellClass.includes('number') ? 'number' : '',
      valueGetter: ({ data }) => (data ? source[id](data) : ''),
    })),
    {
      colId: 'routes',
      headerName: 'Routes',
      width: 76,
      cellClass: 'number',
      headerClass: 'number',
      valueGetter: ({ data }) => (data ? source.routes(data) : 0),
      valueFormatter: ({ value }: ValueFormatterParams<Point, number>) => (value ? String(value) : ''),
    },
    { colId: 'lies', headerName: 'Lies in', width: 190, valueGetter: ({ data }) => (data ? source.lies(data) : '') },
  ];
}

const SVG = 'http://www.w3.org/2000/svg';

/** Circle for a bit, square for a word; outline where it is read only. */
function shapeOf({ data }: ICellRendererParams<Point>): HTMLElement {
  const holder = document.createElement('span');
  if (!data) return holder;
  const bit = data.type === 'bit';
  const svg = document.createElementNS(SVG, 'svg');
  for (const [name, value] of [
    ['width', '14'],
    ['height', '14'],
    ['viewBox', '0 0 14 14'],
    ['role', 'img'],
    ['aria-label', `${bit ? 'bit' : 'word'}, ${data.access === 'read' ? 'read only' : 'can be written'}`],
  ] as const)
    svg.setAttribute(name, value);
  const shape = document.createElementNS(SVG, bit ? 'circle' : 'rect');
  const places = bit ? { cx: 7, cy: 7, r: 5 } : { x: 2.5, y: 2.5, width: 9, height: 9 };
  for (const [name, value] of Object.entries(places)) shape.setAttribute(name, String(value));
  shape.setAttribute('class', data.access === 'read' ? 'outline' : 'outline filled');
  svg.append(shape);
  holder.append(svg);
  return holder;
}
