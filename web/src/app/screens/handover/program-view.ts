import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { RouterLink } from '@angular/router';
import { profileFor, standardProfile } from '@plain-envoy/core/handover';
import { isSame, ListProfile, type ProgramPart, programParts } from '@plain-envoy/core/model';
import { debounceTime, merge, of, switchMap } from 'rxjs';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import type { ShownProgram, ToldProgram } from '../../data/program.worker';
import { Programs } from '../../data/programs';
import { ProjectStore } from '../../data/project';
import { RouteProofs } from '../../data/route-proofs';
import { atEdge } from '../../data/state';
import { asOptions, Choose } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { percentOf } from '../../parts/format';
import { problemIn, readGroup, refuseIn, schemaValidator, valueIn } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { ProgramEditor } from '../../program/program-editor';
import type { WithText } from './kind';

/** After the last edit a program is made anew so much later, ms. */
const CALM_MS = 250;

type Form = ReturnType<typeof programGroup>;

/** What a controller does to carry its routes, as a program to be put into its package; and the proof that this very text does it. */
@Component({
  selector: 'pe-program-of-controller',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, MatProgressBarModule, ProgramEditor, ReactiveFormsModule, RouterLink, TextField],
  templateUrl: './program-view.html',
  styleUrls: ['./handover.scss', './variables-view.scss', './column.scss', './program-view.scss'],
})
export class ProgramView implements WithText {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly live = atEdge(inject(Live), 'onRealPlant');
  private readonly proving = inject(RouteProofs);
  protected readonly proofs = atEdge(this.proving, 'progress', 'problem', 'isRunning', 'kept');
  private readonly editor = inject(Editor);
  private readonly programs = inject(Programs);
  /** The id of the controller. */
  readonly of = input.required<string>();

  protected readonly controller = computed(() => this.project.document()!.devices.find(({ id }) => id === this.of())!, { equal: isSame });
  private readonly profile = computed(() => profileFor(this.project.document()!, this.of()), { equal: isSame });
  protected readonly form = computed(() => {
    const form = programGroup(this.profile());
    form.addValidators(schemaValidator({ schema: ListProfile, from: (typed: ReturnType<Form['getRawValue']>) => this.wanted(typed) }));
    return form;
  });
  private readonly typed = valueIn(this.form);
  protected readonly problem = problemIn(this.form);
  protected readonly partList = programParts;
  /** Who else follows the same profile, and would be changed along. */
  protected readonly others = computed(() => {
    const profile = this.profile();
    const ids = 'deviceIds' in profile ? profile.deviceIds.filter((id) => id !== this.of()) : [];
    const names = this.project
      .document()!
      .devices.filter(({ id }) => ids.includes(id))
      .map(({ name }) => name);
    return names.length
      ? `It is part of the profile “${profile.name}”, which ${names.join(', ')} follow${names.length === 1 ? 's' : ''} too.`
      : '';
  });

  private readonly asked = computed(() => ({
    document: this.project.document()!,
    controllerId: this.of(),
    portable: this.typed().portable,
  }));
  private readonly told = toSignal(
    toObservable(this.asked).pipe(
      debounceTime(CALM_MS),
      switchMap((asked) => merge(of(null), this.programs.make(asked))),
    ),
    { initialValue: null },
  );
  protected readonly whyNot = computed(() => {
    const told = this.told();
    return told && 'problem' in told ? told.problem : '';
  });
  /** The last that was made: it stays while the next is being made. */
  protected readonly made = linkedSignal<ToldProgram | null, ShownProgram | null>({
    source: this.told,
    computation: (told, before) => (told === null ? (before?.value ?? null) : 'program' in told ? told.program : null),
  });
  protected readonly part = signal<ProgramPart>('program');
  protected readonly partOptions = computed(() => {
    const { parts } = this.typed();
    const wanted = programParts.filter(({ part }) => parts[part]);
    return asOptions(
      (wanted.length ? wanted : programParts).map(({ part }) => part),
      (part) => programParts.find((row) => row.part === part)!.label,
    );
  });
  protected readonly shownPart = computed(() => {
    const offered = this.partOptions().map(({ value }) => value);
    return offered.includes(this.part()) ? this.part() : offered[0]!;
  });
  protected readonly text = new FormControl('', { nonNullable: true });
  protected readonly about = computed(() => programParts.find(({ part }) => part === this.shownPart())!.about);

  /** How the routes of the controller stand that were proved by its program. */
  protected readonly tally = computed(() => {
    const mark = ` By the program of ${this.controller().name},`;
    const own = this.ownRoutes().flatMap(({ id }) => {
      const proof = this.proofs.kept().get(id);
      return proof?.sentence.includes(mark) ? [proof] : [];
    });
    if (own.length === 0) return 'It was not proved yet.';
    const good = own.filter(({ state }) => state === 'proved' || state === 'carried').length;
    return `${good} of ${own.length} routes were proved by it.`;
  });
  protected readonly isReal = computed(() => this.live.onRealPlant());
  protected readonly progress = computed(() => percentOf(this.proofs.progress()));

  constructor() {
    const unsaved = inject(Unsaved);
    unsaved.watch(() => 'how the program is made', this.form);
    this.proving.load();
    effect(() => this.text.setValue(this.made()?.parts[this.shownPart()] ?? ''));
  }

  /** The part that is shown. */
  copied(): string {
    return this.text.value;
  }

  protected keep(): void {
    const form = this.form();
    const after = readGroup(form, { schema: ListProfile, from: (typed: ReturnType<Form['getRawValue']>) => this.wanted(typed) });
    if (!after) return;
    const before = this.project.document()!.listProfiles.find(({ id }) => id === after.id) ?? null;
    this.store
      .commit(`Program of ${this.controller().name}`, [{ entity: 'listProfile', id: after.id, before, after }])
      .subscribe((answer) => {
        if (!answer.ok) return refuseIn(form, answer.problem);
        form.markAsPristine();
        this.editor.say('It is kept. Undo with Ctrl+Z.');
      });
  }

  protected prove(): void {
    this.proving.start(
      this.ownRoutes().map(({ id }) => id),
      true,
      true,
    );
  }

  protected stop(): void {
    this.proving.stop();
  }

  private ownRoutes() {
    return this.plan.plan().routes.filter(({ carrierId }) => carrierId === this.of());
  }

  /** The profile with what was typed; one of its own where the controller has none. */
  private wanted({ portable, scanMs, parts }: ReturnType<Form['getRawValue']>): unknown {
    const { projectId, name } = this.controller();
    const current = this.profile();
    const base =
      'id' in current ? current : { ...standardProfile, id: this.fresh, projectId, name: name.slice(0, 80), deviceIds: [this.of()] };
    return { ...base, portable, scanMs: typedNumber(scanMs), parts: programParts.flatMap(({ part }) => (parts[part] ? part : [])) };
  }

  private readonly fresh = newId();
}

/** The controls of how a program is made. */
function programGroup({ portable, scanMs, parts }: Pick<ListProfile, 'portable' | 'scanMs' | 'parts'>) {
  const wanted = Object.fromEntries(programParts.map(({ part }) => [part, controlOf(parts.includes(part))])) as Record<
    ProgramPart,
    FormControl<boolean>
  >;
  return new FormGroup({ portable: controlOf(portable), scanMs: textControl(scanMs), parts: new FormGroup(wanted) });
}
