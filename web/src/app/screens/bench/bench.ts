import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatTooltip } from '@angular/material/tooltip';
import { Router } from '@angular/router';
import type { Route } from '@plain-envoy/core/model';
import { hasTrouble } from '@plain-envoy/core/feed';
import { diagnose, diagnoseFrames, diagnoseLinks, diagnoseStations, diagnoseTexts } from '@plain-envoy/core/diagnose';
import { Editor } from '../../data/editor';
import { Hands } from '../../data/hands';
import { HeardTexts } from '../../data/heard-texts';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { RouteProofs } from '../../data/route-proofs';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { Actions } from '../../parts/actions';
import { timeText } from '../../parts/format';
import { doubtOn, reasonIn } from '../../parts/quality';
import { RouteTable } from '../../parts/route-table';
import { BenchControl } from '../../parts/bench-control';
import { Panes } from '../../parts/panes';
import { CountersTable } from './counters-table';
import { Diagnoses } from './diagnoses';
import { ArmPanel } from './arm-panel';
import { AwaitingPanel } from './awaiting-panel';
import { AskPanel } from './ask-panel';
import { ErrandsView } from './errands-view';
import { PlotView } from './plot-view';
import { ProofsView } from './proofs-view';
import { StandInsTable } from './stand-ins-table';
import { CanView } from './can-view';
import { TerminalView } from './terminal-view';
import { StationView } from './station-view';
import { WatchView } from './watch-view';
import { WritePanel } from './write-panel';
import { MatTabsModule } from '@angular/material/tabs';

const views = [
  { key: 'routes', name: 'Routes' },
  { key: 'watch', name: 'Watch' },
  { key: 'errands', name: 'Errands' },
  { key: 'proofs', name: 'Proofs' },
  { key: 'terminal', name: 'Terminal' },
  { key: 'can', name: 'CAN' },
  { key: 'stations', name: 'Telecontrol' },
] as const;
type View = (typeof views)[number]['key'];
const belows = ['stand-ins', 'wrong', 'counters', 'ask', 'write', 'plot'] as const;

