import { afterRenderEffect, ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import { CdkDrag, CdkDragHandle, CdkDropList } from '@angular/cdk/drag-drop';
import { MatButtonModule } from '@angular/material/button';
import { MatTableModule } from '@angular/material/table';
import { alongLine } from '@plain-envoy/core/making';
import { clientsOf } from '@plain-envoy/core/plan';
import { Editor } from '../../data/editor';
import { PlanStore } from '../../data/plan';
import { Icon } from '../../parts/icon';
import { arrowStep } from '../../parts/keys';
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
  imports: [CdkDrag, CdkDragHandle, CdkDropList, Icon, MatButtonModule, MatTableModule],
  templateUrl: './members.html',
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
    .grip {
      width: 20px;
      padding-right: 0;
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
  /** The columns of the members, and those of the line above them. */
  protected readonly names = computed(() => ['grip', 'device', ...this.columns().map(({ key }) => key), 'mends']);
  protected readonly lineNames = computed(() => this.names().map((name) => `line ${name}`));
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

  /** The port that the keyboard goes on with, once it is where it was put. */
  private following: { id: string; index: number } | null = null;

  constructor() {
    const element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    afterRenderEffect(() => {
      const [rows, following] = [this.rows(), this.following];
      if (!following || rows[following.index]?.port.id !== following.id) return;
      this.following = null;
      element.querySelector<HTMLElement>(`tr[data-id="${following.id}"]`)?.focus();
    });
  }

  protected lineCell(key: string): string {
    return this.medium().lineCell(this.line(), key) ?? (key in this.expected() ? word(this.expected()[key]) : '');
  }

  protected readonly idOf = (_: number, { port }: Row): string => port.id;

  /** A device is put to another place along the line. */
  protected put(from: number, to: number): void {
    const ports = this.ports();
    const moved = ports[from] && ports[to] ? alongLine(ports, from, to) : [];
    if (moved.length === 0) return;
    const before = new Map(ports.map((port) => [port.id, port]));
    this.commit(
      `Put ${this.rows()[from]!.name} to place ${to + 1} of ${this.line().name}`,
      ...moved.map((after) => ({ entity: 'port' as const, id: after.id, before: before.get(after.id)!, after })),
    );
  }

  protected key(event: KeyboardEvent, row: Row): void {
    if (event.target !== event.currentTarget) return;
    const step = arrowStep(event);
    const index = this.rows().indexOf(row);
    if (event.key === 'Enter') return this.choose.emit(row.port.id);
    if (!step) return;
    event.preventDefault();
    if (event.altKey) {
      this.following = { id: row.port.id, index: index + step };
      return this.put(index, index + step);
    }
    const rows = (event.currentTarget as HTMLElement).parentElement!.querySelectorAll<HTMLElement>('tr[data-port]');
    rows[index + step]?.focus();
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

  private commit(label: string, ...changes: { entity: 'port' | 'line'; id: string; before: object; after: object }[]): void {
    this.store
      .commit(
        label,
        changes.map((change) => ({ ...change, before: { ...change.before }, after: { ...change.after } })),
      )
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
