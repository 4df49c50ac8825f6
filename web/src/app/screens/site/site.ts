import {
  afterNextRender,
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { CdkScrollable, ScrollingModule } from '@angular/cdk/scrolling';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { type Counters } from '@plain-envoy/core/feed';
import { askedFor } from '@plain-envoy/core/converter';
import { type Device, type Point, readPoint } from '@plain-envoy/core/model';
import { occupancy } from '@plain-envoy/core/occupancy';
import { isTold, partOf } from '@plain-envoy/core/place';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { Actions } from '../../parts/actions';
import { atEdge } from '../../data/state';
import { lineText, portText } from '../../parts/format';
import { AddDevice } from './add-device';
import { DevicePanel } from '../../device/device-panel';
import { CARD, fitSite, layoutSite, scaleOf } from './layout';
import { type Part, SiteOverview } from './overview';
import { type Ribbon, ribbonsOf } from './ribbons';
import { RibbonPanel } from './ribbon-panel';
import { type Line, type Port } from '@plain-envoy/core/media';

const ZOOM_STEP = 1.15;

/** Of a ribbon: from which device to which. */
type Ends = Pick<Ribbon, 'fromId' | 'toId'>;
type Health = { state: 'answers' | 'silent' | 'damaged' | 'refuses' | 'idle'; word: string };

const healthOf: Record<NonNullable<Counters['lastOutcome']>, Health> = {
  answered: { state: 'answers', word: 'answers' },
  'no answer': { state: 'silent', word: 'no answer' },
  damaged: { state: 'damaged', word: 'damaged' },
  refused: { state: 'refuses', word: 'refuses' },
};

/** Every line as a stave with its devices hung on it in their physical order, bridges between lines, and routes as ribbons. */
@Component({
  selector: 'pe-site',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouterLink, ScrollingModule, AddDevice, DevicePanel, RibbonPanel, SiteOverview],
  templateUrl: './site.html',
  styleUrl: './site.scss',
})
export class SiteScreen {
  private readonly router = inject(Router);
  private readonly changes = inject(ChangeDetectorRef);
  protected readonly project = atEdge(inject(ProjectStore), 'document', 'devices');
  private readonly feed = inject(Live);
  private readonly askedAt = computed(() => askedFor(this.project.document()!));
  /** What tells of each device that sends telegrams or frames whether they are valid. */
  private readonly validPoints = computed(() => {
    const valid = this.project.document()!.points.filter(({ place }) => isTold(place) && 'state' in place && place.state === 'valid');
    const byDevice = new Map(valid.map(({ deviceId }) => [deviceId, [] as Point[]]));
    for (const point of valid) byDevice.get(point.deviceId)!.push(point);
    return byDevice;
  });
  private readonly readings = rowsFor(this.feed.points, () => [...this.validPoints().values()].flat().map(({ id }) => id));
  protected readonly live = atEdge(this.feed, 'now', 'running');
  protected readonly plan = atEdge(inject(PlanStore), 'plan', 'findings');
  /** The chosen device, from the address. */
  readonly device = input<string>();
  /** `device` while a device is being added. */
  readonly add = input<string>();
  /** The two devices of the ribbon that is looked into. */
  readonly from = input<string>();
  readonly to = input<string>();
  private readonly plant = viewChild.required<ElementRef<HTMLElement>>('plant');

