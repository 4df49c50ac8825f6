import { CdkDrag, type CdkDragDrop, CdkDragHandle, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormArray, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { type MatCheckboxChange, MatCheckboxModule } from '@angular/material/checkbox';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { Book, type BookChapter, bookChapters, isSame } from '@plain-envoy/core/model';
import { map, merge, of, switchMap } from 'rxjs';
import { Books } from '../../data/books';
import { Documents } from '../../data/documents';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { ChooseSeveral } from '../../parts/choose-several';
import { controlOf, textControl } from '../../parts/controls';
import { downloadBlob } from '../../parts/download';
import { percentOf } from '../../parts/format';
import { Icon } from '../../parts/icon';
import { arrowStep } from '../../parts/keys';
import { named } from '../../parts/named';
import { problemIn, readGroup, refuseIn, schemaValidator, valueIn } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { Unsaved } from '../../parts/unsaved';
import { BookChapterView } from './book-chapter';
import { pictureOf } from './picture';

const schema = Book.omit({ chapters: true });

/** The book of the project: what it contains and in what order, what stands on its title page, each chapter to be read, and all of it as a file. */
@Component({
  selector: 'pe-book-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[BookChapterView, CdkDrag, CdkDragHandle, CdkDropList, Icon, MatButtonModule, MatCheckboxModule, MatProgressBarModule],
    ...[ChooseSeveral, ReactiveFormsModule, TextField],
  ],
  templateUrl: './book-view.html',
  styleUrls: ['./handover.scss', './variables-view.scss', './book-view.scss'],
})
export class BookView {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'revision');
  private readonly books = inject(Books);
  protected readonly made = atEdge(this.books, 'making', 'problem');
  protected readonly formats = computed(() => this.menus.menus().book);
  private readonly menus = atEdge(inject(Documents), 'menus');
  private readonly editor = inject(Editor);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly of = input.required<string>();

  protected readonly book = computed(() => this.project.document()!.project.book, { equal: isSame });
  /** Those that are in the book in its order, and then the others. */
  protected readonly chapters = computed(() => {
    const { chapters } = this.book();
    const out = bookChapters.filter(({ chapter }) => !chapters.includes(chapter));
    return [...chapters.map((chapter) => bookChapters.find((one) => one.chapter === chapter)!), ...out].map((one) => ({
      ...one,
      isIn: chapters.includes(one.chapter),
    }));
  });
  private readonly chosen = signal<BookChapter | null>(null);
  protected readonly shown = computed(() => this.chosen() ?? this.chapters()[0]!.chapter);
  /** The lines that it is about; none for the whole project. One that is gone does not count. */
  private readonly chosenLines = signal<readonly string[]>([]);
  protected readonly lineOptions = computed(() => named(this.project.document()!.lines));
  protected readonly aboutLines = computed(() => this.chosenLines().filter((id) => this.lineOptions().some(({ value }) => value === id)));
  private readonly lineIds = computed(() => (this.aboutLines().length ? this.aboutLines() : null));
  private readonly asked = computed(() => ({ chapter: this.shown(), lineIds: this.lineIds(), revision: this.project.revision() }), {
    equal: isSame,
  });
  private readonly answer = toSignal(
    toObservable(this.asked).pipe(
      switchMap(({ chapter, lineIds }) =>
        merge(of(null), this.books.chapter(chapter, lineIds).pipe(map((answer) => ({ chapter, answer })))),
      ),
    ),
    { initialValue: null },
  );
  /** What was read last stays until the next is there. */
  protected readonly read = linkedSignal<ReturnType<typeof this.answer>, ReturnType<typeof this.answer>>({
    source: this.answer,
    computation: (now, before) => now ?? before?.value ?? null,
  });
  protected readonly problem = computed(() => {
    const read = this.read();
    return read && !read.answer.ok ? read.answer.problem.message : null;
  });
  protected readonly content = computed(() => {
    const read = this.read();
    return read?.answer.ok && read.chapter === this.shown() ? read.answer.value : null;
  });

  protected readonly form = computed(() => titleGroup(this.book()));
  private readonly typed = valueIn(this.form);
  protected readonly formProblem = problemIn(this.form);
  protected readonly logo = computed(() => this.typed().logo);
  protected readonly logoProblem = signal<string | null>(null);
  protected readonly percent = computed(() => percentOf(this.made.making()?.progress));

  constructor() {
    inject(Unsaved).watch(() => 'the title page of the book', this.form);
    this.books.made$.pipe(takeUntilDestroyed()).subscribe(({ name, blob }) => {
      downloadBlob(blob, name);
      this.editor.say(`${name} is made.`);
    });
  }

  protected open(chapter: BookChapter): void {
    this.chosen.set(chapter);
  }

  protected include(chapter: BookChapter, { checked: isIn, source }: MatCheckboxChange): void {
    const { chapters } = this.book();
    if (!isIn && chapters.length === 1) {
      source.checked = true;
      return this.editor.say('A book has at least one chapter.');
    }
    this.put(isIn ? [...chapters, chapter] : chapters.filter((one) => one !== chapter));
  }

  protected dropped({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    this.move(previousIndex, currentIndex);
  }

  protected key(event: KeyboardEvent, index: number): void {
    const by = arrowStep(event);
    if (!by) return;
    event.preventDefault();
    if (event.altKey) return this.move(index, index + by, true);
    this.focus(index + by);
  }

  protected make(format: string): void {
    this.books.make(format, this.lineIds());
  }

  protected choose(lineIds: readonly string[]): void {
    this.chosenLines.set(lineIds);
  }

  protected stop(): void {
    this.books.stop();
  }

  protected lines() {
    return this.form().controls.titleBlock;
  }

  protected addLine(): void {
    this.lines().push(lineGroup({ label: '', text: '' }));
    this.form().markAsDirty();
  }

  protected dropLine(index: number): void {
    this.lines().removeAt(index);
    this.form().markAsDirty();
  }

  protected async pick(file: File | undefined): Promise<void> {
    if (!file) return;
    const picture = await pictureOf(file);
    this.logoProblem.set(picture.ok ? null : picture.problem.message);
    if (picture.ok) this.setLogo(picture.value);
  }

  protected setLogo(logo: string): void {
    this.form().controls.logo.setValue(logo);
    this.form().markAsDirty();
  }

  protected keep(): void {
    const form = this.form();
    const title = readGroup(form, { schema });
    if (!title) return;
    const before = this.project.document()!.project;
    const change = { entity: 'project', id: before.id, before, after: { ...before, book: { ...before.book, ...title } } } as const;
    this.store.commit('Title page of the book', [change]).subscribe((answer) => {
      if (!answer.ok) return refuseIn(form, answer.problem);
      form.markAsPristine();
      this.editor.say('It is kept. Undo with Ctrl+Z.');
    });
  }

  /** Of those that are in the book; the others have no order. */
  private move(from: number, to: number, keepsFocus = false): void {
    const chapters = [...this.book().chapters];
    if (from >= chapters.length) return;
    const until = Math.min(Math.max(to, 0), chapters.length - 1);
    if (until === from) return;
    moveItemInArray(chapters, from, until);
    this.put(chapters, keepsFocus ? until : null);
  }

  private put(chapters: BookChapter[], focus: number | null = null): void {
    const before = this.project.document()!.project;
    const change = { entity: 'project', id: before.id, before, after: { ...before, book: { ...before.book, chapters } } } as const;
    this.store.commit('Contents of the book', [change]).subscribe((answer) => {
      if (!answer.ok) return this.editor.say(answer.problem.message);
      if (focus !== null) setTimeout(() => this.focus(focus));
    });
  }

  private focus(index: number): void {
    this.element.querySelectorAll<HTMLElement>('.contents button.chapter')[index]?.focus();
  }
}

function titleGroup({ company, logo, titleBlock }: Book) {
  const form = new FormGroup({
    company: textControl(company),
    logo: controlOf(logo),
    titleBlock: new FormArray(titleBlock.map(lineGroup)),
  });
  form.addValidators(schemaValidator({ schema }));
  return form;
}

function lineGroup({ label, text }: Book['titleBlock'][number]) {
  return new FormGroup({ label: textControl(label), text: textControl(text) });
}
