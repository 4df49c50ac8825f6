import { Component, signal, viewChild } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { frames } from '../../testing.spec-helper';
import { CellTemplate, type Column } from './column';
import { Table } from './table';

interface Row {
  id: string;
  size: number;
}

@Component({
  imports: [CellTemplate, Table],
  template: `<div style="display: flex; height: 280px">
    <pe-table
      label="Sizes"
      nothing="Nothing has a size."
      scrolls
      multiple
      [columns]="columns"
      [rows]="rows()"
      [idOf]="idOf"
      [(chosen)]="chosen"
      (choose)="told.push($event.id)"
      (rowKey)="told.push($event.event.key + ' on ' + $event.row.id)"
    >
      <ng-template peCell="drawn" let-row
        ><b>{{ row.size }}</b></ng-template
      >
    </pe-table>
  </div>`,
})
class Host {
  readonly table = viewChild.required<Table<Row>>(Table);
  readonly rows = signal<readonly Row[]>([]);
  readonly chosen = signal<ReadonlySet<string> | null>(new Set());
  readonly told: string[] = [];
  readonly idOf = ({ id }: Row) => id;
  readonly columns: readonly Column<Row>[] = [
    { name: 'id', head: 'Name', text: ({ id }) => id, more: ({ id }) => `This is ${id}.`, by: ({ id }) => id },
    { name: 'drawn', head: 'Size', kind: 'number', classOf: ({ size }) => (size > 5 ? 'big' : ''), by: ({ size }) => size },
  ];
}

describe('Table', () => {
  let fixture: ComponentFixture<Host>;
  const page = () => fixture.nativeElement as HTMLElement;
  const trs = () => [...page().querySelectorAll<HTMLElement>('tbody tr')];
  const ids = () => trs().map(({ dataset }) => dataset['id']);
  const of = (count: number) => Array.from({ length: count }, (_, index): Row => ({ id: `row ${index}`, size: (index * 7) % 10 }));
  const show = (rows: readonly Row[]) => {
    fixture.componentInstance.rows.set(rows);
    fixture.detectChanges();
  };
  const press = (key: string, more: KeyboardEventInit = {}) => {
    document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));
    fixture.detectChanges();
  };
  const chosen = () => [...fixture.componentInstance.chosen()!];

  beforeEach(() => {
    fixture = TestBed.createComponent(Host);
    document.body.append(page());
    fixture.detectChanges();
  });
  afterEach(() => page().remove());

  it('draws what each column says of a row, by text or by template, with classes and hints', () => {
    show(of(3));
    expect(trs()[1]!.innerText).toMatch(/row 1\s+7/);
    expect(trs()[1]!.querySelector('[data-cell=drawn] b')!.textContent).toBe('7');
    expect(trs().map((tr) => tr.querySelector('.big') !== null)).toEqual([false, true, false]);
    expect(trs()[2]!.querySelector<HTMLElement>('[data-cell=id]')!.title).toBe('This is row 2.');
  });

  it('says what stands in an empty one', () => {
    show([]);
    expect(page().innerText).toContain('Nothing has a size.');
  });

  it('is ordered by a column at a click on its head: up, down, and as it was', () => {
    show(of(4));
    const head = page().querySelectorAll<HTMLElement>('th')[1]!.querySelector<HTMLElement>('[role=button]')!;
    const orders = [1, 2, 3].map(() => {
      head.click();
      fixture.detectChanges();
      return ids().map((id) => Number(id!.slice(4)));
    });
    expect(orders).toEqual([
      [0, 3, 2, 1],
      [1, 2, 3, 0],
      [0, 1, 2, 3],
    ]);
  });

  it('is walked with the arrow keys, Home and End; Enter chooses, and other keys are told', () => {
    show(of(5));
    trs()[0]!.focus();
    press('ArrowDown');
    press('ArrowDown');
    expect((document.activeElement as HTMLElement).dataset['id']).toBe('row 2');
    expect(trs().map(({ tabIndex }) => tabIndex)).toEqual([-1, -1, 0, -1, -1]);
    press('Enter');
    press('Delete');
    press('End');
    expect((document.activeElement as HTMLElement).dataset['id']).toBe('row 4');
    press('Home');
    expect((document.activeElement as HTMLElement).dataset['id']).toBe('row 0');
    expect(fixture.componentInstance.told).toEqual(['row 2', 'Delete on row 2']);
  });

  it('chooses several: with Ctrl one more or less, with Shift all between, Ctrl+A all', () => {
    show(of(6));
    const click = (index: number, more: MouseEventInit = {}) => {
      trs()[index]!.dispatchEvent(new MouseEvent('click', { bubbles: true, ...more }));
      fixture.detectChanges();
    };
    click(1);
    click(3, { ctrlKey: true });
    expect(chosen()).toEqual(['row 1', 'row 3']);
    click(5, { shiftKey: true });
    expect(chosen()).toEqual(['row 3', 'row 4', 'row 5']);
    click(4, { ctrlKey: true });
    expect(chosen()).toEqual(['row 3', 'row 5']);
    trs()[2]!.focus();
    press(' ');
    press('ArrowDown', { shiftKey: true });
    expect(chosen()).toEqual(['row 2', 'row 3']);
    press('a', { ctrlKey: true });
    expect(chosen().length).toBe(6);
    expect(trs().every((tr) => tr.getAttribute('aria-selected') === 'true')).toBeTrue();
  });

  it('draws of many only what can be seen, follows the scrolling, and gives the keyboard to a row that was not drawn', async () => {
    show(of(3000));
    await frames(fixture);
    expect(trs().length).toBeLessThan(60);
    expect(ids()[0]).toBe('row 0');
    const box = page().querySelector('cdk-virtual-scroll-viewport')!;
    box.scrollTop = 28 * 1500;
    await frames(fixture);
    expect(ids()).toContain('row 1500');
    expect(ids()).not.toContain('row 0');
    expect(
      trs()
        .filter(({ tabIndex }) => tabIndex === 0)
        .map(({ dataset }) => dataset['id']),
    ).toEqual([ids()[0]]);
    expect(
      fixture.componentInstance
        .table()
        .inView()
        .map(({ id }) => id),
    ).toEqual(ids() as string[]);
    const [head, row] = [page().querySelector('th')!, page().querySelector('tr[data-id="row 1503"]')!];
    expect(head.getBoundingClientRect().top).toBeCloseTo(box.getBoundingClientRect().top, 0);
    expect(row.getBoundingClientRect().top).toBeGreaterThan(head.getBoundingClientRect().bottom - 1);
    expect((row as HTMLElement).offsetHeight)
      .withContext('as high as it is counted')
      .toBe(28);
    fixture.componentInstance.table().goTo(2990);
    await frames(fixture);
    expect((document.activeElement as HTMLElement).dataset['id']).toBe('row 2990');
    show(of(3));
    expect(ids()).toEqual(['row 0', 'row 1', 'row 2']);
  });
});