  protected readonly card = CARD;
  protected readonly lineText = lineText;
  /** On a line whose network is written beside it, the last part of an address says all. */
  protected readonly shortPort = (port: Port) => (port.kind === 'ethernet' ? port.ip.replace(/^.*(?=\.)/, '') : portText(port));
  private readonly room = signal({ width: 1180, height: 700 });
  /** Everything in sight, or as large as it is read best. */
  protected readonly fits = signal(false);
  protected readonly pointed = signal<string | null>(null);
  /** The ribbon under the pointer. */
  protected readonly under = signal<Ribbon | null>(null);
  protected readonly layout = computed(() => {
    const { width, height } = this.room();
    return this.fits() ? fitSite(this.project.document()!, width, height) : layoutSite(this.project.document()!, width);
  });
  /** As a person has zoomed; null while it is as large as it fits or is read best. */
  private readonly zoom = signal<number | null>(null);
  protected readonly scale = computed(
    () => this.zoom() ?? (this.fits() ? scaleOf(this.layout(), this.room().width, this.room().height) : 1),
  );
  private readonly scrolled = signal({ left: 0, top: 0 });
  /** What of the site is in view, in its own measures; null where all of it is. */
  protected readonly seen = computed((): Part | null => {
    const [scale, { width, height }, { left, top }] = [this.scale(), this.room(), this.scrolled()];
    const layout = this.layout();
    if (layout.width * scale <= width + 24 && layout.height * scale <= height) return null;
    return { x: left / scale, y: top / scale, width: (width + 16) / scale, height: height / scale };
  });
  private readonly bundles = computed(() => ribbonsOf(this.plan.plan(), this.layout()));
  protected readonly ribbons = computed(() => {
    const shown = this.pointed() ?? this.device();
    const [under, carried] = [this.under(), this.carried()];
    const isSame = ({ fromId, toId }: Ribbon, other: Ends | null) => fromId === other?.fromId && toId === other.toId;
    return this.bundles().map((ribbon) => {
      const label = ribbon.fromId === shown ? ribbon.labels.to : ribbon.toId === shown ? ribbon.labels.from : null;
      return { ...ribbon, shown: label !== null || isSame(ribbon, under) || isSame(ribbon, carried), label };
    });
  });
  protected readonly carried = computed((): Ends | null => {
    const [fromId, toId] = [this.from(), this.to()];
    return fromId && toId ? { fromId, toId } : null;
  });
  private readonly busy = computed(() => occupancy(this.project.document()!, this.plan.plan().requests));
  private readonly counters = rowsFor(this.feed.devices, () => this.project.document()!.devices.map(({ id }) => id));
  private readonly rates = computed(() => {
    const byLine = new Map<string, number>();
    this.counters();
    this.live.now();
    if (!this.live.running()) return byLine;
    for (const { device, port } of this.layout().cards) byLine.set(port.lineId, (byLine.get(port.lineId) ?? 0) + this.feed.rate(device.id));
    return byLine;
  });
  protected readonly chosen = computed(() => this.project.devices().get(this.device() ?? ''));
  protected readonly summary = computed(() => {
    const { lines, devices, points, routes } = this.project.document()!;
    const rate = this.plan.plan().requests.reduce((sum, request) => sum + 1000 / request.periodMs, 0);
    return `${lines.length} lines, ${devices.length} devices, ${points.length} points, ${routes.length} routes · ${Math.round(rate)} requests a second planned`;
  });
  /** What was found wrong with lines and ports, where it is mended. */
  protected readonly trouble = computed(() =>
    this.plan.findings().filter(({ severity, at }) => severity === 'stop' && (at.entity === 'port' || at.entity === 'line')),
  );
  /** Who does not answer although nothing was found wrong with how it is set. */
  protected readonly silent = computed(() => {
    const explained = new Set(this.trouble().map(({ at }) => at.id));
    const found = new Set(this.project.document()!.ports.flatMap(({ id, deviceId }) => (explained.has(id) ? [deviceId] : [])));
    return this.project.document()!.devices.flatMap((device) => {
      const counters = this.counters().get(device.id);
      const silent = this.live.running() && !found.has(device.id) && counters && counters.lastOutcome !== 'answered' && counters.lastError;
      return silent ? [{ device, error: counters.lastError! }] : [];
    });
  });
  /** Devices that hang on no line are in no drawing. */
  protected readonly loose = computed(() => {
    const hung = new Set(this.layout().cards.map((card) => card.device.id));
    return this.project.document()!.devices.filter(({ id }) => !hung.has(id));
  });

  private readonly scroller = viewChild.required(CdkScrollable);

