import '@plain-envoy/core/formula';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Route } from '@plain-envoy/core/model';
import type { KeptProof, ProofCheck } from '@plain-envoy/core/proof';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { type ProofState, RouteProofs } from '../../data/route-proofs';
import { atEdge } from '../../data/state';
import { msText, percentOf } from '../../parts/format';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatProgressBarModule } from '@angular/material/progress-bar';

interface Row {
  route: Route;
  from: string;
  to: string;
  state: ProofState;
  proof: KeptProof | undefined;
  meanMs: number | null;
  worstMs: number | null;
}

const marks: Readonly<Record<ProofState, string>> = {
  proved: '✓ proved',
  carried: '→ carried',
  failed: '✗ failed',
  'not proved': '– not proved',
  stale: '↻ changed since',
  never: '· never',
};
const order: ProofState[] = ['failed', 'carried', 'not proved', 'stale', 'never', 'proved'];

/** Whether each route delivers what it should: proved by values that were sent through it, with the evidence, or why not. */
@Component({
  selector: 'pe-proofs-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, Choose, MatButtonModule, MatCheckboxModule, MatProgressBarModule, RouterLink, SearchField, Table],
  templateUrl: './proofs-view.html',
  styleUrls: ['./view.scss', './proofs-view.scss'],
})
export class ProofsView {
  private readonly project = atEdge(inject(ProjectStore), 'document', 'devices', 'points');
  private readonly proving = inject(RouteProofs);
  protected readonly proofs = atEdge(this.proving, 'ask', 'progress', 'problem', 'tookMs', 'isRunning', 'kept', 'states');
  protected readonly live = atEdge(inject(Live), 'onRealPlant');

  protected readonly stateOptions: Option<ProofState | ''>[] = [
    { value: '', text: 'all states' },
    ...asOptions(order, (state) => marks[state].slice(2)),
  ];
  protected readonly deviceOptions = computed(() => named(this.devices()));
  protected readonly withLoss = signal(true);
  protected readonly byPrograms = signal(false);
  protected readonly only = signal<ProofState | ''>('');
  protected readonly deviceId = signal('');
  protected readonly chosenId = signal<string | null>(null);
  protected readonly ticked = signal<ReadonlySet<string>>(new Set());

