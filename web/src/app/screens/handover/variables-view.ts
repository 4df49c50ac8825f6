import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { type ListedVariable, profileFor, standardProfile, variableList, without1252 } from '@plain-envoy/core/handover';
import { type Change, isSame, listColumns, ListProfile, Variable } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { issuesValidator, problemIn, readGroup, refuseIn, schemaValidator, valueIn } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import {
  type KeptOfProfile,
  profileGroup,
  profileIssueAt,
  profileOfTyped,
  type TypedProfile,
  type TypedVariable,
  variableGroup,
  variableOfTyped,
} from './variable-forms';

const STANDARD = 'standard';
const NEW = 'new';

/** The points of a controller as variables of its program: what each is called and why, and how the list is made and written. */
@Component({
  selector: 'pe-variables-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './variables-view.html',
  styleUrls: ['./handover.scss', './variables-view.scss'],
})
export class VariablesView {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  /** The id of the controller. */
  readonly of = input.required<string>();

  protected readonly controller = computed(() => this.project.document()!.devices.find(({ id }) => id === this.of())!, { equal: isSame });
  private readonly profiles = computed(() => this.project.document()!.listProfiles, { equal: isSame });
  private readonly current = computed(() => profileFor(this.project.document()!, this.of()), { equal: isSame });
  protected readonly chosenProfile = linkedSignal<string>(() => this.idOfProfile());
  protected readonly profileOptions = computed((): Option<string>[] => [
    { value: STANDARD, text: 'Standard' },
    ...this.profiles().map(({ id, name }) => ({ value: id, text: name })),
    { value: NEW, text: 'A new profile …' },
  ]);
  protected readonly isNew = computed(() => this.chosenProfile() === NEW);
  protected readonly isStandard = computed(() => this.chosenProfile() === STANDARD);
  private readonly fresh = linkedSignal<string, string>({ source: () => this.chosenProfile(), computation: () => newId() });

  /** The profile that is typed; the standard one cannot be changed. */
  protected readonly form = computed(() => {
    const known = this.profiles().find(({ id }) => id === this.chosenProfile());
    const form = profileGroup(known ?? (this.isNew() ? { ...standardProfile, name: '' } : standardProfile));
    form.addValidators(
      issuesValidator((typed: TypedProfile) =>
        (ListProfile.safeParse(profileOfTyped(typed, this.kept())).error?.issues ?? []).map((issue) => profileIssueAt(issue, typed)),
      ),
    );
    return form;
  });
  private readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  /** What the standard is, which cannot be changed. */
  protected readonly standard = `Names of at most ${standardProfile.maxLength} characters, ${standardProfile.allow}, as the points are called; CSV with ${standardProfile.columns.join(', ')}, apart by semicolons, in UTF-8 with a byte-order mark. A new profile begins like it.`;
  protected readonly columnNames = listColumns.map(({ name }) => name).join(', ');
  protected readonly cases: Option<ListProfile['case']>[] = [
    { value: 'as-is', text: 'as they are' },
    { value: 'upper', text: 'UPPER_CASE' },
    { value: 'lower', text: 'lower_case' },
    { value: 'camel', text: 'camelCase' },
    { value: 'snake', text: 'snake_case' },
  ];
  protected readonly separators: Option<ListProfile['separator']>[] = [
    { value: ';', text: 'semicolon' },
    { value: ',', text: 'comma' },
    { value: '\t', text: 'tab' },
    { value: '|', text: 'vertical bar' },
  ];
  protected readonly encodings = asOptions(['utf-8', 'utf-16le', 'windows-1252'] as const, (encoding) => {
    return { 'utf-8': 'UTF-8', 'utf-16le': 'UTF-16 LE', 'windows-1252': 'Windows-1252' }[encoding];
  });

  /** As the list comes out by what is typed, where that fits. */
  protected readonly list = computed(() => {
    const typed = ListProfile.safeParse(profileOfTyped(this.typed(), this.kept()));
    return variableList(this.project.document()!, this.controller(), typed.data ?? this.current());
  });
  /** What the chosen encoding has no place for. */
  protected readonly lost = computed(() => {
    if (this.typed().encoding !== 'windows-1252') return '';
    const signs = without1252(
      this.list()
        .rows.map(({ comment, source, unit }) => `${comment}${source}${unit}`)
        .join(''),
    );
    return signs.length ? `Windows-1252 has no ${signs.join(' ')}: the file has “?” there.` : '';
  });
  protected readonly leftOut = computed(() => {
    const names = this.list().leftOut;
    return names.length ? `Wider than any variable, and left out: ${names.join(', ')}.` : '';
  });

