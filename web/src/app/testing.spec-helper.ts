import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import type { Provider, Type } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { ProjectDocument, Route } from '@plain-envoy/core/model';
import { fernhollow } from '@plain-envoy/core/demo';
import type { ErrandRun } from '@plain-envoy/core/errand';
import {
  type Accepted,
  type BenchState,
  type Counters,
  type DatabaseHealth,
  idleBench,
  type Reading,
  type RouteState,
  type Tally,
} from '@plain-envoy/core/feed';
import { BehaviorSubject, combineLatest, map, type Observable, of, Subject, take } from 'rxjs';
import { Documents } from './data/documents';
import { FeedTopic } from './data/feed-topic';
import { Live } from './data/live';
import { PlanStore } from './data/plan';
import { ProjectStore } from './data/project';
import { PROJECT_ID } from './data/project-id';
import type { SearchField } from './parts/search-field';
import { compile } from '@plain-envoy/core/compile';

export const demo = fernhollow();
const compiled = compile(demo);
const csv = { id: 'csv', title: 'CSV', extension: 'csv' };
const menus = { map: [csv], sheet: [csv], mapping: [csv], variables: [csv], program: [csv], losses: [csv], book: [csv], trace: [csv] };

/** A live feed whose values the test decides. */
export class FakeLive {
  readonly connected$ = new BehaviorSubject(true);
  readonly running$ = new BehaviorSubject(true);
  readonly bench$ = new BehaviorSubject<BenchState>({ ...idleBench, running: true, projectId: demo.project.id, sinceMs: 1 });
  readonly onRealPlant$ = combineLatest([this.running$, this.bench$]).pipe(map(([running, { on }]) => running && on === 'real'));
  readonly database$ = new BehaviorSubject<DatabaseHealth>({ ok: true });
  readonly standInsProblem$ = new BehaviorSubject<string | null>(null);
  readonly standInsPort$ = new BehaviorSubject<number | null>(1502);
  readonly now$ = new BehaviorSubject(10_000);
  readonly errandRuns$ = new BehaviorSubject<ReadonlyMap<string, ErrandRun>>(new Map());
  readonly tally$ = new BehaviorSubject<Tally>({});
  readonly accepted$ = new Subject<Accepted>();
  readonly returned$ = new Subject<void>();
  readonly told$ = new Subject<string>();
  /** Exchanges a second, by device. */
  readonly rates = new Map<string, number>();
  readonly points = new FeedTopic<Reading>(({ pointId }) => pointId);
  readonly routes = new FeedTopic<RouteState>(({ routeId }) => routeId);
  readonly devices = new FeedTopic<Counters>(({ id }) => id);
  readonly requests = new FeedTopic<Counters>(({ id }) => id);
  get bench(): BenchState {
    return this.bench$.value;
  }

  benchIs(state: BenchState): void {
    this.bench$.next(state);
  }

  rate = (id: string) => this.rates.get(id) ?? 0;
}

export interface Stage {
  live: FakeLive;
  http: HttpTestingController;
  project: ProjectStore;
  show<T>(component: Type<T>, inputs?: Record<string, unknown>): ComponentFixture<T>;
}

/** A page with the demo loaded, without a server. */
export async function stage(more: Provider[] = [], document: ProjectDocument = demo): Promise<Stage> {
  const live = new FakeLive();
  TestBed.configureTestingModule({
    providers: [
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter([]),
      { provide: Live, useValue: live },
      { provide: Documents, useValue: { menus$: of(menus) } },
      { provide: PROJECT_ID, useValue: demo.project.id },
      {
        provide: PlanStore,
        useValue: {
          plan$: new BehaviorSubject(compiled.plan),
          findings$: new BehaviorSubject(compiled.findings),
          doubts$: new BehaviorSubject(new Map()),
        },
      },
      ...more,
    ],
  });
  const http = TestBed.inject(HttpTestingController);
  const project = TestBed.inject(ProjectStore);
  project.load();
  http.expectOne(`/api/projects/${demo.project.id}`).flush({ revision: 0, document, undo: null, redo: null });
  return {
    live,
    http,
    project,
    show(component, inputs = {}) {
      const fixture = TestBed.createComponent(component);
      for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
      fixture.detectChanges();
      return fixture;
    },
  };
}

/** What a state is at this moment. */
export function nowOf<T>(state: Observable<T>): T {
  let [now, isThere]: [T | undefined, boolean] = [undefined, false];
  state.pipe(take(1)).subscribe((value) => ([now, isThere] = [value, true]));
  if (!isThere) throw new Error('It has no value yet.');
  return now as T;
}

/** What the server tells of a route that delivers. */
export function carriedState({ id }: Route): RouteState {
  return {
    ...{ routeId: id, quality: 'good', reason: null, writtenWords: [1], writtenAtMs: 9600, sourceAtMs: 9500, age: null },
    ...{ failures: 0, isLost: false, isForced: false },
  };
}

