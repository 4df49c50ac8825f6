import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { controlOf, textControl } from '../../parts/controls';
import { MatButtonModule } from '@angular/material/button';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { canBeWritten, type Point, Tile, type WatchItem, type WatchList } from '@plain-envoy/core/model';
import { faceLabel, facesFor, TILE_COLUMNS, tilesOf } from '@plain-envoy/core/tile';
import { CompactType, DisplayGrid, Gridster, type GridsterConfig, GridsterItem, GridType } from 'angular-gridster2';
import { debounceTime, Subject } from 'rxjs';
import { rowsFor } from '../../data/feed-topic';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { Samples } from '../../data/samples';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { asOptions, Choose } from '../../parts/choose';
import { numberOrNone } from '../../parts/form';
import { ageText } from '../../parts/format';
import { problemIn, readGroup, schemaValidator } from '../../parts/schema-group';
import { TextField } from '../../parts/text-field';
import { reasonIn, worstQuality } from '../../parts/quality';
import { TileFace } from './tile';
import { doubtOf, saidOf, type WatchRow } from './watch-rows';

const ROW_PX = 94;
const GAP_PX = 8;
const SETTLE_MS = 300;

/** A tile where it stands; its numbers are changed by the grid while it is dragged. */
interface Placed {
  row: WatchRow;
  point: Point;
  tile: Tile;
  /** Where it was put last. */
  was: Tile;
}

