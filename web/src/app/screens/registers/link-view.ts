import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { bitsOfSignal, type CanSignal } from '@plain-envoy/core/can';
import { canBeSignal } from '@plain-envoy/core/can-line';
import { converterOf, farLineOf, linkOn } from '@plain-envoy/core/converter';
import { fromHex } from '@plain-envoy/core/frame';
import type { LinkPortState } from '@plain-envoy/core/cyclic-line';
import { lampOf, linkStates } from '@plain-envoy/core/media';
import { blankPoint, type Change, isSame, type Point } from '@plain-envoy/core/model';
import type { Outcome } from '@plain-envoy/core/outcome';
import { blocks, PointPlace } from '@plain-envoy/core/place';
import { pointTypes } from '@plain-envoy/core/types';
import { timer } from 'rxjs';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { StandIns } from '../../data/stand-ins';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { Dialogs } from '../../parts/dialogs';
import { focusViewOnOpen } from '../../parts/focus';
import { type Issue, issuesValidator, problemIn, refuseIn, valueIn } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { BitGrid, gridProblems, type ShownSignal, type Stretch, typeOfBits } from './bit-grid';
import { blockGroup, placeOfMark, placeTyped, stretchOfPlace, type TypedBlock, valueGroup } from './link-form';
import { keepPoints } from './kept-points';
import { MapState } from './map-state';

const LOOK_MS = 1000;
type Block = 'input' | 'output';