/** Something speaks against what is read or carried there. */
export function doubt(id: string, sentence: string): void {
  (TestBed.inject(PlanStore).doubts$ as BehaviorSubject<ReadonlyMap<string, string>>).next(new Map([[id, sentence]]));
}

export function turn(): Promise<void> {
  return new Promise((done) => setTimeout(done));
}

/** Called first, it gives what waits until every file that the page reads from then on has been read, however long the browser takes for that. */
export function filesRead(): () => Promise<void> {
  const spied = (name: 'text' | 'arrayBuffer') =>
    jasmine.isSpy(Blob.prototype[name]) ? (Blob.prototype[name] as jasmine.Spy) : spyOn(Blob.prototype, name).and.callThrough();
  const reads = [spied('text'), spied('arrayBuffer')];
  return async () => {
    await Promise.all(reads.flatMap(({ calls }) => calls.all().map(({ returnValue }) => returnValue as Promise<unknown>)));
    await turn();
  };
}

/** Until what is drawn frame by frame has been drawn. */
export async function frames(fixture: ComponentFixture<unknown>, count = 6): Promise<void> {
  for (let frame = 0; frame < count; frame++) {
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
    fixture.detectChanges();
  }
}

export const pageOf = (fixture: { nativeElement: unknown }) => fixture.nativeElement as HTMLElement;
export const pointNamed = (name: string) => demo.points.find((point) => point.name === name)!;
export const routeNamed = (name: string) => demo.routes.find((route) => route.name === name)!;
export const deviceNamed = (name: string) => demo.devices.find((device) => device.name === name)!;

/** What the fixture shows, as a person reads it. */
export function textOf(fixture: ComponentFixture<unknown>, selector = '*'): string {
  const host = fixture.nativeElement as HTMLElement;
  const found = selector === '*' ? [host] : [...host.querySelectorAll<HTMLElement>(selector)];
  return found.map((element) => element.innerText).join('\n');
}

/** Types into a field, as the browser would tell of it. */
export function typeInto(fixture: ComponentFixture<unknown>, selector: string, text: string): void {
  const field = (fixture.nativeElement as HTMLElement).querySelector<HTMLInputElement>(selector)!;
  field.value = text;
  field.dispatchEvent(new Event('input', { bubbles: true }));
  fixture.detectChanges();
}

/** Chooses by mouse in the field of this name: in a list that opens, or by searching for the text of what has this value. */
export function pick(fixture: ComponentFixture<unknown>, name: string, value: string): void {
  const field = (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>(`[data-name="${name}"]`)!;
  const box = field.querySelector('input');
  if (box) {
    const part = fixture.debugElement.query(({ nativeElement }) => nativeElement === field);
    const { options } = part.componentInstance as SearchField<string>;
    const text = options().find((option) => option.value === value)?.text ?? '';
    box.dispatchEvent(new Event('focusin'));
    box.value = text;
    box.dispatchEvent(new Event('input', { bubbles: true }));
    fixture.detectChanges();
    if (text === '') return void leave(fixture, box);
  } else {
    field.querySelector<HTMLElement>('.mat-mdc-select-trigger')!.click();
    fixture.detectChanges();
  }
  optionOf(value).click();
  fixture.detectChanges();
}

/** What the field of this name shows. */
export function shownIn(fixture: ComponentFixture<unknown>, name: string): string {
  const field = (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>(`[data-name="${name}"]`)!;
  return field.querySelector('input')?.value ?? field.querySelector<HTMLElement>('.mat-mdc-select-value')!.innerText.trim();
}

/** Chooses in the menu that a button of this name opens. */
export function pickInMenu(fixture: ComponentFixture<unknown>, button: string, item: string): void {
  (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>(`button[name="${button}"]`)!.click();
  fixture.detectChanges();
  [...document.querySelectorAll<HTMLElement>(`[mat-menu-item]${item}`)].at(-1)!.click();
  fixture.detectChanges();
}

export function optionOf(value: string): HTMLElement {
  return [...document.querySelectorAll<HTMLElement>('mat-option')].filter((option) => option.dataset['value'] === value).at(-1)!;
}

function leave(fixture: ComponentFixture<unknown>, box: HTMLElement): void {
  box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', keyCode: 27 }));
  box.dispatchEvent(new Event('blur'));
  fixture.detectChanges();
}

export async function submit(fixture: ComponentFixture<unknown>): Promise<void> {
  (fixture.nativeElement as HTMLElement).querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }));
  await turn();
  fixture.detectChanges();
}

/** Lists of the CDK still look at the number of a key. */
const keyCodes: Readonly<Record<string, number>> = { Enter: 13, Escape: 27, End: 35, Home: 36, ArrowUp: 38, ArrowDown: 40 };

export function pressKey(element: Element, key: string, held: Pick<KeyboardEventInit, 'altKey'> = {}): void {
  element.dispatchEvent(new KeyboardEvent('keydown', { ...held, key, keyCode: keyCodes[key] ?? 0, bubbles: true }));
}