  private readonly all = computed((): Row[] => {
    const { routes } = this.project.document()!;
    return routes.map((route) => {
      const proof = this.proofs.kept().get(route.id);
      const times = proof?.checks.flatMap(({ ms }) => ms ?? []) ?? [];
      return {
        ...{
          route,
          proof,
          from: this.where(route.sourceId),
          to: this.where(route.destinationId),
          state: this.proofs.states().get(route.id) ?? 'never',
        },
        meanMs: times.length ? times.reduce((sum, ms) => sum + ms, 0) / times.length : null,
        worstMs: times.length ? Math.max(...times) : null,
      };
    });
  });
  protected readonly devices = computed(() => {
    const used = new Set(this.all().flatMap(({ route }) => this.devicesOf(route)));
    return [...this.project.devices().values()].filter(({ id }) => used.has(id));
  });
  protected readonly rows = computed(() => {
    const [only, deviceId] = [this.only(), this.deviceId()];
    const shown = this.all().filter(
      ({ state, route }) => (!only || state === only) && (!deviceId || this.devicesOf(route).includes(deviceId)),
    );
    return shown.sort((a, b) => order.indexOf(a.state) - order.indexOf(b.state));
  });
  protected readonly counts = computed(() => {
    const counts = new Map<ProofState, number>();
    for (const { state } of this.all()) counts.set(state, (counts.get(state) ?? 0) + 1);
    return counts;
  });
  protected readonly tally = computed(() =>
    order
      .filter((state) => this.counts().get(state))
      .map((state) => `${this.counts().get(state)} ${marks[state].slice(2)}`)
      .join(' · '),
  );
  protected readonly chosen = computed(() => this.rows().find(({ route }) => route.id === this.chosenId()) ?? null);
  protected readonly chosenIds = computed(() => new Set([this.chosenId()].filter((id) => id !== null)));
  protected readonly idOf = ({ route }: Row): string => route.id;
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'tick', head: '' },
    {
      name: 'route',
      head: 'Route',
      text: ({ route }) => route.name,
      more: ({ route }) => route.name,
      kind: 'cut',
      by: ({ route }) => route.name,
    },
    { name: 'from', head: 'From', text: ({ from }) => from, more: ({ from }) => from, kind: 'cut', by: ({ from }) => from },
    { name: 'carries', head: '', text: () => '⟶', more: () => 'carries to', kind: 'carried' },
    { name: 'to', head: 'To', text: ({ to }) => to, more: ({ to }) => to, kind: 'cut', by: ({ to }) => to },
    {
      name: 'state',
      head: 'State',
      text: ({ state }) => marks[state],
      kind: 'strong',
      classOf: ({ state }) => (state === 'proved' ? 'good' : state === 'failed' ? 'bad' : ''),
      by: ({ state }) => order.indexOf(state),
    },
    {
      name: 'values',
      head: 'values',
      hint: 'Values that arrived of those that were sent',
      text: ({ proof }) => (proof ? `${arrived(proof)} of ${proof.checks.length}` : ''),
      kind: 'mono number',
    },
    {
      name: 'ms',
      head: 'mean · worst ms',
      hint: 'From the source to the destination, mean and worst',
      text: ({ meanMs, worstMs }) => (meanMs === null ? '' : `${msText(meanMs)} · ${msText(worstMs)}`),
      kind: 'mono number',
      by: ({ worstMs }) => worstMs ?? -1,
    },
    {
      name: 'seen',
      head: 'What was seen',
      text: ({ proof }) => proof?.sentence ?? '',
      more: ({ proof }) => proof?.sentence ?? '',
      kind: 'long',
    },
  ];
  protected readonly checkId = (check: ProofCheck): string => `${check.shows} ${check.sent}`;
  protected readonly checkClass = ({ ms }: ProofCheck): string => (ms === null ? 'bad' : '');
  protected readonly checkColumns: readonly Column<ProofCheck>[] = [
    { name: 'shows', head: 'What it shows', text: ({ shows }) => shows },
    { name: 'sent', head: 'sent', text: ({ sent }) => sent, kind: 'mono number' },
    { name: 'expected', head: 'expected', text: ({ expected }) => expected, kind: 'mono number' },
    { name: 'found', head: 'found', text: ({ found }) => found ?? '', kind: 'mono number' },
    { name: 'after', head: 'after ms', text: ({ ms }) => ms ?? 'never', kind: 'mono number' },
  ];
  protected readonly how = computed(() =>
    this.live.onRealPlant()
      ? 'On the real plant you are asked to move what each source measures; it is only read, one route after the other.'
      : 'Values are sent from the stand-in of each source, and looked at in the stand-in of its destination, by the papers of both; in the end everything is as it was.',
  );
  protected readonly percent = computed(() => percentOf(this.proofs.progress()));

  constructor() {
    this.proving.load();
  }

  protected proveAll(): void {
    this.proving.start(null, this.withLoss(), this.byPrograms());
  }

  /** The routes that are ticked, or else those that are shown. */
  protected proveSome(): void {
    const ticked = this.ticked();
    const shown = this.rows().map(({ route }) => route.id);
    this.proving.start(ticked.size ? [...ticked] : shown, this.withLoss(), this.byPrograms());
  }

  protected stop(): void {
    this.proving.stop();
  }

  protected skip(routeId: string): void {
    this.proving.skip(routeId);
  }

  protected tick(routeId: string): void {
    this.ticked.update((ticked) => {
      const next = new Set(ticked);
      if (!next.delete(routeId)) next.add(routeId);
      return next;
    });
  }

  protected key(event: KeyboardEvent, { route }: Row): void {
    if (event.key !== ' ') return;
    event.preventDefault();
    this.tick(route.id);
  }

  protected when(proof: KeptProof | undefined): string {
    return proof ? new Date(proof.atMs).toLocaleString('en-GB') : '';
  }

  private where(pointId: string): string {
    const point = this.project.points().get(pointId);
    return `${this.project.devices().get(point?.deviceId ?? '')?.name ?? '?'}, ${point?.name ?? 'a point that is gone'}`;
  }

  private devicesOf({ sourceId, destinationId }: Route): string[] {
    return [sourceId, destinationId].flatMap((id) => this.project.points().get(id)?.deviceId ?? []);
  }
}

function arrived({ checks }: KeptProof): number {
  return checks.filter(({ ms }) => ms !== null).length;
}
