import { inject, Injectable } from '@angular/core';
import type { AddressReading } from '@plain-envoy/core/address';
import { type CellField, cellText, writeCell } from '@plain-envoy/core/fields';
import { countedName, following } from '@plain-envoy/core/map';
import type { Point } from '@plain-envoy/core/model';
import { Subject } from 'rxjs';
import { MapState } from '../map-state';

/** What was typed into a cell and is not saved: on its way, or with the reason why it cannot be. */
interface Draft {
  text: string;
  problem: string | null;
}

/** An address that could be understood in other ways as well. */
export interface Ambiguous {
  point: Point;
  text: string;
  readings: AddressReading[];
}

/** What is written into cells of a map: checked, saved as one edit, and kept where it was typed as long as it does not fit. */
@Injectable()
export class GridEdits {
  private readonly state = inject(MapState);
  private readonly drafts = new Map<string, Draft>();
  /** Why something was not written; null where all is well. */
  readonly problem$ = new Subject<string | null>();
  readonly ambiguous$ = new Subject<Ambiguous | null>();
  /** Rows that have to be drawn anew, as something in them was saved or refused. */
  readonly settled$ = new Subject<readonly Point[]>();

  /** What stands in a cell: as it is typed, else as it is saved. */
  textOf(point: Point, field: CellField): string {
    return this.drafts.get(keyOf(point, field))?.text ?? cellText(point, field, this.state.context());
  }

  problemOf(point: Point, field: CellField): string | null {
    return this.drafts.get(keyOf(point, field))?.problem ?? null;
  }

  /** Writes text into a column of some rows. What does not fit stays in its cell, with the reason. */
  write(rows: readonly Point[], field: CellField, text: string): void {
    this.problem$.next(null);
    this.ambiguous$.next(null);
    const after: Point[] = [];
    let other: Ambiguous | null = null;
    for (const point of rows) {
      const key = keyOf(point, field);
      const written = writeCell(point, field, text, this.state.context());
      if (!written.ok) {
        this.drafts.set(key, { text, problem: written.problem.message });
        this.problem$.next(`${point.name}, ${field}: ${written.problem.message}`);
        continue;
      }
      this.drafts.delete(key);
      if (rows.length === 1 && written.value.readings.length)
        other = { point: written.value.point, text, readings: written.value.readings };
      if (cellText(written.value.point, field, this.state.context()) === cellText(point, field, this.state.context())) continue;
      this.drafts.set(key, { text, problem: null });
      after.push(written.value.point);
    }
    const label = after.length === 1 ? `Change ${field} of ${after[0]!.name}` : `Change ${field} of ${after.length} points`;
    this.state.save(label, after).subscribe((refused) => {
      for (const point of after) {
        if (refused) this.drafts.set(keyOf(point, field), { text, problem: refused });
        else this.drafts.delete(keyOf(point, field));
      }
      if (refused) this.problem$.next(refused);
      // Another reading is of the point as it is then saved; offered sooner, it would be taken for an edit of what it was.
      else this.ambiguous$.next(other);
      this.settled$.next(rows);
    });
  }

  /** The value of the first row down all others: names count up, addresses follow one another. */
  fillDown(rows: readonly Point[], field: CellField | null): void {
    const [first, ...others] = rows;
    if (!field || !first || others.length === 0)
      return this.problem$.next('Select several rows, the first with what is to be filled down.');
    const places = following(first, [...rows]);
    const text = cellText(first, field, this.state.context());
    const filled: Point[] = [];
    for (const [index, row] of others.entries()) {
      if (field === 'address') {
        filled.push({ ...row, ...places[index + 1]!, table: row.type === 'bit' || first.type !== 'bit' ? first.table : row.table });
        continue;
      }
      const written = writeCell(row, field, field === 'name' ? countedName(text, index + 1) : text, this.state.context());
      if (!written.ok) return this.problem$.next(`${row.name}: ${written.problem.message}`);
      filled.push(written.value.point);
    }
    this.save(`Fill ${field} down ${others.length} points`, filled);
  }

  /** One column of a spreadsheet into as many rows; all of it or nothing. */
  writeDown(rows: readonly Point[], field: CellField, lines: readonly string[]): void {
    if (rows.length < lines.length)
      return this.problem$.next(`${lines.length} lines do not fit: only ${rows.length} rows are there from here on. Nothing was changed.`);
    const after: Point[] = [];
    for (const [index, line] of lines.entries()) {
      const row = rows[index]!;
      const written = writeCell(row, field, line, this.state.context());
      if (!written.ok) return this.problem$.next(`${row.name}, ${field}: ${written.problem.message} Nothing was changed.`);
      after.push(written.value.point);
    }
    this.save(`Paste ${field} of ${after.length} points`, after);
  }

  save(label: string, after: readonly Point[]): void {
    this.state.save(label, after).subscribe((problem) => this.problem$.next(problem));
  }
}

function keyOf(point: Point, field: CellField): string {
  return `${point.id} ${field}`;
}
