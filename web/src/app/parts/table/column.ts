import { Directive, inject, input, TemplateRef } from '@angular/core';

/** One column of a table: what stands above it, and what its cells say. */
export interface Column<Row> {
  /** Of its cells (`data-cell`), and of the template that draws them, where one does. */
  readonly name: string;
  readonly head: string;
  /** Said where the pointer rests on its head. */
  readonly hint?: string;
  readonly text?: (row: Row) => string | number;
  /** Said where the pointer rests on a cell. */
  readonly more?: (row: Row) => string;
  /** Classes of its head and its cells. */
  readonly kind?: string;
  /** Further classes of a cell. */
  readonly classOf?: (row: Row) => string;
  /** What it is ordered by; without it the column orders nothing. */
  readonly by?: (row: Row) => number | string;
}

/** Draws the cells of the column of this name: `<ng-template peCell="state" let-row>`. */
@Directive({ selector: 'ng-template[peCell]' })
export class CellTemplate {
  readonly name = input.required<string>({ alias: 'peCell' });
  readonly template = inject<TemplateRef<{ $implicit: unknown }>>(TemplateRef);
}
