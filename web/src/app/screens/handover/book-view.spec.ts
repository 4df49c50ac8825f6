import type { ComponentFixture } from '@angular/core/testing';
import { type Block, chapterOf, type Section } from '@plain-envoy/core/book';
import type { BookChapter, Change, ProjectDocument } from '@plain-envoy/core/model';
import { fileOf } from '@plain-envoy/core/project-file';
import { BehaviorSubject, of, Subject } from 'rxjs';
import { Books } from '../../data/books';
import type { MadeFile } from '../../data/made-file';
import { demo, optionOf, pageOf, pick, pressKey, type Stage, stage, textOf, turn, typeInto } from '../../testing.spec-helper';
import { BookView } from './book-view';

/** Makes chapters in the page itself. */
class AtOnce {
  readonly making$ = new BehaviorSubject<{ format: string; progress: { kind: 'progress'; done: number; total: number } | null } | null>(
    null,
  );
  readonly problem$ = new BehaviorSubject<string | null>(null);
  readonly made$ = new Subject<MadeFile>();
  readonly asked: string[] = [];
  refuses = false;
  more: Block[] = [];
  chapter(chapter: BookChapter, lineIds: readonly string[] | null) {
    this.asked.push(lineIds ? `${chapter} of ${lineIds.length}` : chapter);
    if (this.refuses) return of({ ok: false as const, problem: { message: 'It is not there.', path: [] } });
    const made = chapterOf(fileOf(demo, 1, []), chapter, lineIds);
    return of({ ok: true as const, value: { ...made, blocks: [...made.blocks, ...this.more] } satisfies Section });
  }
  make = (format: string, lineIds: readonly string[] | null) => this.asked.push(`make ${format}${lineIds ? ` of ${lineIds.length}` : ''}`);
  stop = () => this.asked.push('stop');
}

