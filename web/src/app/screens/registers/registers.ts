import { farLineOf } from '@plain-envoy/core/converter';
import { beside } from '@plain-envoy/core/papers';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import { formatAddress, nearMiss, type Notation, notationNames, readAddress, type Table } from '@plain-envoy/core/address';
import { blankPoint, deletion, type Point, pointWidth } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { AlignView } from './align-view';
import { columnChoices } from './grid/columns';
import type { Ambiguous } from './grid/edits';
import { PointGrid } from './grid/point-grid';
import { ImportView } from './import-view';
import { DevicePanel } from '../../device/device-panel';
import { PapersPanel } from './papers-panel';
import { Documents } from '../../data/documents';
import { atEdge } from '../../data/state';
import { Actions } from '../../parts/actions';
import { Panes } from '../../parts/panes';
import { Unsaved } from '../../parts/unsaved';
import { ImageView } from './image-view';
import { MapState } from './map-state';
import { ModulesView } from './modules-view';
import { OrderHelp } from './order-help';
import { PointForm } from './point-form';
import { SettingsView } from './settings-view';
import { ProgramView } from './program-view';
import { ReadPanel } from './read-panel';
import { EventsView } from './events-view';
import { LinkView } from './link-view';
import { FramesView } from './frames-view';
import { TelegramsView } from './telegrams-view';
import { AddressStrip, type Span } from './strip';
import { placeAt } from '@plain-envoy/core/fields';
import { Choose } from '../../parts/choose';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

const columnsKept = 'plain-envoy columns';

type Side =
  { kind: 'point'; point: Point; isNew: boolean } | { kind: 'read' } | { kind: 'order' } | { kind: 'device' } | { kind: 'papers' } | null;

/** A device's register map: a grid edited in place, the address strip above it, and help to read it right. */
@Component({
  selector: 'pe-registers',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    AddressStrip,
    AlignView,
    Choose,
    FramesView,
    EventsView,
    LinkView,
    ImageView,
    ImportView,
    DevicePanel,
    PapersPanel,
    MatButtonModule,
    MatMenuModule,
    ModulesView,
    OrderHelp,
    Panes,
    PointForm,
    PointGrid,
    ProgramView,
    ReadPanel,
    SearchField,
    SettingsView,
    TelegramsView,
    TextField,
  ],
  providers: [MapState],
  templateUrl: './registers.html',
  styleUrl: './registers.scss',
  host: { '(keydown)': 'key($event)' },
})
export class RegistersScreen {
  private readonly router = inject(Router);
  private readonly unsaved = inject(Unsaved);
  private readonly editor = inject(Editor);
  private readonly store = inject(ProjectStore);
  protected readonly project = atEdge(this.store, 'document', 'devices', 'points');
  protected readonly state = inject(MapState);
  private readonly grid = viewChild(PointGrid);
  /** The chosen device and point, from the address. */
  readonly device = input<string>();
  readonly point = input<string>();
  /** A telegram or frame to be looked at. */
  readonly telegram = input<string>();
  readonly frame = input<string>();
  /** `settings`, where those of the device are to be looked at. */
  readonly view = input<string>();

  protected readonly formats = atEdge(inject(Documents), 'menus').menus;
  protected readonly withPoints = computed(() => this.project.document()!.devices.filter((device) => device.kind !== 'gateway'));
  protected readonly deviceOptions = computed(() => named(this.withPoints()));
  /** The address that is gone to next. */
  protected readonly wanted = signal('');
  protected readonly notations = computed(() =>
    (Object.keys(notationNames) as Notation[])
      .filter((id) => id !== 'area' || this.state.device()?.areas.length)
      .map((id) => ({ value: id, text: notationNames[id] })),
  );
  protected readonly table = signal<Table>('holding');
  protected readonly span = signal<Span | null>(null);
  protected readonly main = signal<
    'grid' | 'align' | 'import' | 'wanted' | 'modules' | 'program' | 'telegrams' | 'frames' | 'blocks' | 'events' | 'image'
  >('grid');
  protected readonly side = signal<Side>(null);
  protected readonly pasted = signal<string | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly ambiguous = signal<Ambiguous | null>(null);
  /** What was found for an address that was looked for. */
  protected readonly found = signal<string | null>(null);
  /** How many points its papers have otherwise. */
  protected readonly strays = computed(() => beside(this.project.document()!, this.state.deviceId()).length);
  protected readonly columnChoices = columnChoices;
  protected readonly columns = signal<ReadonlySet<string>>(keptColumns());
  protected readonly filter = signal('');