/** The two blocks of a station on a cyclic link: which bytes and bits of them hold which values, beside what really came. */
@Component({
  selector: 'pe-link-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BitGrid, Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, TextField],
  templateUrl: './link-view.html',
  styleUrls: ['./wide-view.scss', './telegrams-view.scss', './frames-view.scss'],
  styles: `
    .form {
      width: auto;
      flex: 1;
    }
    .signals {
      flex: 0 0 390px;
    }
  `,
})
export class LinkView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  private readonly standIns = inject(StandIns);
  private readonly played = atEdge(this.standIns, 'all');
  private readonly dialogs = inject(Dialogs);
  readonly closed = output();

  protected readonly blockOptions = blocks.map(({ name, label }): Option<Block> => ({ value: name, text: label }));
  protected readonly block = signal<Block>('input');
  private readonly told = computed(() =>
    this.project.document()!.points.filter(({ deviceId, place }) => deviceId === this.state.deviceId() && place.kind === 'linkState'),
  );
  protected readonly isTold = computed(() => this.told().some(({ place }) => place.kind === 'linkState' && place.state === 'valid'));
  private readonly points = computed(
    () =>
      this.project
        .document()!
        .points.filter(
          ({ deviceId, place }) => deviceId === this.state.deviceId() && place.kind === 'cyclic' && place.block === this.block(),
        ),
    { equal: isSame },
  );
  protected readonly form = computed(() => {
    const form = blockGroup(this.points());
    form.addValidators(issuesValidator((typed: TypedBlock) => this.issuesOf(typed)));
    return form;
  });
  private readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  protected readonly tellsValid = linkedSignal<string, boolean>({ source: () => this.state.deviceId(), computation: () => true });

  protected readonly orders: Option<CanSignal['order']>[] = [
    { value: 'little', text: 'low first' },
    { value: 'big', text: 'high first' },
  ];
  protected readonly types = asOptions(pointTypes.filter((type) => canBeSignal({ type })));
  protected readonly drawOrder = signal<CanSignal['order']>('little');
  protected readonly mark = signal<Stretch | null>(null);
  /** Which value has the keyboard. */
  protected readonly focused = signal<number | null>(null);
  protected readonly shown = computed(() =>
    this.typed().values.flatMap((one): ShownSignal[] => {
      const stretch = stretchOfPlace(placeTyped(one));
      return stretch ? [{ ...stretch, name: one.name }] : [];
    }),
  );

  private readonly line = computed(() => {
    const line = farLineOf(this.project.document()!, this.state.deviceId());
    return line?.kind === 'cyclic' ? line : null;
  });
  protected readonly bytes = computed(() => (this.block() === 'input' ? this.line()?.inputBytes : this.line()?.outputBytes) ?? 0);
  protected readonly where = computed(() => {
    const line = this.line();
    const before = converterOf(this.project.document()!, this.state.deviceId());
    if (!line) return 'This device is on no cyclic link.';
    return before?.converter.image
      ? `${before.converter.name} opens ${line.name} and shows its values in registers.`
      : `Nothing that opens ${line.name} has an image, so nothing shows its values.`;
  });

  /** The ends of the link as they stand on the stand-ins. */
  private readonly sides = computed(() => {
    const { ports, devices } = this.project.document()!;
    const here = ports.flatMap((port) => (port.kind === 'cyclic' && port.lineId === this.line()?.id ? [port] : []));
    return this.played.all().flatMap(({ links }) =>
      links.flatMap((end) => {
        const port = here.find(({ id }) => id === end.portId);
        const name = devices.find(({ id }) => id === port?.deviceId)?.name;
        return port && name ? [{ end, port, name }] : [];
      }),
    );
  });
  protected readonly ends = computed(() =>
    this.sides().map(({ end, port, name }) => {
      const lamp = lampOf(port, end.state);
      const parts = [
        linkStates.find((one) => one.name === end.state)!.label.toLowerCase(),
        ...(lamp ? [lamp] : []),
        `${end.heard} came, ${end.missed} stayed away, lost ${end.lost} ${end.lost === 1 ? 'time' : 'times'}`,
        ...(end.problem ? [end.problem] : []),
        ...(end.program ? [programText(end.program)] : []),
      ];
      return { name, text: `${name}: ${parts.join(' · ')}`, isTrouble: end.state !== 'running' };
    }),
  );
  protected readonly data = computed(() => {
    const reader = this.sides().find(({ port }) => port.role === (this.block() === 'input' ? 'opens' : 'answers'));
    const bytes = fromHex(reader?.end[this.block()] ?? '');
    return reader && reader.end.ageMs !== null && bytes.ok ? bytes.value : null;
  });

  constructor() {
    this.unsaved.watch(() => `the ${this.block()}`, this.form);
    focusViewOnOpen();
    timer(0, LOOK_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.standIns.refresh());
  }

  protected byteOf({ firstBit }: Stretch): number {
    return firstBit >> 3;
  }

  protected choose(block: Block): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.block.set(block));
  }

  /** A value where the mark is, or at the first byte that is free. */
  protected addValue(stretch: Stretch | null): void {
    const taken = new Set(this.shown().flatMap(bitsOfSignal));
    const free = Array.from({ length: 8 * this.bytes() }, (_, bit) => bit).find((bit) => !taken.has(bit)) ?? 0;
    const { values } = this.form().controls;
    const at = placeOfMark(stretch ?? { firstBit: free, bits: 8 - (free % 8), order: this.drawOrder() });
    values.push(valueGroup(null, `Value ${values.length + 1}`, typeOfBits({ ...at, signed: false }), at));
    this.mark.set(null);
    this.form().markAsDirty();
  }

  protected removeValue(index: number): void {
    this.form().controls.values.removeAt(index);
    this.form().markAsDirty();
  }

  protected save(): void {
    const form = this.form();
    form.markAllAsTouched();
    if (form.invalid) return;
    const changes = this.changes();
    if (!changes.ok) return refuseIn(form, { message: changes.problem.message, path: [] });
    this.store.commit(`The ${this.block()} of ${this.state.device()?.name ?? ''}`, changes.value).subscribe((answer) => {
      if (!answer.ok) return refuseIn(form, answer.problem);
      form.markAsPristine();
      this.editor.say(`The ${this.block()} is kept. Undo with Ctrl+Z.`);
    });
  }

  /** What the controller needs for both blocks, as they are kept. */
  protected showProgram(): void {
    const line = this.line();
    const link = line && linkOn(this.project.document()!, line.id);
    const load = () => import('./link-program-dialog').then(({ LinkProgramDialog }) => LinkProgramDialog);
    if (link) this.dialogs.open(load, { data: link, maxWidth: '95vw', maxHeight: '90vh', autoFocus: 'dialog' }).subscribe();
  }

  protected leave(): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.closed.emit());
  }

  /** The points of the values that were typed, each placed where the carrier reads it; and what is no value any more. */
  private changes(): Outcome<Change[]> {
    const document = this.project.document()!;
    const device = this.state.device()!;
    const known = new Map(this.points().map((point) => [point.id, point]));
    const blank = () => blankPoint({ id: newId(), projectId: device.projectId, deviceId: device.id });
    const wanted = this.form()
      .getRawValue()
      .values.map((typed): Point => {
        const point = known.get(typed.id ?? '');
        const base = point ?? blank();
        const pinned = point?.place.kind === 'cyclic' && point.place.pinned;
        return {
          ...{ ...base, name: typed.name.trim(), type: typed.type, bit: typed.type === 'bit' ? (base.bit ?? 0) : null },
          place: { kind: 'cyclic', block: this.block(), ...placeTyped(typed), pinned },
        };
      });
    if (this.tellsValid() && !this.isTold())
      wanted.push({
        ...{ ...blank(), name: 'Link is valid', type: 'bit', bit: 0 },
        place: { kind: 'linkState', state: 'valid', pinned: false },
      });
    return keepPoints(document, device.id, this.points(), wanted, () => false);
  }

  private issuesOf({ values }: TypedBlock): Issue[] {
    const issues: Issue[] = [];
    const shown: ShownSignal[] = [];
    values.forEach((one, index) => {
      const place = placeTyped(one);
      if (one.name.trim() === '') issues.push({ path: ['values', index, 'name'], message: 'A name is needed.' });
      const read = PointPlace.safeParse({ kind: 'cyclic', block: this.block(), ...place, pinned: false });
      for (const { path, message } of read.error?.issues ?? []) issues.push({ path: ['values', index, ...path.map(String)], message });
      const stretch = read.success ? stretchOfPlace(place) : null;
      if (!stretch) return;
      const signal = { ...stretch, name: one.name || `Value ${index + 1}` };
      const [wrong] = gridProblems([...shown, signal], this.bytes(), `the ${this.block()}`).filter((text) => text.includes(signal.name));
      if (wrong) issues.push({ path: ['values', index], message: wrong });
      else shown.push(signal);
    });
    return issues;
  }
}

/** The Structured Text that the stand-in of a controller has for its raw bytes. */
function programText({ runs, problem }: NonNullable<LinkPortState['program']>): string {
  return problem === null ? `its Structured Text ran ${runs} times` : `its Structured Text does not run: ${problem}`;
}