/** Where the plan runs: every route with both its ends, and the stand-ins at which a person can turn. */
@Component({
  selector: 'pe-bench',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ArmPanel,
    AskPanel,
    AwaitingPanel,
    CanView,
    StationView,
    Panes,
    CountersTable,
    Diagnoses,
    ErrandsView,
    MatButtonModule,
    MatCheckbox,
    MatTabsModule,
    MatTooltip,
    PlotView,
    ProofsView,
    RouteTable,
    StandInsTable,
    TerminalView,
    WatchView,
    WritePanel,
  ],
  templateUrl: './bench.html',
  styleUrl: './bench.scss',
})
export class BenchScreen {
  private readonly router = inject(Router);
  private readonly plan = atEdge(inject(PlanStore), 'plan', 'findings', 'doubts');
  private readonly store = inject(ProjectStore);
  protected readonly project = atEdge(this.store, 'document');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'bench', 'running', 'onRealPlant', 'tally');
  protected readonly bench = inject(BenchControl);
  protected readonly standIns = atEdge(inject(StandIns), 'all');
  private readonly heardTexts = atEdge(inject(HeardTexts), 'byListener');
  private readonly hands = inject(Hands);
  private readonly editor = inject(Editor);
  protected readonly time = timeText;
  protected readonly chosen = signal<Route | null>(null);
  /** What is worked with, from the address. */
  readonly view = input<string>();
  /** The errand that is looked at first, from the address. */
  readonly errand = input<string>();
  protected readonly views = views;
  protected readonly upper = computed((): View => views.find(({ key }) => key === this.view())?.key ?? 'routes');
  /** What is shown below. */
  protected readonly below = signal<(typeof belows)[number]>('stand-ins');
  /** Points that are drawn over time. */
  protected readonly plotted = signal<readonly string[]>([]);
  protected readonly arming = signal(false);
  private readonly devices = rowsFor(this.feed.devices, () => this.project.document()!.devices.map(({ id }) => id));
  /** Of devices that are in trouble; nothing is asked about those of others. */
  private readonly requests = rowsFor(this.feed.requests, () => {
    const devices = this.devices();
    const isInTrouble = (id: string) => devices.has(id) && hasTrouble(devices.get(id)!);
    return this.plan.plan().requests.flatMap(({ id, deviceId }) => (isInTrouble(deviceId) ? [id] : []));
  });
  protected readonly diagnoses = computed(() => {
    if (!this.live.running()) return [];
    const onStandIns = this.live.onRealPlant() ? [] : this.standIns.all();
    const late = new Map(onStandIns.map((row) => [row.deviceId, row.late]));
    const heard = new Map(onStandIns.map((row) => [row.deviceId, row.heard]));
    const seen = {
      device: (id: string) => this.devices().get(id),
      request: (id: string) => this.requests().get(id),
      onLine: (id: string) => late.get(id) ?? null,
      heardOnLine: (id: string) => heard.get(id) ?? null,
    };
    const document = this.project.document()!;
    const ends = new Map(onStandIns.flatMap(({ links }) => links.map((end) => [end.portId, end] as const)));
    const cans = new Map(onStandIns.flatMap((row) => (row.cut ? [] : row.cans.map((port) => [port.portId, port] as const))));
    const stations = new Map(onStandIns.flatMap((row) => row.stations.map((end) => [`${end.portId} ${end.index}`, end] as const)));
    return [
      ...diagnose(document, this.plan.plan(), this.plan.findings(), seen),
      ...diagnoseFrames(document, (id) => cans.get(id)),
      ...diagnoseLinks(document, (id) => ends.get(id)),
      ...diagnoseStations(document, (id, index) => stations.get(`${id} ${index}`)),
      ...diagnoseTexts(document, (id) => this.heardTexts.byListener().get(id)),
    ];
  });
  protected readonly routes = computed(() => this.project.document()!.routes);
  /** What a person has done to the stand-ins, so that nobody takes it for trouble. */
  private readonly onPurpose = computed(() => {
    const all = this.standIns.all();
    const faulty = all.filter(({ faults }) => faults.length > 0).length;
    const held = all.reduce((sum, row) => sum + row.held.length, 0);
    const cut = all.filter((row) => row.cut).length;
    const parts = [faulty && `${faulty} with faults`, held && `${held} registers held`, cut && `${cut} cut off`].filter(Boolean);
    return parts.length ? ` On purpose: ${parts.join(', ')}.` : '';
  });
  private readonly inDoubt = computed(() => this.routes().filter((route) => doubtOn(this.plan.doubts(), route)).length);
  protected readonly tally = computed(() => {
    const routes = this.routes();
    if (!this.live.running()) return 'The bench is stopped. Nothing is asked or written.';
    const { good = 0, sent = 0, limited: cut = 0 } = this.live.tally();
    const limited = cut > 0 ? `, ${cut} at the end of what fits` : '';
    const toAll = sent > 0 ? `, ${sent} go to every unit unconfirmed` : '';
    const where = this.live.onRealPlant() ? 'Running on the REAL plant' : 'Running on stand-ins';
    const inDoubt = this.inDoubt();
    const doubt = inDoubt > 0 ? `, ${inDoubt} ${inDoubt === 1 ? 'is' : 'are'} in doubt` : '';
    return `${where}. ${good} of ${routes.length} routes deliver${limited}${toAll}${doubt}.${this.onPurpose()}`;
  });
  /** Of the route that is chosen. */
  private readonly states = rowsFor(this.feed.routes, () => [this.chosen()].flatMap((route) => route?.id ?? []));
  private readonly readings = rowsFor(this.feed.points, () =>
    [this.chosen()].flatMap((route) => (route ? [route.sourceId, route.destinationId] : [])),
  );
  protected readonly reason = computed(() => {
    const route = this.chosen();
    if (!route) return null;
    const state = this.states().get(route.id);
    const source = this.readings().get(route.sourceId);
    const destination = this.readings().get(route.destinationId);
    return {
      name: route.name,
      text: reasonIn([source, state, destination], doubtOn(this.plan.doubts(), route)) || 'It delivers; nothing is wrong with it.',
    };
  });

  /** Whether the bench goes on by itself after the server broke down. */
  protected resume(resumes: boolean): void {
    const { project } = this.project.document()!;
    const label = resumes ? 'Bench goes on after a breakdown' : 'Bench stays stopped after a breakdown';
    this.store
      .commit(label, [{ entity: 'project', id: project.id, before: project, after: { ...project, resumes } }])
      .subscribe((answer) => {
        if (!answer.ok) this.editor.say(answer.problem.message);
      });
  }

  protected disarm(): void {
    this.hands.disarm().subscribe((answer) => {
      if (!answer.ok) this.editor.say(answer.problem.message);
    });
  }

  constructor() {
    const upper = Object.fromEntries(views.map(({ key }) => [`bench.${key}`, () => this.show(key)]));
    const below = Object.fromEntries(belows.map((key) => [`bench.${key}`, () => this.below.set(key)]));
    const proofs = inject(RouteProofs);
    const prove = () => {
      this.show('proofs');
      proofs.start(null, false);
    };
    inject(Actions).offer({ ...upper, ...below, 'bench.arm': () => this.arming.update((open) => !open), 'bench.prove': prove });
  }

  protected show(view: View): void {
    void this.router.navigate([], { queryParams: { view: view === 'routes' ? null : view }, replaceUrl: true });
  }

  protected choose(route: Route): void {
    this.chosen.set(route);
  }

  protected openRoute(): void {
    void this.router.navigate(['/routes'], { queryParams: { route: this.chosen()?.id } });
  }
}
