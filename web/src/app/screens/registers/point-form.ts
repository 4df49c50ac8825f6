import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, viewChild } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { controlOf, textControl } from '../../parts/controls';
import { MatButtonModule } from '@angular/material/button';
import { isBitTable, isWritable, LAST_OFFSET, Offset, tableNames, tables } from '@plain-envoy/core/address';
import { countedName, following } from '@plain-envoy/core/map';
import { type Placed, playedPoints, variablesOf } from '@plain-envoy/core/playing';
import { type Change, Point } from '@plain-envoy/core/model';
import { byteOrders, namedText, readNamed, type Scale } from '@plain-envoy/core/value';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { typedNumber } from '../../parts/form';
import { problemIn, readGroup, refuseIn, schemaValidator, textValidator, valueIn } from '../../parts/schema-group';
import { Unsaved } from '../../parts/unsaved';
import { addressOf } from '../../parts/format';
import { ScaleEditor } from './scale-editor';
import { PointType, hasFreeLength, isNumeric } from '@plain-envoy/core/types';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

const MAX_AT_ONCE = 1000;

/** Adds a point or changes one. What is typed stays until it is accepted; each problem stands at its field. */
@Component({
  selector: 'pe-point-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, ScaleEditor, SearchField, TextField],
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
  private readonly project = atEdge(this.store, 'document', 'devices', 'pointsOf');
  private readonly editor = inject(Editor);
  private readonly nameBox = viewChild.required<TextField>('name');

  /** The point as it is, or as a new one would start. */
  readonly point = input.required<Point>();
  readonly isNew = input.required<boolean>();
  readonly saved = output<Point>();
  readonly closed = output();

  protected readonly tables = asOptions(tables, (table) => tableNames[table].one);
  protected readonly types = asOptions(PointType.options);
  protected readonly orders = asOptions<string>(byteOrders.filter((order) => order.length === 4));
  protected readonly accesses: Option<Point['access']>[] = [
    { value: 'read', text: 'read' },
    { value: 'readWrite', text: 'read and write' },
    { value: 'write', text: 'write' },
  ];
  protected readonly releaserOptions = computed(() => named(this.releasers()));
  private readonly check = computed(() => {
    const before = this.point();
    return { schema: Point, from: (typed: Typed) => pointFrom(before, typed) };
  });
  protected readonly form = computed(() => {
    const form = pointGroup(this.point());
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  protected readonly scaleProblem = problemIn(() => this.form().controls.scale);
  /** As a program has it, by the papers of its device where it has any. */
  protected readonly inProgram = computed(() => {
    const { deviceId, table, offset, bit, type } = this.point();
    const isIt = (point: Placed) => point.table === table && point.offset === offset && point.bit === bit && point.type === type;
    const variable = this.isNew()
      ? undefined
      : variablesOf(playedPoints(this.project.document()!, deviceId)).find(({ point }) => isIt(point));
    return variable ? `In a program: ${variable.name}` : '';
  });
  protected readonly isBits = computed(() => isBitTable(this.typed().table));
  protected readonly isBit = computed(() => this.typed().type === 'bit');
  protected readonly scaled = computed(() => !['bit', 'bits', 'string'].includes(this.typed().type));
  /** What as many as are wished would be called. */
  protected readonly forecast = computed(() => {
    const count = typedNumber(this.typed().howMany);
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
  /** The address in the papers' own notation while the offset is typed. */
  protected readonly reading = computed(() => {
    const offset = Offset.safeParse(typedNumber(this.typed().offset));
    if (!offset.success) return '';
    const device = this.project.devices().get(this.point().deviceId);
    return `${addressOf({ table: this.typed().table, offset: offset.data }, device)} in its papers`;
  });
  protected readonly lastOffset = LAST_OFFSET;

  constructor() {
    inject(Unsaved).watch(() => (this.isNew() ? 'the new point' : `the point ${this.point().name}`), this.form);
    effect(() => {
      this.point();
      setTimeout(() => this.nameBox().focus());
    });
  }

  protected scale(changed: { ok: true; scale: Scale | null } | { ok: false; message: string }): void {
    const { scale } = this.form().controls;
    if (changed.ok) scale.setValue(changed.scale);
    // What is wrong is said where it is typed.
    else scale.setErrors({ typed: true });
    scale.markAsDirty();
  }

  protected save(): void {
    const before = this.point();
    const form = this.form();
    const after = readGroup(form, this.check());
    if (!after) return;
    const count = this.isNew() ? typedNumber(this.typed().howMany) : 1;
    const rows = Array.from({ length: count }, (_, index) =>
      index ? { ...after, id: newId(), name: countedName(after.name, index) } : after,
    );
    const places = following(after, rows);
    const all = rows.map((row, index) => ({ ...row, ...places[index]! }));
    const last = Point.safeParse(all.at(-1));
    if (!last.success)
      return refuseIn(form, { message: last.error.issues[0]!.message, path: ['after', ...last.error.issues[0]!.path.map(String)] });
    const label = this.isNew() ? (count > 1 ? `Add ${count} points, ${after.name} and on` : `Add ${after.name}`) : `Change ${after.name}`;
    const changes = all.map((row): Change => ({ entity: 'point', id: row.id, before: this.isNew() ? null : before, after: row }));
    this.store.commit(label, changes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(form, answer.problem);
      form.markAsPristine();
      this.editor.say(`Saved: ${count > 1 ? `${count} points` : after.name}`);
      this.saved.emit(after);
    });
  }
}

/** The controls of a point; numbers, names of bits and of codes stand as they are typed. */
function pointGroup(point: Point) {
  const names = textValidator((typed) => {
    const read = readNamed(typed);
    return read.ok ? null : read.problem.message;
  });
  const form = new FormGroup({
    name: textControl(point.name),
    table: controlOf(point.table),
    offset: textControl(point.offset),
    bit: textControl(point.bit),
    type: controlOf(point.type),
    order: controlOf<string>(point.order),
    length: textControl(point.length),
    scale: controlOf(point.scale),
    unit: textControl(point.unit),
    access: controlOf(point.access),
    releasedBy: controlOf(point.releasedBy),
    watchdogMs: textControl(point.watchdogMs),
    bits: textControl(namedText(point.bits.map(({ bit: number, name }) => ({ number, name }))), names),
    codes: textControl(namedText(point.codes.map(({ value: number, name }) => ({ number, name }))), names),
    note: textControl(point.note),
    howMany: textControl('1', textValidator(howManyProblem)),
  });
  let before = point.table;
  form.controls.table.valueChanges.subscribe((table) => {
    const { type, access } = form.controls;
    if (isBitTable(table)) type.setValue('bit');
    else if (type.value === 'bit' && isBitTable(before)) type.setValue('uint16');
    if (!isWritable(table)) access.setValue('read');
    before = table;
  });
  return form;
}

type Typed = ReturnType<ReturnType<typeof pointGroup>['getRawValue']>;

function howManyProblem(text: string): string | null {
  const count = typedNumber(text);
  return Number.isInteger(count) && count >= 1 && count <= MAX_AT_ONCE ? null : `A whole number from 1 to ${MAX_AT_ONCE}.`;
}

function pointFrom(before: Point, { howMany: _howMany, ...typed }: Typed): object {
  const inRegister = typed.type === 'bit' && !isBitTable(typed.table);
  const bits = readNamed(typed.bits);
  const codes = readNamed(typed.codes);
  return {
    ...before,
    ...typed,
    name: typed.name.trim(),
    offset: typedNumber(typed.offset),
    bit: inRegister && typed.bit.trim() ? typedNumber(typed.bit) : null,
    length: typed.length.trim() === '' || !hasFreeLength(typed.type) ? null : typedNumber(typed.length),
    scale: isNumeric(typed.type) ? typed.scale : null,
    unit: typed.unit.trim(),
    releasedBy: isWritable(typed.table) && typed.access !== 'read' ? typed.releasedBy : null,
    watchdogMs: typed.watchdogMs.trim() === '' || typed.type === 'bit' ? null : typedNumber(typed.watchdogMs),
    bits: bits.ok ? bits.value.map(({ number, name }) => ({ bit: number, name })) : [],
    codes: codes.ok ? codes.value.map(({ number, name }) => ({ value: number, name })) : [],
  };
}
