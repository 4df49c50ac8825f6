import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { type Counters } from '@plain-envoy/core/feed';
import type { Device } from '@plain-envoy/core/model';
import { occupancy } from '@plain-envoy/core/plan';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { Actions } from '../../parts/actions';
import { atEdge } from '../../data/state';
import { lineText, portText } from '../../parts/format';
import { AddDevice } from './add-device';
import { DevicePanel } from './device-panel';
import { CARD, fitSite, layoutSite, scaleOf } from './layout';
import { ribbonsOf } from './ribbons';
import { type Line, type Port } from '@plain-envoy/core/media';

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
  imports: [MatButtonModule, RouterLink, AddDevice, DevicePanel],
  templateUrl: './site.html',
  styleUrl: './site.scss',
})
export class SiteScreen {
  private readonly router = inject(Router);
  protected readonly project = atEdge(inject(ProjectStore), 'document', 'devices');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'now', 'running');
  protected readonly plan = atEdge(inject(PlanStore), 'plan', 'findings');
  /** The chosen device, from the address. */
  readonly device = input<string>();
  /** `device` while a device is being added. */
  readonly add = input<string>();
  private readonly plant = viewChild.required<ElementRef<HTMLElement>>('plant');

  protected readonly card = CARD;
  protected readonly lineText = lineText;
  /** On a line whose network is written beside it, the last part of an address says all. */
  protected readonly shortPort = (port: Port) => (port.kind === 'ethernet' ? port.ip.replace(/^.*(?=\.)/, '') : portText(port));
  private readonly room = signal({ width: 1180, height: 700 });
  /** Everything in sight, or as large as it is read best. */
  protected readonly fits = signal(false);
  protected readonly pointed = signal<string | null>(null);
  protected readonly layout = computed(() => {
    const { width, height } = this.room();
    return this.fits() ? fitSite(this.project.document()!, width, height) : layoutSite(this.project.document()!, width);
  });
  protected readonly scale = computed(() => (this.fits() ? scaleOf(this.layout(), this.room().width, this.room().height) : 1));
  private readonly bundles = computed(() => ribbonsOf(this.plan.plan(), this.layout()));
  protected readonly ribbons = computed(() => {
    const shown = this.pointed() ?? this.device();
    return this.bundles().map((ribbon) => {
      const label = ribbon.fromId === shown ? ribbon.labels.to : ribbon.toId === shown ? ribbon.labels.from : null;
      return { ...ribbon, shown: label !== null, label };
    });
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

  constructor() {
    inject(Actions).offer({
      'site.device': () => this.adding(true),
      'site.line': () => this.router.navigate(['/lines'], { queryParams: { panel: 'add' } }),
      'site.fit': () => this.fits.update((fits) => !fits),
    });
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const observer = new ResizeObserver(([entry]) => {
        const { width, height } = entry!.contentRect;
        this.room.set({ width: Math.floor(width) - 16, height: Math.floor(height) });
      });
      observer.observe(this.plant().nativeElement);
      destroyed.onDestroy(() => observer.disconnect());
    });
  }

  protected health(device: Device): Health {
    if (!this.live.running()) return { state: 'idle', word: '' };
    if (device.kind === 'gateway') return this.gatewayHealth(device);
    const last = this.counters().get(device.id)?.lastOutcome;
    return last ? healthOf[last] : { state: 'idle', word: 'not asked' };
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
