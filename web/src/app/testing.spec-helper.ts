import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import type { Provider, Type } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
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
import { compile } from '@plain-envoy/core/compile';

export const demo = fernhollow();
const compiled = compile(demo);
const csv = { id: 'csv', title: 'CSV', extension: 'csv' };
const menus = { map: [csv], sheet: [csv], trace: [csv] };

/** A live feed whose values the test decides. */
export class FakeLive {
  readonly connected$ = new BehaviorSubject(true);
  readonly running$ = new BehaviorSubject(true);
  readonly bench$ = new BehaviorSubject<BenchState>({ ...idleBench, running: true, projectId: demo.project.id, sinceMs: 1 });
  readonly onRealPlant$ = combineLatest([this.running$, this.bench$]).pipe(map(([running, { on }]) => running && on === 'real'));
  readonly database$ = new BehaviorSubject<DatabaseHealth>({ ok: true });
  readonly standInsProblem$ = new BehaviorSubject<string | null>(null);
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
export async function stage(more: Provider[] = []): Promise<Stage> {
  const live = new FakeLive();
  TestBed.configureTestingModule({
    providers: [
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter([]),
      { provide: Live, useValue: live },
      { provide: Documents, useValue: { menus$: of(menus) } },
      { provide: PlanStore, useValue: { plan$: new BehaviorSubject(compiled.plan), findings$: new BehaviorSubject(compiled.findings) } },
      ...more,
    ],
  });
  const http = TestBed.inject(HttpTestingController);
  const project = TestBed.inject(ProjectStore);
  project.load();
  http.expectOne('/api/projects').flush([{ id: demo.project.id }]);
  await turn();
  http.expectOne(`/api/projects/${demo.project.id}`).flush({ revision: 0, document: demo, undo: null, redo: null });
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

export function turn(): Promise<void> {
  return new Promise((done) => setTimeout(done));
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
  field.dispatchEvent(new Event(field.tagName === 'SELECT' ? 'change' : 'input', { bubbles: true }));
  fixture.detectChanges();
}

export async function submit(fixture: ComponentFixture<unknown>): Promise<void> {
  (fixture.nativeElement as HTMLElement).querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }));
  await turn();
  fixture.detectChanges();
}

export function pressKey(element: Element, key: string): void {
  element.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
}
