import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { isBitTable, isWritable, LAST_OFFSET, Offset, tableNames, tables } from '@plain-envoy/core/address';
import { countedName, following } from '@plain-envoy/core/map';
import { type Change, Point } from '@plain-envoy/core/model';
import { byteOrders, namedText, readNamed, type Scale } from '@plain-envoy/core/value';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { FieldProblems, typedNumber } from '../../parts/form';
import { addressOf } from '../../parts/format';
import { ScaleEditor } from './scale-editor';
import { PointType, hasFreeLength, isNumeric } from '@plain-envoy/core/types';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

const shownFields = [
  'name',
  'table',
  'offset',
  'bit',
  'type',
  'order',
  'length',
  'scale',
  'unit',
  'access',
  'bits',
  'codes',
  'watchdogMs',
  'note',
];
const MAX_AT_ONCE = 1000;

/** Adds a point or changes one. What is typed stays until it is accepted; each problem stands at its field. */
@Component({
  selector: 'pe-point-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ScaleEditor, SearchField, TextField],
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
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'devices', 'pointsOf');
  private readonly editor = inject(Editor);
  private readonly nameBox = viewChild.required<TextField>('name');

  /** The point as it is, or as a new one would start. */
  readonly point = input.required<Point>();
  readonly isNew = input.required<boolean>();
  readonly saved = output<Point>();
  readonly closed = output();

  protected readonly problems = new FieldProblems();
  protected readonly tables = asOptions(tables, (table) => tableNames[table].one);
  protected readonly types = asOptions(PointType.options);
  protected readonly orders = asOptions<string>(byteOrders.filter((order) => order.length === 4));
  protected readonly accesses: Option<Point['access']>[] = [
    { value: 'read', text: 'read' },
    { value: 'readWrite', text: 'read and write' },
    { value: 'write', text: 'write' },
  ];
  protected readonly releaserOptions = computed(() => named(this.releasers()));
  protected readonly typed = linkedSignal(() => typedFrom(this.point()));
  protected readonly isBits = computed(() => isBitTable(this.typed().table));
  protected readonly isBit = computed(() => this.typed().type === 'bit');
  protected readonly scaled = computed(() => !['bit', 'bits', 'string'].includes(this.typed().type));
  private readonly scaleProblem = signal<string | null>(null);
  /** How many points a new one stands for, and what they would be called. */
  protected readonly howMany = signal('1');
  protected readonly forecast = computed(() => {
    const count = typedNumber(this.howMany());
    const name = this.typed().name.trim();
    return name && count > 1 && count <= MAX_AT_ONCE ? `${name} … ${countedName(name, count - 1)}` : '';
  });
  /** Points of the device that could have to be set before this one. */
  protected readonly releasers = computed(() => {
    const { id, deviceId } = this.point();
    const { table, access } = this.typed();
    if (!isWritable(table) || access === 'read') return [];
    return (this.project.pointsOf().get(deviceId) ?? []).filter((point) => point.id !== id && point.access !== 'read');
  });
  protected readonly freeLength = computed(() => hasFreeLength(this.typed().type));
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
      this.scaleProblem.set(null);
      this.howMany.set('1');
      setTimeout(() => this.nameBox().focus());
    });
  }

  protected type(fields: Partial<Typed>): void {
    this.typed.update((typed) => {
      const next = { ...typed, ...fields };
      if (fields.table) {
        if (isBitTable(next.table)) next.type = 'bit';
        else if (next.type === 'bit' && isBitTable(typed.table)) next.type = 'uint16';
        if (!isWritable(next.table)) next.access = 'read';
      }
      return next;
    });
  }

  protected scale(changed: { ok: true; scale: Scale | null } | { ok: false; message: string }): void {
    this.scaleProblem.set(changed.ok ? null : changed.message);
    if (changed.ok) this.typed.update((typed) => ({ ...typed, scale: changed.scale }));
  }

  protected save(): void {
    const before = this.point();
    const bits = readNamed(this.typed().bits);
    const codes = readNamed(this.typed().codes);
    const unread: [string, string][] = [];
    if (!bits.ok) unread.push(['bits', bits.problem.message]);
    if (!codes.ok) unread.push(['codes', codes.problem.message]);
    if (this.scaleProblem()) unread.push(['scale', this.scaleProblem()!]);
    const count = this.isNew() ? typedNumber(this.howMany()) : 1;
    if (!(Number.isInteger(count) && count >= 1 && count <= MAX_AT_ONCE))
      unread.push(['howMany', `A whole number from 1 to ${MAX_AT_ONCE}.`]);
    if (unread.length) return this.problems.set(unread);
    const after = this.problems.check(Point, {
      ...pointFrom(before, this.typed()),
      bits: bits.ok ? bits.value.map(({ number, name }) => ({ bit: number, name })) : [],
      codes: codes.ok ? codes.value.map(({ number, name }) => ({ value: number, name })) : [],
    });
    if (!after) return;
    const rows = Array.from({ length: count }, (_, index) =>
      index ? { ...after, id: newId(), name: countedName(after.name, index) } : after,
    );
    const places = following(after, rows);
    const all = rows.map((row, index) => ({ ...row, ...places[index]! }));
    const last = this.problems.check(Point, all.at(-1));
    if (!last) return;
    const label = this.isNew() ? (count > 1 ? `Add ${count} points, ${after.name} and on` : `Add ${after.name}`) : `Change ${after.name}`;
    const changes = all.map((row): Change => ({ entity: 'point', id: row.id, before: this.isNew() ? null : before, after: row }));
    this.store.commit(label, changes).subscribe((answer) => {
      if (!answer.ok) return this.problems.refused(answer.problem);
      this.editor.say(`Saved: ${count > 1 ? `${count} points` : after.name}`);
      this.saved.emit(after);
    });
  }
}

