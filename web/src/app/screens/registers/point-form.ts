import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { isBitTable, isWritable, LAST_OFFSET, Offset, tableNames, tables } from '@plain-envoy/core/address';
import { Point, PointType } from '@plain-envoy/core/model';
import { byteOrders, hasFreeLength, type ValueType } from '@plain-envoy/core/value';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { FieldProblems, typedNumber } from '../../parts/form';
import { addressOf } from '../../parts/format';

const shownFields = ['name', 'table', 'offset', 'type', 'order', 'length', 'scale', 'unit', 'access', 'note'];

/** Adds a point or changes one. What is typed stays until it is accepted; each problem stands at its field. */
@Component({
  selector: 'pe-point-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  templateUrl: './point-form.html',
  styles: `
    h2 {
      margin: 8px 0;
    }
    .actions,
    .problem {
      margin-top: 12px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class PointForm {
  private readonly project = inject(ProjectStore);
  private readonly editor = inject(Editor);
  private readonly nameBox = viewChild.required<ElementRef<HTMLInputElement>>('name');

  /** The point as it is, or as a new one would start. */
  readonly point = input.required<Point>();
  readonly isNew = input.required<boolean>();
  readonly saved = output<Point>();
  readonly closed = output();

  protected readonly problems = new FieldProblems();
  protected readonly tables = tables;
  protected readonly tableNames = tableNames;
  protected readonly types = PointType.options;
  protected readonly orders = byteOrders.filter((order) => order.length === 4);
  protected readonly typed = linkedSignal(() => typedFrom(this.point()));
  protected readonly isBits = computed(() => isBitTable(this.typed().table));
  protected readonly freeLength = computed(() => this.typed().type !== 'bit' && hasFreeLength(this.typed().type as ValueType));
  protected readonly rest = computed(() => this.problems.rest(shownFields));
  /** The address in the papers' own notation while the offset is typed. */
  protected readonly reading = computed(() => {
    const offset = Offset.safeParse(typedNumber(this.typed().offset));
    if (!offset.success) return '';
    const device = this.project.devices().get(this.point().deviceId);
    return `${addressOf({ table: this.typed().table, offset: offset.data }, device)} in its papers`;
  });
  protected readonly lastOffset = LAST_OFFSET;

  constructor() {
    effect(() => {
      this.point();
      this.problems.clear();
      setTimeout(() => this.nameBox().nativeElement.focus());
    });
  }

  protected type(fields: Partial<Typed>): void {
    this.typed.update((typed) => {
      const next = { ...typed, ...fields };
      if (fields.table) {
        if (isBitTable(next.table)) next.type = 'bit';
        else if (next.type === 'bit') next.type = 'uint16';
        if (!isWritable(next.table)) next.access = 'read';
      }
      return next;
    });
  }

  protected async save(): Promise<void> {
    const before = this.point();
    const after = this.problems.check(Point, pointFrom(before, this.typed()));
    if (!after) return;
    const label = `${this.isNew() ? 'Add' : 'Change'} ${after.name}`;
    const answer = await this.project.commit(label, [{ entity: 'point', id: after.id, before: this.isNew() ? null : before, after }]);
    if (!answer.ok) return this.problems.refused(answer.problem);
    this.editor.say(`Saved: ${after.name}`);
    this.saved.emit(after);
  }
}

interface Typed {
  name: string;
  table: Point['table'];
  offset: string;
  type: Point['type'];
  order: string;
  length: string;
  factor: string;
  zero: string;
  unit: string;
  access: Point['access'];
  note: string;
}

function typedFrom(point: Point): Typed {
  const { name, table, offset, type, order, length, scale, unit, access, note } = point;
  const linear = scale && 'factor' in scale ? scale : null;
  return {
    name,
    table,
    offset: Number.isNaN(offset) ? '' : String(offset),
    type,
    order,
    length: length === null ? '' : String(length),
    factor: linear ? String(linear.factor) : '1',
    zero: linear ? String(linear.offset) : '0',
    unit,
    access,
    note,
  };
}

function pointFrom(before: Point, typed: Typed): unknown {
  const factor = typedNumber(typed.factor);
  const zero = typedNumber(typed.zero);
  const keepsRange = before.scale && 'raw' in before.scale && factor === 1 && zero === 0;
  const scale = keepsRange ? before.scale : factor === 1 && zero === 0 ? null : { factor, offset: zero };
  return {
    ...before,
    name: typed.name.trim(),
    table: typed.table,
    offset: typedNumber(typed.offset),
    type: typed.type,
    order: typed.order,
    length: typed.length.trim() === '' || typed.type === 'bit' || !hasFreeLength(typed.type) ? null : typedNumber(typed.length),
    scale: typed.type === 'bit' ? null : scale,
    unit: typed.unit.trim(),
    access: typed.access,
    note: typed.note,
  };
}
