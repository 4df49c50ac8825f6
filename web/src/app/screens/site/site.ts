import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router } from '@angular/router';
import type { Device } from '@plain-envoy/core/model';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { lineText, portText } from '../../parts/format';
import { DevicePanel } from './device-panel';
import { CARD, layoutSite } from './layout';

type Health = { state: 'answers' | 'silent' | 'damaged' | 'refuses' | 'idle'; word: string };

const healthOf: Record<string, Health> = {
  valid: { state: 'answers', word: 'answers' },
  silent: { state: 'silent', word: 'no answer' },
  corrupt: { state: 'damaged', word: 'damaged answers' },
  refused: { state: 'refuses', word: 'refuses' },
};

/** Every line as a stave with its devices hung on it in their physical order. */
@Component({
  selector: 'pe-site',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DevicePanel],
  templateUrl: './site.html',
  styleUrl: './site.scss',
})
export class SiteScreen {
  private readonly router = inject(Router);
  protected readonly project = inject(ProjectStore);
  protected readonly live = inject(Live);
  protected readonly plan = inject(PlanStore);
  /** The chosen device, from the address. */
  readonly device = input<string>();

  protected readonly card = CARD;
  protected readonly lineText = lineText;
  protected readonly portText = portText;
  protected readonly layout = computed(() => layoutSite(this.project.document()!));
  protected readonly chosen = computed(() => this.project.devices().get(this.device() ?? ''));
  protected readonly summary = computed(() => {
    const { lines, devices, points, routes } = this.project.document()!;
    const rate = this.plan.plan().requests.reduce((sum, request) => sum + 1000 / request.periodMs, 0);
    return `${lines.length} lines, ${devices.length} devices, ${points.length} points, ${routes.length} routes · ${Math.round(rate)} requests a second planned`;
  });
  protected readonly trouble = computed(() =>
    this.project.document()!.devices.flatMap((device) => {
      const counters = this.live.device(device.id);
      const silent = this.live.running() && counters && counters.lastOutcome !== 'valid' && counters.lastError;
      return silent ? [{ device, error: counters.lastError! }] : [];
    }),
  );

  protected health(device: Device): Health {
    if (!this.live.running()) return { state: 'idle', word: '' };
    if (device.kind === 'gateway') return this.gatewayHealth(device);
    return healthOf[this.live.device(device.id)?.lastOutcome ?? ''] ?? { state: 'idle', word: 'not asked' };
  }

  protected choose(device: Device | null): void {
    void this.router.navigate([], { queryParams: { device: device?.id ?? null } });
  }

  /** A gateway is never asked itself; it is well as long as anything behind it answers. */
  private gatewayHealth(gateway: Device): Health {
    const behind = new Set(
      this.plan
        .plan()
        .requests.filter((request) => request.endpointId === gateway.id)
        .map((request) => request.deviceId),
    );
    const outcomes = [...behind].map((id) => this.live.device(id)?.lastOutcome).filter(Boolean);
    if (outcomes.some((outcome) => outcome === 'valid' || outcome === 'refused')) return { state: 'answers', word: 'passes on' };
    return outcomes.length ? { state: 'silent', word: 'passes nothing on' } : { state: 'idle', word: 'not used' };
  }
}