  constructor() {
    inject(Actions).offer({
      'registers.add': () => this.add(),
      'registers.import': () => this.offer(null),
      'registers.align': () => this.main.set('align'),
      'registers.modules': () => this.turnTo(null, this.openModules),
      'registers.wanted': () => this.turnTo(null, this.openSettings),
      'registers.program': () => this.turnTo(null, this.openProgram),
      'registers.image': () => this.turnTo(null, this.openImage),
      'registers.telegrams': () => this.turnTo(null, this.openTelegrams),
      'registers.frames': () => this.turnTo(null, this.openFrames),
      'registers.blocks': () => this.turnTo(null, this.openBlocks),
      'registers.events': () => this.turnTo(null, this.openEvents),
      'registers.read': () => this.turnTo({ kind: 'read' }),
      'registers.order': () => this.turnTo({ kind: 'order' }),
      'registers.device': () => this.turnTo({ kind: 'device' }),
      'registers.papers': () => this.turnTo({ kind: 'papers' }),
    });
    effect(() => {
      const point = this.project.points().get(this.point() ?? '');
      if (this.telegram() ?? this.frame()) return;
      const device = this.project.devices().get(point?.deviceId ?? this.device() ?? '') ?? this.withPoints()[0];
      untracked(() => {
        if (device && device.id !== this.state.deviceId()) {
          this.state.deviceId.set(device.id);
          this.state.chosenNotation.set(null);
          this.state.focused.set(null);
          this.clearWords();
          if (this.side()?.kind === 'point' && this.unsaved.isSaved()) this.side.set(null);
        }
        if (point && point.id !== this.state.focused()) {
          this.state.focused.set(point.id);
          this.grid()?.goTo(point.id, false);
        }
      });
    });
    effect(() => {
      const { telegrams, frames } = this.project.document()!;
      const message = telegrams.find(({ id }) => id === this.telegram()) ?? frames.find(({ id }) => id === this.frame());
      if (!message) return;
      untracked(() => {
        this.state.deviceId.set(message.deviceId);
        this.main.set(this.frame() ? 'frames' : 'telegrams');
      });
    });
    effect(() => {
      if (this.view() === 'settings') untracked(() => this.openSettings());
    });
    effect(() => {
      const grid = this.grid();
      // Where a device lies in no telegram or frame, a column that says so would be empty.
      const isShown = (id: string) => this.columns().has(id) && (id !== 'lies' || this.farLine() !== null);
      if (grid) for (const { id } of columnChoices) grid.setColumnShown(id, isShown(id));
    });
    effect(() => this.grid()?.filter.set(this.filter()));
    effect(() => {
      const focused = this.state.focusedPoint();
      if (focused && focused.id !== untracked(this.point)) {
        void this.router.navigate([], { queryParams: { device: focused.deviceId, point: focused.id }, replaceUrl: true });
      }
    });
  }

  protected chooseDevice(id: string): void {
    this.turnTo(null, () => {
      this.main.set('grid');
      void this.router.navigate([], { queryParams: { device: id } });
    });
  }

  protected readonly openModules = () => this.main.set('modules');
  protected readonly openProgram = () => this.main.set('program');
  protected readonly openImage = () => this.main.set('image');
  protected readonly openTelegrams = () => this.main.set('telegrams');
  protected readonly openFrames = () => this.main.set('frames');
  protected readonly openBlocks = () => this.main.set('blocks');
  protected readonly openEvents = () => this.main.set('events');
  /** The line of a device that speaks no Modbus. */
  protected readonly farLine = computed(() => farLineOf(this.project.document()!, this.state.deviceId()));
  protected readonly openSettings = () => this.main.set('wanted');

  /** Another panel, or none, once what was typed in this one may go. */
  protected turnTo(side: Side, then: () => void = () => undefined): void {
    this.unsaved.mayLeave().subscribe((may) => {
      if (!may) return;
      this.side.set(side);
      then();
    });
  }

  protected toggleColumn(id: string): void {
    const columns = new Set(this.columns());
    if (!columns.delete(id)) columns.add(id);
    this.columns.set(columns);
    localStorage.setItem(columnsKept, JSON.stringify([...columns]));
  }

  protected exportUrl(format: string): string {
    const device = this.state.device();
    return device ? `/api/projects/${device.projectId}/devices/${device.id}/map?format=${format}` : '';
  }

