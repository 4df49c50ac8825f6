import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { NamedRevision, RevisionEntry, RevisionHistory } from '@plain-envoy/core/feed';
import { changesBetween, type Difference, type DifferenceGroup, inTermsOf, type Side, sidesFrom } from '@plain-envoy/core/handover';
import type { Change, ProjectDocument } from '@plain-envoy/core/model';
import { readProjectFile } from '@plain-envoy/core/project-file';
import { catchError, combineLatest, from, map, type Observable, of, startWith, Subject, switchMap } from 'rxjs';
import type { Answer } from '../../data/api';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { Revisions } from '../../data/revisions';
import { Session } from '../../data/session';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { textControl } from '../../parts/controls';
import { momentText } from '../../parts/format';
import { issuesValidator, problemIn, refuseIn } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';

/** With what a revision is compared: the project as it is now, or the revision before it; else a revision that has a name. */
const [NOW, BEFORE, FILE] = ['now', 'before', 'file'];
/** Before the id of another project. */
const OTHER = 'project ';
/** So many things of a group are shown. */
const SHOWN = 200;

/** A revision in the list. */
interface Row {
  revision: number;
  entry: RevisionEntry | null;
  named: NamedRevision | null;
}

/** A file of this project as it was taken out, or of another, and where it came from. */
interface Filed {
  name: string;
  document: ProjectDocument;
  /** What the project was when the file was made; null where that is not known here. */
  base: ProjectDocument | null;
  revision: number;
  /** Of another project: things of it have ids that are taken, so that none of them can be taken over. */
  isAnother: boolean;
}

interface Compared {
  from: string;
  to: string;
  /** What is compared; the second is the project as it is now where something can be taken over. */
  documents: [ProjectDocument, ProjectDocument];
  groups: DifferenceGroup[];
  means: string[];
}