/** A watch list as tiles in a grid: looked at and worked with, or, to be arranged, dragged and moved by keyboard. */
@Component({
  selector: 'pe-tiles-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, Gridster, GridsterItem, MatButtonModule, MatButtonToggleModule, ReactiveFormsModule, TextField, TileFace],
  templateUrl: './tiles-view.html',
  styleUrl: './tiles-view.scss',
})
export class TilesView {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly hands = inject(Hands);
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'now', 'running');
  private readonly plan = atEdge(inject(PlanStore), 'doubts');
  readonly list = input.required<WatchList>();
  readonly rows = input.required<readonly WatchRow[]>();
  /** The items of the list with their tiles as they stand now. */
  readonly arranged = output<WatchItem[]>();

  protected readonly arranging = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly chosenIndex = signal<number | null>(null);
  private readonly samples = new Samples();
  private readonly moves = new Subject<void>();

  /** Anew whenever the list is another: what the grid has moved is kept in the list by then. */
  protected readonly placed = linkedSignal(() => {
    const rows = new Map(this.rows().map((row) => [row.item, row]));
    const tiles = tilesOf(this.list().items, (item) => pointOf(rows.get(item)));
    return this.list().items.flatMap((item, index): Placed[] => {
      const [row, tile] = [rows.get(item), tiles[index]];
      return row && tile ? [{ row, point: pointOf(row)!, tile: { ...tile }, was: tile }] : [];
    });
  });
  protected readonly groups = computed(() => {
    const names = [...new Set(this.placed().map(({ tile }) => tile.group))].sort((a, b) => a.localeCompare(b));
    return names.map((name) => {
      const tiles = this.placed().filter(({ tile }) => tile.group === name);
      return { name, tiles, height: Math.max(...tiles.map(({ tile: { y, rows } }) => y + rows)) * (ROW_PX + GAP_PX) + GAP_PX };
    });
  });
  protected readonly options = computed((): GridsterConfig => ({
    gridType: GridType.VerticalFixed,
    fixedRowHeight: ROW_PX,
    margin: GAP_PX,
    compactType: CompactType.None,
    displayGrid: this.arranging() ? DisplayGrid.Always : DisplayGrid.None,
    ...{ minCols: TILE_COLUMNS, maxCols: TILE_COLUMNS, minRows: 1, maxRows: 1000, mobileBreakpoint: 0 },
    ...{ pushItems: true, setGridSize: false, outerMargin: true },
    draggable: { enabled: this.arranging(), stop: () => this.keepSoon() },
    resizable: { enabled: this.arranging(), stop: () => this.keepSoon() },
  }));

  protected readonly readings = rowsFor(this.feed.points, () =>
    this.placed().flatMap(({ row }) => [row.source.id, ...(row.destination ? [row.destination.id] : [])]),
  );
  private readonly states = rowsFor(this.feed.routes, () => this.placed().flatMap(({ row }) => row.route?.id ?? []));

  protected readonly chosen = computed(() => this.placed().find(({ row }) => row.index === this.chosenIndex()) ?? null);
  private readonly check = computed(() => {
    const { tile } = this.chosen()!;
    return {
      schema: Tile,
      from: (typed: { face: Tile['face']; group: string; low: string; high: string }) => ({
        ...{ ...tile, face: typed.face, group: typed.group.trim() },
        low: numberOrNone(typed.low),
        high: numberOrNone(typed.high),
      }),
    };
  });
  protected readonly form = computed(() => {
    const { face, group, low, high } = this.chosen()?.tile ?? { face: 'number' as const, group: '', low: null, high: null };
    const form = new FormGroup({
      face: controlOf<Tile['face']>(face),
      group: textControl(group),
      low: textControl(low),
      high: textControl(high),
    });
    if (this.chosen()) form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly formProblem = problemIn(this.form);
  protected readonly faceOptions = computed(() => asOptions(this.chosen() ? facesFor(this.chosen()!.point) : [], faceLabel));

  constructor() {
    // Several steps of the keyboard are one edit.
    this.moves.pipe(debounceTime(SETTLE_MS), takeUntilDestroyed()).subscribe(() => this.tell());
    effect(() => {
      this.live.now();
      const readings = this.readings();
      for (const { point, tile } of this.placed()) if (tile.face === 'trend') this.samples.take(point, readings.get(point.id));
    });
  }

  protected words({ point }: Placed): readonly number[] | null {
    return this.readings().get(point.id)?.words ?? null;
  }

  protected quality({ row }: Placed) {
    return this.live.running() ? worstQuality(saidOf(row, this.readings(), this.states()), doubtOf(row, this.plan.doubts())) : null;
  }

  protected reason({ row }: Placed): string {
    return reasonIn(saidOf(row, this.readings(), this.states()), doubtOf(row, this.plan.doubts()));
  }

  protected age({ point }: Placed): string {
    return ageText(this.readings().get(point.id)?.atMs, this.live.now());
  }

  protected trend({ point, tile }: Placed): string {
    if (tile.face !== 'trend') return '';
    this.live.now();
    return this.samples.line(point.id, 200, 60);
  }

  protected canWrite({ point }: Placed): boolean {
    return this.live.running() && canBeWritten(point);
  }

  protected write({ point }: Placed, value: string): void {
    this.hands
      .write(point.id, value)
      .subscribe((answer) => this.problem.set(answer.ok ? null : `${point.name}: ${answer.problem.message}`));
  }

  protected arrange(on: boolean): void {
    this.arranging.set(on);
    this.chosenIndex.set(null);
  }

  /** Arrows move a tile, with Shift they make it larger or smaller. */
  protected key(event: KeyboardEvent, { row }: Placed): void {
    const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    const step = steps[event.key];
    if (!this.arranging() || event.target !== event.currentTarget) return;
    if (event.key === 'Enter') return this.chosenIndex.set(row.index);
    // Where it is now, which may be drawn only after the next key.
    const tile = this.placed().find((each) => each.row.index === row.index)?.tile;
    if (!step || !tile) return;
    event.preventDefault();
    const [across, down] = step;
    const moved = event.shiftKey
      ? { ...tile, cols: tile.cols + across, rows: tile.rows + down }
      : { ...tile, x: tile.x + across, y: tile.y + down };
    const fits = Tile.safeParse(moved);
    if (fits.success && !this.meetsOther(row.index, fits.data)) this.put(row.index, fits.data);
  }

  protected save(): void {
    const tile = readGroup(this.form(), this.check());
    const chosen = this.chosen();
    if (!tile || !chosen) return;
    const isElsewhere = tile.group !== chosen.tile.group;
    this.put(chosen.row.index, isElsewhere ? { ...tile, ...this.below(tile.group) } : tile);
  }

  protected fullScreen(): void {
    if (document.fullscreenElement) void document.exitFullscreen();
    else void this.host.requestFullscreen();
  }

  /** Once the grid has put its tile down. */
  private keepSoon(): void {
    setTimeout(() => this.keep(this.placed()));
  }

  private put(index: number, tile: Tile): void {
    this.keep(this.placed().map((each) => (each.row.index === index ? { ...each, tile } : each)));
  }

  private keep(placed: readonly Placed[]): void {
    const moved = placed.filter(({ tile, was }) => JSON.stringify(ownOf(tile)) !== JSON.stringify(ownOf(was)));
    if (moved.length === 0) return;
    // The next key goes on from here, also before it is kept.
    this.placed.set([...placed]);
    this.moves.next();
  }

  private tell(): void {
    const tiles = new Map(this.placed().map(({ row, tile }) => [row.index, tile]));
    this.arranged.emit(
      this.list().items.map((item, index) => {
        const tile = tiles.get(index);
        return tile ? { ...item, tile: ownOf(tile) } : item;
      }),
    );
  }

  private meetsOther(index: number, { group, x, y, cols, rows }: Tile): boolean {
    return this.placed().some(
      ({ row, tile }) =>
        row.index !== index &&
        tile.group === group &&
        tile.x < x + cols &&
        x < tile.x + tile.cols &&
        tile.y < y + rows &&
        y < tile.y + tile.rows,
    );
  }

  private below(group: string): { x: number; y: number } {
    const ends = this.placed().flatMap(({ tile }) => (tile.group === group ? [tile.y + tile.rows] : []));
    return { x: 0, y: Math.max(0, ...ends) };
  }
}

/** What is shown of a route is what arrives; what the route writes is not written by hand beside it. */
function pointOf(row: WatchRow | undefined): Point | undefined {
  return row?.destination ? { ...row.destination, access: 'read' } : row?.source;
}

/** A tile without what the grid notes in it. */
function ownOf({ face, group, x, y, cols, rows, low, high }: Tile): Tile {
  return { face, group, x, y, cols, rows, low, high };
}