describe('The book, on Handover', () => {
  let on: Stage;
  let view: ComponentFixture<BookView>;
  let books: AtOnce;
  const open = async (document?: ProjectDocument) => {
    on = await stage([{ provide: Books, useValue: books }], document);
    view = on.show(BookView, { of: demo.project.id });
    await drawn();
  };
  const drawn = async () => {
    for (let times = 0; times < 3; times++) {
      await turn();
      view.detectChanges();
    }
  };
  const chapters = () => [...pageOf(view).querySelectorAll<HTMLElement>('button.chapter')];
  const click = async (selector: string) => {
    pageOf(view).querySelector<HTMLElement>(selector)!.click();
    await drawn();
  };
  const sent = () => on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { label: string; changes: Change[] };
  const bookAfter = () => (sent().changes[0]!.after as unknown as ProjectDocument['project']).book;

  beforeEach(() => (books = new AtOnce()));

  it('is of some lines alone where these are chosen', async () => {
    await open();
    const loft = demo.lines.find(({ name }) => name === 'Loft bus')!;
    pick(view, 'lines', loft.id);
    await drawn();
    expect(books.asked.at(-1)).toBe('lines of 1');
    expect(textOf(view, 'pe-book-chapter')).toContain('Grain cable 1');
    expect(textOf(view, 'pe-book-chapter')).not.toContain('Burner control');
    await click('[name=make-csv]');
    expect(books.asked.at(-1)).toBe('make csv of 1');
    optionOf(loft.id).click();
    await drawn();
    expect(textOf(view, 'pe-book-chapter')).toContain('Burner control');
    await click('[name=make-csv]');
    expect(books.asked.at(-1)).toBe('make csv');
  });

  it('lists its chapters in their order, and shows the one that is chosen as it stands there', async () => {
    await open();
    expect(chapters().map(({ innerText }) => innerText.trim())).toEqual([
      ...[
        'Lines',
        'Settings',
        'Register maps',
        'Routes',
        'Mapping sheets',
        'Requests',
        'Rounds',
        'What is lost when',
        'Findings',
        'Proofs',
      ],
      ...['As found', 'Protocol', 'Revisions'],
    ]);
    expect(textOf(view, 'pe-book-chapter')).toContain('Kiln bus');
    const drawing = pageOf(view).querySelector<HTMLImageElement>('img.drawing')!;
    expect(drawing.alt).toContain('Wiring of Kiln bus');
    await drawing.decode();
    expect(drawing.naturalWidth).toBeGreaterThan(500);
    await click('[data-chapter=findings]');
    expect(textOf(view, 'pe-book-chapter h2')).toBe('Findings');
    expect(pageOf(view).querySelector('[data-chapter=findings]')!.getAttribute('aria-current')).toBe('true');
  });

  it('shows a long chapter and a long table in part, and says how much more there is', async () => {
    const rows = Array.from({ length: 100 }, (_, index) => [index]);
    books.more = [{ kind: 'table', title: 'Long', columns: [{ head: 'No.', isNumber: true }], rows }];
    await open();
    await click('[data-chapter=maps]');
    expect(textOf(view, 'pe-book-chapter')).toContain('60 more rows are in the book.');
    const shown = () => pageOf(view).querySelectorAll('pe-book-chapter section').length;
    expect(shown()).toBe(12);
    await click('[name=more-sections]');
    expect(shown()).toBeGreaterThan(12);
  });

  it('says why a chapter is not there', async () => {
    books.refuses = true;
    await open();
    expect(textOf(view, '.read [role=alert]')).toBe('It is not there.');
  });

  it('takes a chapter out', async () => {
    await open();
    await click('input[name=in-routes]');
    expect(bookAfter().chapters).toEqual(demo.project.book.chapters.filter((chapter) => chapter !== 'routes'));
  });

  it('has chapters that are out at the end, from where they come in again', async () => {
    await open({ ...demo, project: { ...demo.project, book: { ...demo.project.book, chapters: ['routes', 'lines'] } } });
    expect(
      chapters()
        .slice(0, 3)
        .map(({ innerText }) => innerText.trim()),
    ).toEqual(['Routes', 'Lines', 'Settings']);
    await click('input[name=in-maps]');
    expect(bookAfter().chapters).toEqual(['routes', 'lines', 'maps']);
  });

  it('keeps its last chapter', async () => {
    await open({ ...demo, project: { ...demo.project, book: { ...demo.project.book, chapters: ['routes'] } } });
    await click('input[name=in-routes]');
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    expect(pageOf(view).querySelector<HTMLInputElement>('input[name=in-routes]')!.checked).toBeTrue();
  });

  it('puts a chapter elsewhere by Alt with an arrow key, and is walked by the arrows alone', async () => {
    await open();
    pressKey(chapters()[1]!, 'ArrowUp', { altKey: true });
    expect(bookAfter().chapters.slice(0, 2)).toEqual(['settings', 'lines']);
    pressKey(chapters()[1]!, 'ArrowDown');
    expect(document.activeElement).toBe(chapters()[2]!);
    pressKey(chapters()[0]!, 'ArrowUp', { altKey: true });
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
  });

  it('keeps the title page, and says in place what does not fit', async () => {
    await open();
    await click('[name=add-line]');
    typeInto(view, '[name=text-3]', 'Somebody');
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    await drawn();
    on.http.expectNone(`/api/projects/${demo.project.id}/change-sets`);
    expect(textOf(view, 'form')).toContain('What is it?');
    typeInto(view, '[name=label-3]', 'Approved by');
    typeInto(view, 'input[name=company]', 'Another');
    pageOf(view)
      .querySelector('form')!
      .dispatchEvent(new SubmitEvent('submit', { cancelable: true, bubbles: true }));
    const { company, titleBlock, chapters: kept } = bookAfter();
    expect(company).toBe('Another');
    expect(titleBlock.at(-1)).toEqual({ label: 'Approved by', text: 'Somebody' });
    expect(kept).toEqual(demo.project.book.chapters);
  });

  it('is made in the format that is wanted, shows how far it is, and can be stopped', async () => {
    await open();
    await click('[name=make-csv]');
    expect(books.asked.at(-1)).toBe('make csv');
    const bar = () => pageOf(view).querySelector('mat-progress-bar')!.getAttribute('aria-valuenow');
    books.making$.next({ format: 'csv', progress: null });
    await drawn();
    expect(textOf(view, '[aria-label="Make the book"]')).toContain('It is made: 0 %');
    books.making$.next({ format: 'csv', progress: { kind: 'progress', done: 60, total: 120 } });
    await drawn();
    expect(bar()).toBe('50');
    await click('[name=stop-book]');
    expect(books.asked.at(-1)).toBe('stop');
    books.making$.next(null);
    books.problem$.next('It takes too long.');
    await drawn();
    expect(textOf(view, '[aria-label="Make the book"] [role=alert]')).toBe('It takes too long.');
  });
});