/** The edits of the project, revisions with names, and what is otherwise between two of them, or in a file. */
@Component({
  selector: 'pe-revisions-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './revisions-view.html',
  styleUrls: ['./handover.scss', './variables-view.scss', './revisions-view.scss'],
})
export class RevisionsView {
  private readonly revisions = inject(Revisions);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'revision');
  private readonly editor = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  private readonly session = inject(Session);
  /** What one calls oneself, where nobody signs in. */
  protected readonly called = atEdge(this.session, 'called').called;
  protected readonly calledForm = computed(() => new FormGroup({ called: textControl(this.called() ?? '') }));
  readonly of = input.required<string>();

  private readonly history = signal<RevisionHistory | null>(null);
  protected readonly problem = signal<string | null>(null);
  private readonly again = new Subject<void>();
  protected readonly rows = computed((): Row[] => {
    const history = this.history();
    if (!history) return [];
    const names = new Map(history.names.map((named) => [named.revision, named]));
    const listed = history.entries.map((entry): Row => ({ revision: entry.revision, entry, named: names.get(entry.revision) ?? null }));
    const known = new Set(listed.map(({ revision }) => revision));
    const others = [...history.names.map(({ revision }) => revision), history.first].filter((revision) => !known.has(revision));
    return [
      ...listed,
      ...[...new Set(others)].map((revision): Row => ({ revision, entry: null, named: names.get(revision) ?? null })),
    ].sort((a, b) => b.revision - a.revision);
  });
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'revision', head: 'Revision', kind: 'number strong', text: ({ revision }) => revision },
    { name: 'name', head: 'Name', kind: 'strong', text: ({ named }) => named?.name ?? '', more: ({ named }) => named?.note ?? '' },
    { name: 'label', head: 'What was done', kind: 'cut', text: (row) => labelOf(row), more: (row) => labelOf(row) },
    { name: 'size', head: 'Things', kind: 'number', text: ({ entry }) => entry?.size ?? '' },
    { name: 'by', head: 'By', text: ({ entry, named }) => entry?.by ?? named?.by ?? '' },
    { name: 'at', head: 'When', kind: 'mono', text: ({ entry }) => (entry ? momentText(entry.atMs) : '') },
  ];
  protected readonly idOf = ({ revision }: Row): string => String(revision);

  private readonly chosenRevision = signal<number | null>(null);
  protected readonly chosen = computed(
    () => this.rows().find(({ revision }) => revision === this.chosenRevision()) ?? this.rows()[0] ?? null,
  );
  protected readonly chosenIds = computed(() => new Set(this.chosen() ? [String(this.chosen()!.revision)] : []));
  protected readonly file = signal<Filed | null>(null);
  protected readonly besides = computed((): Option<string>[] => [
    { value: BEFORE!, text: 'the one before it' },
    { value: NOW!, text: `now, revision ${this.project.revision()}` },
    ...(this.history()?.names ?? [])
      .filter(({ revision }) => revision !== this.chosen()?.revision)
      .map(({ revision, name }) => ({ value: String(revision), text: `${name}, revision ${revision}` })),
    ...(this.file() ? [{ value: FILE!, text: this.file()!.name }] : []),
    ...this.others().map(({ id, name }) => ({ value: `${OTHER}${id}`, text: `another project: ${name}` })),
  ]);
  private readonly others = toSignal(this.revisions.others().pipe(map((answer) => (answer.ok ? answer.value : []))), { initialValue: [] });
  protected readonly beside = signal<string>(BEFORE!);
  protected readonly compared = signal<Compared | null>(null);
  /** On which side each difference to a file came about, where it is known what both come from. */
  protected readonly sides = computed((): ReadonlyMap<string, Side> => {
    const base = this.beside() === FILE ? this.file()?.base : null;
    if (!base) return new Map();
    const sideOf = sidesFrom(base);
    return new Map((this.compared()?.groups ?? []).flatMap(({ rows }) => rows.map(({ change }) => [change.id, sideOf(change)] as const)));
  });
  protected readonly isAt = signal(false);
  /** Only what leads to the project as it is now can be taken back or over, one by one; empty elsewhere. */
  protected readonly takes = computed(() => {
    if (this.beside() === NOW) return 'Take back';
    return this.beside() === FILE && !this.file()?.isAnother ? 'Take over' : '';
  });
  protected readonly canReturn = computed(() => this.chosen() !== null && this.chosen()!.revision !== this.history()?.current);

  protected readonly form = computed(() => {
    const named = this.chosen()?.named;
    return new FormGroup(
      { name: textControl(named?.name ?? ''), note: textControl(named?.note ?? '') },
      {
        validators: issuesValidator(({ name, note }: { name: string; note: string }) => [
          ...(name.trim().length > 80 ? [{ path: ['name'], message: 'At most 80 characters.' }] : []),
          ...(note.trim() && !name.trim() ? [{ path: ['name'], message: 'A name is needed where there is a note.' }] : []),
        ]),
      },
    );
  });
  protected readonly formProblem = problemIn(this.form);

  constructor() {
    this.unsaved.watch(() => 'the name of a revision', this.form);
    combineLatest([toObservable(this.project.revision), this.again.pipe(startWith(undefined))])
      .pipe(
        switchMap(() => this.revisions.list()),
        takeUntilDestroyed(),
      )
      .subscribe((answer) => {
        this.problem.set(answer.ok ? null : answer.problem.message);
        if (answer.ok) this.history.set(answer.value);
      });
    const asked = computed(() => ({
      chosen: this.chosen()?.revision ?? null,
      beside: this.beside(),
      now: this.project.document(),
      file: this.file(),
    }));
    toObservable(asked)
      .pipe(
        switchMap(({ chosen, beside }) => {
          if (chosen === null) return of(null);
          this.isAt.set(true);
          return this.compare(chosen, beside);
        }),
        takeUntilDestroyed(),
      )
      .subscribe((told) => {
        this.isAt.set(false);
        this.compared.set(told && 'groups' in told ? told : null);
        if (told && 'problem' in told) this.problem.set(told.problem);
      });
  }

  protected choose({ revision }: Row): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.chosenRevision.set(revision));
  }

  protected keepCalled(): void {
    const form = this.calledForm();
    this.session.call(form.getRawValue().called.trim()).subscribe((answer) => {
      form.markAllAsTouched();
      if (!answer.ok) return refuseIn(form, { message: answer.problem.message, path: ['called'] });
      this.editor.say(this.called() ? `What you do stands under “${this.called()}” from now on.` : 'What you do stands under no name.');
    });
  }

  protected shownOf({ rows }: DifferenceGroup): Difference[] {
    return rows.slice(0, SHOWN);
  }

  protected keepName(): void {
    const revision = this.chosen()?.revision;
    const form = this.form();
    form.markAllAsTouched();
    if (revision === undefined || form.invalid) return;
    const { name, note } = form.getRawValue();
    this.revisions.name(revision, name.trim(), note.trim()).subscribe((answer) => {
      if (!answer.ok) return refuseIn(form, answer.problem);
      form.markAsPristine();
      this.history.set(answer.value);
      this.editor.say(name.trim() ? `Revision ${revision} is “${name.trim()}”.` : `Revision ${revision} has no name.`);
    });
  }

  /** The project as it was, as one edit more, which can be undone. */
  protected goBack(): void {
    const revision = this.chosen()!.revision;
    this.revisions.at(revision).subscribe((answer) => {
      if (!answer.ok) return this.problem.set(answer.problem.message);
      this.commit(`Back to revision ${revision}`, changesBetween(this.store.current!, answer.value.document));
    });
  }

  /** One thing of the project as it is on the other side. */
  protected takeOver({ change, name }: Difference): void {
    // Beside now the comparison leads here, so that what was is taken back.
    const wanted: Change = this.beside() === NOW ? { ...change, before: change.after, after: change.before } : change;
    this.commit(`${name} as it ${this.beside() === NOW ? 'was' : 'is in the file'}`, [wanted]);
  }

  /** A file of a project, to be compared with what is here now. */
  protected async open(file: File | undefined): Promise<void> {
    if (!file) return;
    const read = readProjectFile(await file.text());
    if (!read.ok) return this.problem.set(`${file.name}: ${read.problem.message}`);
    const { document, revision } = read.value;
    // Of another project it has no state that both come from.
    if (document.project.id !== this.of())
      return this.besideFile({
        name: file.name,
        document: inTermsOf(this.project.document()!, document),
        base: null,
        revision,
        isAnother: true,
      });
    this.revisions
      .at(revision)
      .pipe(map((answer) => (answer.ok ? answer.value.document : null)))
      .subscribe((base) => {
        this.besideFile({ name: file.name, document, base, revision, isAnother: false });
      });
  }

  private besideFile(file: Filed): void {
    this.problem.set(null);
    this.file.set(file);
    this.beside.set(FILE!);
  }

  private commit(label: string, changes: Change[]): void {
    if (changes.length === 0) return this.editor.say('Nothing is otherwise.');
    this.store.commit(label, changes).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }

  private compare(chosen: number, beside: string): Observable<Compared | { problem: string } | null> {
    const sides = this.sidesOf(chosen, beside);
    if (!sides) return of(null);
    return combineLatest([sides.from.state, sides.to.state]).pipe(
      switchMap(([old, now]) => {
        if (!old.ok || !now.ok) return of({ problem: (old.ok ? (now as Extract<typeof now, { ok: false }>) : old).problem.message });
        return this.revisions
          .compare(old.value, now.value)
          .pipe(
            map((told) =>
              'problem' in told
                ? told
                : { ...told, from: sides.from.name, to: sides.to.name, documents: [old.value, now.value] as Compared['documents'] },
            ),
          );
      }),
      catchError((error: unknown) => of({ problem: String(error) })),
    );
  }

  private sidesOf(chosen: number, beside: string) {
    const at = (revision: number) => ({
      name: `revision ${revision}`,
      state: this.revisions
        .at(revision)
        .pipe(map((answer): Answer<ProjectDocument> => (answer.ok ? { ok: true, value: answer.value.document } : answer))),
    });
    const held = (name: string, document: ProjectDocument) => ({
      name,
      state: from([{ ok: true, value: document } as Answer<ProjectDocument>]),
    });
    const now = held(`now, revision ${this.project.revision()}`, this.project.document()!);
    const file = this.file();
    const other = this.others().find(({ id }) => beside === `${OTHER}${id}`);
    if (other) return { from: now, to: { name: other.name, state: this.revisions.other(other.id, this.project.document()!) } };
    if (beside === FILE) return file ? { from: now, to: held(`${file.name}, of revision ${file.revision}`, file.document) } : null;
    if (beside === NOW) return { from: at(chosen), to: now };
    if (beside === BEFORE) return chosen > (this.history()?.first ?? chosen) ? { from: at(chosen - 1), to: at(chosen) } : null;
    const [first, second] = [chosen, Number(beside)].sort((a, b) => a - b) as [number, number];
    return { from: at(first), to: at(second) };
  }
}

function labelOf({ entry }: Row): string {
  if (!entry) return 'As the project came in';
  return entry.kind === 'edit' ? entry.label : `${entry.kind === 'undo' ? 'Undone' : 'Done again'}: ${entry.label}`;
}
