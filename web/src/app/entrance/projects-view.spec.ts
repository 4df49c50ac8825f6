import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { ListedProject, TakeInEvent } from '@plain-envoy/core/feed';
import { Subject } from 'rxjs';
import { Refused } from '../data/api';
import { projectInAddress } from '../data/project-id';
import { Projects } from '../data/projects';
import { Messages } from '../data/messages';
import { pageOf, textOf, turn, typeInto } from '../testing.spec-helper';
import { columns } from './columns';
import { ProjectsView } from './projects-view';

const listed = (id: string, name: string, more: Partial<ListedProject> = {}): ListedProject => ({
  ...{ id, name, client: '', note: '', revision: 3, changedAtMs: 1, lines: 2, devices: 5, routes: 8, proved: 4 },
  ...{ findings: { stop: 0, warning: 0, advice: 0 }, isArchived: false, deletedAtMs: null },
  ...more,
});
const mill = listed('mill', 'Mill street', { client: 'Lower Town Water', findings: { stop: 1, warning: 2, advice: 3 }, runsOn: 'real' });
const store = listed('store', 'Cold store', { findings: null, proved: null });
const old = listed('old', 'Old works', { isArchived: true });
const gone = listed('gone', 'Gone works', { deletedAtMs: 5 });

describe('the list of projects', () => {
  let http: HttpTestingController;
  let fixture: ComponentFixture<ProjectsView>;
  let went: string[];

  const list = (...rows: ListedProject[]) => {
    http.expectOne('/api/projects').flush(rows);
    fixture.detectChanges();
  };
  const names = () => [...pageOf(fixture).querySelectorAll('tbody [data-cell=name]')].map((cell) => cell.textContent!.trim());
  const row = (name: string) =>
    [...pageOf(fixture).querySelectorAll<HTMLElement>('tbody tr')].find((tr) => tr.textContent!.includes(name))!;
  const choose = async (entry: string) => {
    const item = [...document.querySelectorAll<HTMLElement>('.mat-mdc-menu-item')].find((one) => one.textContent!.includes(entry))!;
    item.click();
    fixture.detectChanges();
    await turn();
  };
  const press = (name: string, key: string) => {
    row(name).dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    fixture.detectChanges();
  };

  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
    http = TestBed.inject(HttpTestingController);
    spyOn(TestBed.inject(Messages), 'say');
    fixture = TestBed.createComponent(ProjectsView);
    went = [];
    spyOn(fixture.componentInstance as unknown as { goTo(address: string): void }, 'goTo').and.callFake((address) => went.push(address));
    fixture.detectChanges();
  });
  afterEach(() => fixture.destroy());

  it('lists what is worked on, and apart from it what is put away and what was deleted', () => {
    list(mill, store, old, gone);
    expect(names()).toEqual(['Mill street', 'Cold store']);
    expect(row('Mill street').innerText).toMatch(/Lower Town Water[\s\S]*1 stop · 5 remarks[\s\S]*4 of 8[\s\S]*runs on the real plant/);
    expect(row('Cold store').innerText).toMatch(/counting …[\s\S]*8 routes/);
    const toggle = (text: string) => {
      [...pageOf(fixture).querySelectorAll<HTMLElement>('mat-button-toggle button')].find((one) => one.innerText.includes(text))!.click();
      fixture.detectChanges();
    };
    toggle('Put away (1)');
    expect(names()).toEqual(['Old works']);
    toggle('Deleted (1)');
    expect(names()).toEqual(['Gone works']);
    row('Gone works').querySelector<HTMLElement>('button[name=restore]')!.click();
    http.expectOne('/api/projects/gone/restore').flush({});
  });

  it('finds by name, client and note, and says when there is none', () => {
    list(mill, store);
    typeInto(fixture, 'input[name=search]', 'town mill');
    expect(names()).toEqual(['Mill street']);
    typeInto(fixture, 'input[name=search]', 'brewery');
    expect(textOf(fixture, 'main')).toContain('No project here has “brewery” in its name, client or note.');
  });

  it('orders by what weighs most: a stop more than any remark, what is not counted least', () => {
    const by = columns.find(({ name }) => name === 'findings')!.by!;
    const one = (stop: number, warning: number) => by(listed('x', 'X', { findings: { stop, warning, advice: 0 } })) as number;
    expect(one(1, 0)).toBeGreaterThan(one(0, 900));
    expect(by(store) as number).toBeLessThan(one(0, 0));
  });

  it('opens a project at an address of its own, by mouse and by Enter', () => {
    list(mill, store);
    row('Mill street').click();
    row('Cold store').focus();
    press('Cold store', 'Enter');
    expect(went).toEqual(['/project/mill/', '/project/store/']);
    const id = '019aa000-0000-7000-8000-000000000001';
    expect([projectInAddress(`/project/${id}/site`), projectInAddress(`/project/${id}`), projectInAddress('/site')]).toEqual([
      id,
      id,
      null,
    ]);
  });

  it('copies and puts away from its menu, and says why not where that is refused', async () => {
    list(mill);
    const menu = () => {
      row('Mill street').querySelector<HTMLElement>('button[name=more]')!.click();
      fixture.detectChanges();
    };
    menu();
    await choose('Duplicate');
    http.expectOne('/api/projects/mill/duplicate').flush({ ...mill, name: 'Mill street (2)' });
    list(mill);
    menu();
    await choose('Put away');
    const refused = { error: { message: 'It runs on the real plant. Stop it there before it is put away.', path: [] } };
    http.expectOne('/api/projects/mill/archived').flush(refused, { status: 409, statusText: 'No' });
    fixture.detectChanges();
    expect(textOf(fixture, '[role=alert]')).toContain('It runs on the real plant. Stop it there before it is put away.');
    expect(went).toEqual([]);
  });

  it('deletes by key, and takes back at once', () => {
    list(mill);
    const action = new Subject<void>();
    const offer = spyOn(TestBed.inject(Messages), 'offer').and.returnValue(action);
    press('Mill street', 'Delete');
    http.expectOne({ method: 'DELETE', url: '/api/projects/mill' }).flush({});
    expect(offer.calls.mostRecent().args).toEqual(['Mill street was deleted. For a day it is among the deleted.', 'Take back']);
    action.next();
    http.expectOne('/api/projects/mill/restore').flush({});
  });

  it('takes a file in that is dropped, tells how far it is, and stops when that is wanted', () => {
    list();
    expect(textOf(fixture, 'main')).toContain('There is no project yet. Begin one, or drop the file of one here.');
    const events = new Subject<TakeInEvent>();
    const take = spyOn(TestBed.inject(Projects), 'takeIn').and.returnValue(events);
    const file = new File(['{}'], 'mill.json');
    const drop = new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: new DataTransfer() });
    drop.dataTransfer!.items.add(file);
    pageOf(fixture).querySelector('main')!.dispatchEvent(drop);
    fixture.detectChanges();
    expect(textOf(fixture, '.taking')).toContain('mill.json is read …');
    events.next({ kind: 'read', rows: 40 });
    events.next({ kind: 'written', rows: 10 });
    fixture.detectChanges();
    expect(textOf(fixture, '.taking')).toContain('10 of 40 rows');
    expect(pageOf(fixture).querySelector('mat-progress-bar')!.getAttribute('aria-valuenow')).toBe('25');
    expect(events.observed).toBeTrue();
    pageOf(fixture).querySelector<HTMLElement>('button[name=stop-taking]')!.click();
    fixture.detectChanges();
    expect([events.observed, pageOf(fixture).querySelector('.taking')]).toEqual([false, null]);
    expect(take.calls.mostRecent().args[0]).toBe(file);
  });

  it('says which file was refused and why', () => {
    list();
    const events = new Subject<TakeInEvent>();
    spyOn(TestBed.inject(Projects), 'takeIn').and.returnValue(events);
    (fixture.componentInstance as unknown as { takeIn(file: File): void }).takeIn(new File(['no'], 'notes.txt'));
    events.error(new Refused({ message: 'This is no project of Plain Envoy.', path: [] }));
    fixture.detectChanges();
    expect(textOf(fixture, '[role=alert]')).toContain('notes.txt: This is no project of Plain Envoy.');
  });
});
