import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { clientsOf } from '@plain-envoy/core/plan';
import { Editor } from '../../data/editor';
import { PlanStore } from '../../data/plan';
import { foundAt } from '../../parts/form';
import { wordOf } from '../../parts/words';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { type Line, type Port, mediumOf, type MemberColumn } from '@plain-envoy/core/media';

interface Cell {
  text: string;
  /** What the line has instead; null where they agree. */
  instead: string | null;
  /** Why it is wrong all the same. */
  found: string | null;
}

interface Row {
  port: Port;
  name: string;
  cells: Cell[];
  differs: boolean;
}

/** The members of a line side by side, as each is set; what differs from the line is marked where it differs. */
@Component({
  selector: 'pe-members',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `<table class="paper-table">
    <thead>
      <tr>
        <th>Device</th>
        @for (column of columns(); track column.key) {
          <th>{{ column.head }}</th>
        }
        <th></th>
      </tr>
      <tr class="line-row">
        <td>{{ line().name }}</td>
        @for (column of columns(); track column.key) {
          <td class="mono">{{ lineCell(column.key) }}</td>
        }
        <td></td>
      </tr>
    </thead>
    <tbody>
      @for (row of rows(); track row.port.id) {
        <tr
          tabindex="0"
          [attr.data-port]="row.name"
          [class.chosen]="row.port.id === chosen()"
          (click)="choose.emit(row.port.id)"
          (keydown.enter)="choose.emit(row.port.id)"
        >
          <td>{{ row.name }}</td>
          @for (cell of row.cells; track $index) {
            <td
              class="mono"
              [class.differs]="cell.instead !== null || cell.found"
              [title]="cell.found ?? (cell.instead !== null ? 'The line has ' + cell.instead : '')"
            >
              @if (cell.instead !== null || cell.found) {
                <span class="mark" [attr.aria-label]="cell.instead !== null ? 'differs' : 'wrong'">{{
                  cell.instead !== null ? '≠' : '!'
                }}</span>
              }
              {{ cell.text }}
            </td>
          }
          <td class="mends">
            @if (row.differs) {
              <button mat-button type="button" (click)="$event.stopPropagation(); setPort(row)">Set as the line</button>
              <button mat-button type="button" (click)="$event.stopPropagation(); setLine(row)">Set the line so</button>
            }
          </td>
        </tr>
      } @empty {
        <tr>
          <td [attr.colspan]="columns().length + 2">Nothing is on this line yet. Add a device to it.</td>
        </tr>
      }
    </tbody>
  </table>`,
  styles: `
    :host {
      display: block;
      overflow-x: auto;
    }
    .line-row td {
      border-bottom: 2px solid var(--mat-sys-on-surface);
      font-weight: 600;
    }
    tbody tr {
      cursor: pointer;
    }
    .differs {
      background: var(--mat-sys-error-container);
      color: var(--mat-sys-on-error-container);
      font-weight: 700;
    }
    .mends {
      padding: 0 4px;
    }
  `,
})
export class Members {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'devices');
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'plan', 'findings');
  readonly line = input.required<Line>();
  readonly ports = input.required<readonly Port[]>();
  readonly chosen = input<string>();
  readonly choose = output<string>();

  private readonly medium = computed(() => mediumOf(this.line().kind));
  protected readonly columns = computed(() => this.medium().columns);
  /** What a port must share with this line. */
  private readonly expected = computed((): Record<string, unknown> => this.medium().expected(this.line()));
  private readonly clients = computed(() => clientsOf(this.plan.plan().requests));
  protected readonly rows = computed((): Row[] => {
    const wrong = this.plan.findings().filter(({ severity }) => severity !== 'advice');
    return this.ports().map((port) => {
      const found = foundAt(wrong, port.id);
      const cells = this.columns().map((column): Cell => {
        const { key } = column;
        const expected = this.expected()[key];
        const differs = key in this.expected() && expected !== (port as Record<string, unknown>)[key];
        return { text: this.cell(port, column), instead: differs ? word(expected) : null, found: found.get(key) ?? null };
      });
      return {
        port,
        name: this.project.devices().get(port.deviceId)?.name ?? '',
        cells,
        differs: cells.some(({ instead }) => instead !== null),
      };
    });
  });

  protected lineCell(key: string): string {
    return this.medium().lineCell(this.line(), key) ?? (key in this.expected() ? word(this.expected()[key]) : '');
  }

  /** One action: the port takes over what the line has. */
  protected setPort({ port, name }: Row): void {
    const after = { ...port, ...this.expected() };
    this.commit(`Set ${name} as ${this.line().name}`, { entity: 'port', id: port.id, before: port, after });
  }

  /** One action: the line takes over what the port has. */
  protected setLine({ port, name }: Row): void {
    const before = this.line();
    const after = { ...before, ...this.medium().takenFrom(before, port) };
    this.commit(`Set ${before.name} as ${name}`, { entity: 'line', id: before.id, before, after });
  }

  private commit(label: string, change: { entity: 'port' | 'line'; id: string; before: object; after: object }): void {
    this.store
      .commit(label, [{ ...change, before: { ...change.before }, after: { ...change.after } }])
      .subscribe((answer) => this.editor.say(answer.ok ? `${label}. Undo with Ctrl+Z.` : answer.problem.message));
  }

  private cell(port: Port, { key, text }: MemberColumn<Port>): string {
    return text ? text(port, this.clients().get(port.deviceId) ?? 0) : word((port as Record<string, unknown>)[key]);
  }
}

function word(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return wordOf(value as string | number);
}