  private readonly chosenId = linkedSignal<string | null>(() => (this.of(), null));
  protected readonly chosen = computed(() => this.list().rows.find(({ pointId }) => pointId === this.chosenId()) ?? this.list().rows[0]);
  protected readonly chosenIds = computed(() => new Set(this.chosen() ? [this.chosen()!.pointId] : []));
  private readonly pointId = computed(() => this.chosen()?.pointId ?? '');
  private readonly setting = computed(() => this.project.document()!.variables.find(({ pointId }) => pointId === this.pointId()), {
    equal: isSame,
  });
  protected readonly variableForm = computed(() => {
    const form = variableGroup(this.setting());
    form.addValidators(schemaValidator({ schema: Variable, from: (typed: TypedVariable) => variableOfTyped(typed, this.keptVariable()) }));
    return form;
  });
  protected readonly idOf = ({ pointId }: ListedVariable): string => pointId;
  protected readonly columns: readonly Column<ListedVariable>[] = [
    { name: 'name', head: 'Name', kind: 'mono strong', text: ({ name }) => name },
    { name: 'type', head: 'Type', kind: 'mono', text: ({ type }) => type },
    { name: 'address', head: 'Address', kind: 'mono', text: ({ address }) => address },
    {
      ...{ name: 'initial', head: 'Initial', kind: 'mono' },
      text: ({ initial, wrong }) => (wrong ? 'no value' : initial),
      more: ({ wrong }) => wrong ?? '',
      classOf: ({ wrong }) => (wrong ? 'problem' : ''),
    },
    { name: 'retain', head: 'Retain', text: ({ retain }) => (retain ? 'yes' : '') },
    { name: 'source', head: 'Source', kind: 'cut', text: ({ source }) => source, more: ({ source }) => source },
    { name: 'point', head: 'Point', kind: 'cut', text: ({ point }) => point, more: ({ point }) => point },
    { name: 'changed', head: 'What became of its name', kind: 'quiet', text: ({ changed }) => changed.join(', ') },
  ];

  constructor() {
    this.unsaved.watch(() => 'the profile', this.form);
    this.unsaved.watch(() => 'the variable', this.variableForm);
  }

  protected choose({ pointId }: ListedVariable): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.chosenId.set(pointId));
  }

  /** The list follows another profile from now on; a new one is typed first. */
  protected follow(id: string): void {
    this.unsaved.mayLeave().subscribe((may) => {
      if (!may) return;
      this.chosenProfile.set(id);
      if (id === NEW || id === this.idOfProfile()) return;
      const after = this.profiles().find((profile) => profile.id === id);
      this.commit(`${this.controller().name} follows ${after?.name ?? 'Standard'}`, this.following(after ?? null));
    });
  }

  protected keepProfile(): void {
    const profile = readGroup(this.form(), { schema: ListProfile, from: (typed: TypedProfile) => profileOfTyped(typed, this.kept()) });
    if (!profile) return;
    const before = this.profiles().find(({ id }) => id === profile.id) ?? null;
    const own: Change = { entity: 'listProfile', id: profile.id, before, after: profile };
    const others = before ? [] : this.following(null);
    this.commit(`Profile ${profile.name}`, [own, ...others], () => {
      this.form().markAsPristine();
      this.chosenProfile.set(profile.id);
      this.editor.say(`${profile.name} is kept. Undo with Ctrl+Z.`);
    });
  }

  protected removeProfile(): void {
    const before = this.profiles().find(({ id }) => id === this.chosenProfile());
    if (!before) return;
    this.commit(`Delete profile ${before.name}`, [{ entity: 'listProfile', id: before.id, before, after: null }], () =>
      this.editor.say(`Deleted: profile ${before.name}. Ctrl+Z brings it back.`),
    );
  }

  protected keepVariable(): void {
    const variable = readGroup(this.variableForm(), {
      schema: Variable,
      from: (typed: TypedVariable) => variableOfTyped(typed, this.keptVariable()),
    });
    const row = this.chosen();
    if (!variable || !row) return;
    const twin = this.list().rows.find(
      ({ pointId, name, changed }) =>
        pointId !== row.pointId && changed.includes('given by hand') && name.toLowerCase() === variable.name?.toLowerCase(),
    );
    if (twin) return refuseIn(this.variableForm(), { message: `${twin.point} has this name already.`, path: ['name'] });
    const before = this.setting() ?? null;
    const isPlain = variable.name === null && variable.initial === '' && !variable.retain;
    if (isPlain && !before) return this.variableForm().markAsPristine();
    this.commit(`Variable of ${row.point}`, [{ entity: 'variable', id: variable.id, before, after: isPlain ? null : variable }], () => {
      this.variableForm().markAsPristine();
      this.editor.say(`${row.point} is kept. Undo with Ctrl+Z.`);
    });
  }

  private commit(label: string, changes: readonly Change[], done: () => void = () => undefined): void {
    if (changes.length === 0) return done();
    this.store.commit(label, [...changes]).subscribe((answer) => {
      if (answer.ok) return done();
      refuseIn(this.form(), answer.problem);
      this.chosenProfile.set(this.idOfProfile());
    });
  }

  /** What makes the list follow this profile, and no other; null for the standard one. */
  private following(wanted: ListProfile | null): Change[] {
    const of = this.of();
    return this.profiles().flatMap((before): Change[] => {
      const others = before.deviceIds.filter((id) => id !== of);
      const after = { ...before, deviceIds: before.id === wanted?.id ? [...others, of] : others };
      return isSame(before, after) ? [] : [{ entity: 'listProfile', id: before.id, before, after }];
    });
  }

  private idOfProfile(): string {
    const current = this.current();
    return 'id' in current ? current.id : STANDARD;
  }

  private kept(): KeptOfProfile {
    const { projectId } = this.controller();
    const known = this.profiles().find(({ id }) => id === this.chosenProfile());
    const { portable, scanMs, parts } = known ?? standardProfile;
    const whose = known ? { id: known.id, deviceIds: known.deviceIds } : { id: this.fresh(), deviceIds: [this.of()] };
    return { ...whose, projectId, portable, scanMs, parts };
  }

  private keptVariable(): Pick<Variable, 'id' | 'projectId' | 'pointId'> {
    const { projectId } = this.controller();
    return { id: this.setting()?.id ?? newId(), projectId, pointId: this.pointId() };
  }
}