interface Typed {
  releasedBy: string | null;
  watchdogMs: string;
  name: string;
  table: Point['table'];
  offset: string;
  bit: string;
  type: Point['type'];
  order: string;
  length: string;
  scale: Scale | null;
  unit: string;
  access: Point['access'];
  bits: string;
  codes: string;
  note: string;
}

function typedFrom(point: Point): Typed {
  const { name, table, offset, bit, type, order, length, scale, unit, access, note, releasedBy, watchdogMs } = point;
  return {
    releasedBy,
    watchdogMs: watchdogMs === null ? '' : String(watchdogMs),
    name,
    table,
    offset: Number.isNaN(offset) ? '' : String(offset),
    bit: bit === null ? '' : String(bit),
    type,
    order,
    length: length === null ? '' : String(length),
    scale,
    unit,
    access,
    bits: namedText(point.bits.map(({ bit: number, name: of }) => ({ number, name: of }))),
    codes: namedText(point.codes.map(({ value: number, name: of }) => ({ number, name: of }))),
    note,
  };
}

function pointFrom(before: Point, typed: Typed): object {
  const inRegister = typed.type === 'bit' && !isBitTable(typed.table);
  return {
    ...before,
    name: typed.name.trim(),
    table: typed.table,
    offset: typedNumber(typed.offset),
    bit: inRegister && typed.bit.trim() ? typedNumber(typed.bit) : null,
    type: typed.type,
    order: typed.order,
    length: typed.length.trim() === '' || !hasFreeLength(typed.type) ? null : typedNumber(typed.length),
    scale: isNumeric(typed.type) ? typed.scale : null,
    unit: typed.unit.trim(),
    access: typed.access,
    releasedBy: isWritable(typed.table) && typed.access !== 'read' ? typed.releasedBy : null,
    watchdogMs: typed.watchdogMs.trim() === '' || typed.type === 'bit' ? null : typedNumber(typed.watchdogMs),
    note: typed.note,
  };
}
