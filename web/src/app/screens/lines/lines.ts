import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { busesOf, type Finding, type SerialBus } from '@plain-envoy/core/findings';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Actions } from '../../parts/actions';
import { lineText } from '../../parts/format';
import { arrowStep } from '../../parts/keys';
import { Panes } from '../../parts/panes';
import { AddLine } from './add-line';
import { LineForm } from './line-form';
import { LineTimes } from './times';
import { Members } from './members';
import { PortForm } from '../../device/port-form';
import { Prove } from './prove';
import { Wiring } from './wiring';
import { type Line, mediumOf, isModbusLine } from '@plain-envoy/core/media';
import { MatTabsModule } from '@angular/material/tabs';

const tabs = [
  { key: 'members', name: 'Members' },
  { key: 'wiring', name: 'Wiring' },
  { key: 'times', name: 'Times' },
  { key: 'prove', name: 'Prove' },
] as const;
type Tab = (typeof tabs)[number]['key'];

/** One line at a time: who is on it and how each is set, how it is wired, what it costs in time, and whether they answer. */
@Component({
  selector: 'pe-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AddLine, LineForm, LineTimes, MatButtonModule, MatTabsModule, Members, Panes, PortForm, Prove, Wiring],
  templateUrl: './lines.html',
  styleUrl: './lines.scss',
})
export class LinesScreen {
  private readonly router = inject(Router);
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  protected readonly project = atEdge(inject(ProjectStore), 'document');
  readonly line = input<string>();
  readonly port = input<string>();
  readonly tab = input<string>();
  /** The device that is walked to first, from the address. */
  readonly device = input<string>();
  /** `line` for the line's own form, `add` for a new line. */
  readonly panel = input<string>();

  protected readonly lineText = lineText;
  private readonly buses = computed(() => busesOf(this.project.document()!));
  private readonly portLine = computed(() => this.project.document()!.ports.find(({ id }) => id === this.port())?.lineId);
  protected readonly bus = computed(() => this.buses().find(({ line }) => line.id === (this.line() ?? this.portLine())) ?? this.buses()[0]);
  protected readonly ports = computed(() => this.bus()?.members.map(({ port }) => port) ?? []);
  protected readonly serialBus = computed(() => (this.bus()?.line.kind === 'serial' ? (this.bus() as SerialBus) : null));
  protected readonly modbusLine = computed(() => {
    const line = this.bus()?.line;
    return isModbusLine(line) ? line : null;
  });
  protected readonly chosenPort = computed(() => this.ports().find(({ id }) => id === this.port()));
  protected readonly hasPanel = computed(() => this.panel() === 'add' || (this.panel() === 'line' && !!this.bus()) || !!this.chosenPort());
  protected readonly tabs = computed(() => {
    const line = this.bus()?.line;
    const asked = !!line && mediumOf(line.kind).carriesModbus(line);
    const fits: Record<Tab, boolean> = {
      members: true,
      wiring: line?.kind === 'serial',
      times: asked && line.kind === 'serial',
      prove: asked,
    };
    return tabs.filter(({ key }) => fits[key]);
  });
  protected readonly shown = computed((): Tab => this.tabs().find(({ key }) => key === this.tab())?.key ?? 'members');

  private readonly findingsByLine = computed(() => {
    const lineOfPort = new Map(this.project.document()!.ports.map(({ id, lineId }) => [id, lineId]));
    const byLine = new Map<string, Finding[]>();
    for (const finding of this.plan.findings()) {
      const lineId =
        finding.at.entity === 'line' ? finding.at.id : finding.at.entity === 'port' ? lineOfPort.get(finding.at.id) : undefined;
      if (lineId) byLine.set(lineId, [...(byLine.get(lineId) ?? []), finding]);
    }
    return byLine;
  });
  protected readonly list = computed(() =>
    this.buses().map(({ line, members }) => {
      const findings = this.findingsByLine().get(line.id) ?? [];
      return {
        line,
        count: members.length,
        findings: findings.length,
        stops: findings.filter(({ severity }) => severity === 'stop').length,
      };
    }),
  );
  protected readonly findings = computed(() => this.findingsByLine().get(this.bus()?.line.id ?? '') ?? []);

  constructor() {
    inject(Actions).offer({
      'lines.add': () => this.go({ panel: 'add', port: null }),
      'lines.line': () => this.go({ panel: 'line', port: null }),
    });
  }

  protected open(line: Line): void {
    this.go({ line: line.id, port: null, panel: null });
  }

  protected go(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }

  protected key(event: KeyboardEvent): void {
    const by = arrowStep(event);
    if (!by) return;
    event.preventDefault();
    const lines = this.buses().map(({ line }) => line);
    const next = lines[(lines.findIndex(({ id }) => id === this.bus()?.line.id) + by + lines.length) % lines.length];
    if (next) this.open(next);
  }
}