  constructor() {
    inject(Actions).offer({
      'site.larger': () => this.zoomBy(ZOOM_STEP),
      'site.smaller': () => this.zoomBy(1 / ZOOM_STEP),
      'site.device': () => this.adding(true),
      'site.line': () => this.router.navigate(['/lines'], { queryParams: { panel: 'add' } }),
      'site.fit': () => this.fit(),
    });
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const observer = new ResizeObserver(([entry]) => {
        const { width, height } = entry!.contentRect;
        this.room.set({ width: Math.floor(width) - 16, height: Math.floor(height) });
      });
      observer.observe(this.plant().nativeElement);
      this.scroller()
        .elementScrolled()
        .pipe(takeUntilDestroyed(destroyed))
        .subscribe(() => this.look());
      destroyed.onDestroy(() => observer.disconnect());
    });
  }

  /** All in sight, or as large as it is read best; what was zoomed by hand before is let go. */
  protected fit(): void {
    if (this.zoom() === null) this.fits.update((fits) => !fits);
    this.zoom.set(null);
  }

  /** Larger or smaller, around a place of what is seen: that under the pointer, else the middle. */
  protected zoomBy(factor: number, at?: { x: number; y: number }): void {
    const plant = this.plant().nativeElement;
    const place = at ?? { x: plant.clientWidth / 2, y: plant.clientHeight / 2 };
    const before = this.scale();
    const after = Math.max(0.2, Math.min(2.5, before * factor));
    const [x, y] = [(plant.scrollLeft + place.x) / before, (plant.scrollTop + place.y) / before];
    this.zoom.set(after);
    this.changes.detectChanges();
    plant.scrollTo({ left: x * after - place.x, top: y * after - place.y });
    this.look();
  }

  protected wheel(event: WheelEvent): void {
    if (!event.ctrlKey) return;
    event.preventDefault();
    const { left, top } = this.plant().nativeElement.getBoundingClientRect();
    this.zoomBy(event.deltaY < 0 ? ZOOM_STEP : 1 / ZOOM_STEP, { x: event.clientX - left, y: event.clientY - top });
  }

  /** The empty paper is moved by dragging it. */
  protected drag(event: PointerEvent): void {
    const plant = this.plant().nativeElement;
    if (event.buttons !== 1 || (event.target as Element).closest('button, a, pe-site-overview, .hit')) return;
    plant.scrollBy(-event.movementX, -event.movementY);
  }

  protected center({ x, y }: { x: number; y: number }): void {
    const plant = this.plant().nativeElement;
    plant.scrollTo({ left: x * this.scale() - plant.clientWidth / 2, top: y * this.scale() - plant.clientHeight / 2 });
  }

  private look(): void {
    const { scrollLeft: left, scrollTop: top } = this.plant().nativeElement;
    this.scrolled.set({ left, top });
  }

  protected health(device: Device): Health {
    if (!this.live.running()) return { state: 'idle', word: '' };
    if (device.kind === 'gateway') return this.gatewayHealth(device);
    const valid = this.validPoints().get(device.id);
    if (valid) return this.senderHealth(valid);
    const last = this.counters().get(this.askedAt()(device.id))?.lastOutcome;
    return last ? healthOf[last] : { state: 'idle', word: 'not asked' };
  }

  /** A device that sends telegrams, frames or blocks is well as long as its converter says that they are valid, as far as that is read. */
  private senderHealth(valid: readonly Point[]): Health {
    const read = valid.flatMap((point) => {
      const reading = this.readings().get(point.id);
      const value = reading?.words && reading.quality === 'good' ? readPoint(reading.words, point) : null;
      return value?.ok ? [value.value.value !== 0] : [];
    });
    if (read.length === 0) return { state: 'idle', word: 'not read' };
    return read.every(Boolean)
      ? { state: 'answers', word: 'sends' }
      : { state: 'silent', word: `no ${partOf(valid[0]!.place) ?? 'block'}` };
  }

  /** `61 % busy`: how much of a serial line's time the plan takes; nothing where the plan asks nothing of it. */
  protected busyOf(line: Line): { percent: number; over: boolean } | null {
    const share = this.busy().get(line.id)?.share;
    return share ? { percent: Math.round(share * 100), over: share > 0.9 } : null;
  }

  /** `28 / s`: exchanges of late with everybody on this line. */
  protected rateOf(line: Line): string {
    const rate = this.rates().get(line.id) ?? 0;
    return rate > 0 ? `${rate >= 10 ? Math.round(rate) : Math.round(rate * 10) / 10} / s` : '';
  }

  protected choose(device: Device | null): void {
    void this.router.navigate([], { queryParams: { device: device?.id ?? null } });
  }

  /** What a ribbon carries. */
  protected open({ fromId, toId }: Ends): void {
    void this.router.navigate([], { queryParams: { from: fromId, to: toId } });
  }

  protected nameOf(deviceId: string): string {
    return this.project.devices().get(deviceId)?.name ?? '';
  }

  /** The ribbons that begin or end at a device. */
  protected ribbonsOf({ id }: Device): Ribbon[] {
    return this.bundles().filter(({ fromId, toId }) => fromId === id || toId === id);
  }

  protected adding(open: boolean): void {
    void this.router.navigate([], { queryParams: { add: open ? 'device' : null } });
  }

  /** A gateway is never asked itself; it is well as long as anything behind it answers. */
  private gatewayHealth(gateway: Device): Health {
    const behind = new Set(
      this.plan
        .plan()
        .requests.filter((request) => request.endpointId === gateway.id)
        .map((request) => request.deviceId),
    );
    const outcomes = [...behind].map((id) => this.counters().get(id)?.lastOutcome).filter(Boolean);
    if (outcomes.some((outcome) => outcome === 'answered' || outcome === 'refused')) return { state: 'answers', word: 'passes on' };
    return outcomes.length ? { state: 'silent', word: 'no answer' } : { state: 'idle', word: 'not used' };
  }
}