  /** Goes to what lies at an address, however it is written; else says what was meant, and what is near. */
  protected find(text: string): void {
    this.clearWords();
    if (!text.trim()) return;
    const { notation, areas } = this.state.context();
    const own = readAddress(text, { notation, areas });
    const any = readAddress(text, { areas });
    const readings = [...(own.ok ? own.value : []), ...(any.ok ? any.value : [])];
    for (const reading of readings) {
      const at = this.state.points().find((point) => covers(point, reading));
      if (!at) continue;
      this.grid()?.goTo(at.id);
      const others = [
        ...new Set(
          readings
            .filter((other) => other.offset !== reading.offset)
            .map((other) => `${notationNames[other.notation]}: offset ${other.offset}`),
        ),
      ];
      return this.found.set(
        `${text} is ${at.name}. ${reading.why}${others.length ? ` It could also be read as ${others.join(', or ')}.` : ''}`,
      );
    }
    // A slip is looked for among addresses that are written like the one typed.
    const written = own.ok || !any.ok ? notation : any.value[0]!.notation;
    const near = nearMiss(text, this.state.points(), written, areas);
    if (near) {
      this.found.set(
        `${text} is no point of this map. ${formatAddress(near, written, areas)}, ${near.name}, is: a digit may be wrong, or two swapped.`,
      );
    } else if (readings[0]) {
      this.found.set(`No point lies there. ${readings[0].why}`);
    } else if (!any.ok) {
      this.problem.set(any.problem.message);
    }
  }

  /** Takes the second or third reading of an address that was just typed. */
  protected takeReading(index: number): void {
    const ambiguous = this.ambiguous();
    const reading = ambiguous?.readings[index];
    const point = ambiguous && this.project.points().get(ambiguous.point.id);
    if (!reading || !point) return;
    const placed = placeAt(point, reading);
    if (!placed.ok) return this.problem.set(placed.problem.message);
    this.ambiguous.set(null);
    this.grid()?.place(point, placed.value.point);
  }

  protected readingText({ readings }: Ambiguous, index: number): string {
    const { notation, offset } = readings[index]!;
    return `${notationNames[notation]}: offset ${offset}`;
  }

  /** A new point starts where the last one, or the chosen one, ends. */
  protected add(): void {
    const device = this.state.device();
    if (!device) return;
    const after = this.state.focusedPoint() ?? this.state.points().at(-1);
    const ids = { id: newId(), projectId: device.projectId, deviceId: device.id };
    const point: Point = {
      ...(after ?? blankPoint(ids)),
      ...ids,
      name: '',
      note: '',
      bits: [],
      codes: [],
      offset: after ? Math.min(65_535, after.offset + pointWidth(after)) : 0,
    };
    this.turnTo({ kind: 'point', point, isNew: true });
  }

  protected open(point: Point): void {
    this.turnTo({ kind: 'point', point, isNew: false });
  }

  protected remove(points: readonly Point[]): void {
    const document = this.project.document()!;
    const changes = deletion(document, 'point', ...points.map(({ id }) => id));
    if (changes.length === 0) return;
    const routes = changes.length - points.length;
    const what = points.length === 1 ? points[0]!.name : `${points.length} points`;
    this.store.commit(`Delete ${what}${routes ? ` and ${routes} route${routes === 1 ? '' : 's'}` : ''}`, changes).subscribe((answer) => {
      if (!answer.ok) return this.problem.set(answer.problem.message);
      this.side.set(null);
      this.editor.say(`Deleted: ${what}${routes ? `, with ${routes} route${routes === 1 ? '' : 's'}` : ''}. Ctrl+Z brings it back.`);
    });
  }

  protected saved(point: Point): void {
    this.side.set(null);
    setTimeout(() => this.grid()?.goTo(point.id));
  }

  protected offer(text: string | null): void {
    this.turnTo(null, () => {
      this.pasted.set(text);
      this.main.set('import');
    });
  }

  protected back(): void {
    this.main.set('grid');
    this.pasted.set(null);
  }

  protected closeSide(): void {
    this.turnTo(null, () => {
      const focused = this.state.focused();
      if (focused) this.grid()?.goTo(focused);
    });
  }

  protected goTo(pointId: string): void {
    this.grid()?.goTo(pointId);
  }

  protected key(event: KeyboardEvent): void {
    if (event.altKey && (event.key === '2' || event.key === '3') && this.ambiguous()) {
      event.preventDefault();
      void this.takeReading(Number(event.key) - 2);
    }
  }

  private clearWords(): void {
    this.problem.set(null);
    this.found.set(null);
    this.ambiguous.set(null);
  }
}

function covers(point: Point, { table, offset, bit }: { table: Table | null; offset: number; bit: number | null }): boolean {
  const inside = offset >= point.offset && offset < point.offset + pointWidth(point);
  return inside && (table === null || table === point.table) && (bit === null || point.bit === null || bit === point.bit);
}

function keptColumns(): ReadonlySet<string> {
  const first = columnChoices.filter((column) => column.first).map(({ id }) => id);
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(columnsKept) ?? 'null');
    return new Set(Array.isArray(kept) ? kept.filter((id): id is string => typeof id === 'string') : first);
  } catch {
    return new Set(first);
  }
}
