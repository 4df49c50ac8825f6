import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { TripEvent } from '@plain-envoy/core/feed';
import { canBeWritten, type Route } from '@plain-envoy/core/model';
import type { Subscription } from 'rxjs';
import { Refused } from '../../data/api';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { Proofs } from '../../data/proofs';
import { atEdge } from '../../data/state';
import { choiceAmong } from '../../parts/choice';
import { asOptions, Choose } from '../../parts/choose';
import { controlOf } from '../../parts/controls';
import { forgetRefusals, problemIn, refuseIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';

const TIMES = [10, 50, 200];
const BINS = 12;

/** Times a bit or a word out by one route and back by another, on the bench. */
@Component({
  selector: 'pe-round-trip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, SearchField],
  templateUrl: './round-trip.html',
  styleUrl: './round-trip.scss',
})
export class RoundTrip {
  private readonly project = atEdge(inject(ProjectStore), 'document', 'devices', 'points');
  private readonly proofs = inject(Proofs);
  protected readonly live = atEdge(inject(Live), 'running');
  protected readonly choices = asOptions(TIMES);

  /** Routes with a way back between the same two devices, whose source can be turned over; those whose way back goes on from there first. */
  protected readonly outs = computed(() => {
    const ways = this.routes().flatMap((route) => {
      const [back] = this.canGoOut(route) ? this.backsOf(route) : [];
      return back ? [{ route, isDirect: back.sourceId === route.destinationId }] : [];
    });
    return ways.sort((a, b) => Number(b.isDirect) - Number(a.isDirect)).map(({ route }) => route);
  });
  protected readonly outId = choiceAmong(this.outs);
  protected readonly backs = computed(() => {
    const out = this.routes().find(({ id }) => id === this.outId());
    return out ? this.backsOf(out) : [];
  });
  protected readonly backId = choiceAmong(this.backs);
  /** Whether the far end has to send back itself what arrives there. */
  protected readonly needsEcho = computed(() => {
    const [out, back] = [this.outId(), this.backId()].map((id) => this.routes().find((route) => route.id === id));
    return !!out && !!back && out.destinationId !== back.sourceId;
  });
  protected readonly form = new FormGroup({ times: controlOf(TIMES[0]!) });
  protected readonly problem = problemIn(() => this.form);
  protected readonly trips = signal<readonly (number | null)[]>([]);
  private readonly run = signal<Subscription | null>(null);
  protected readonly isRunning = computed(() => this.run() !== null);
  protected readonly result = computed(() => {
    const came = this.trips().filter((ms) => ms !== null);
    const last = this.trips().at(-1);
    return {
      last: last === undefined ? '' : last === null ? 'lost' : `${last.toFixed(0)} ms`,
      mean: came.length ? `${(came.reduce((sum, ms) => sum + ms, 0) / came.length).toFixed(0)} ms` : '',
      worst: came.length ? `${Math.max(...came).toFixed(0)} ms` : '',
      lost: this.trips().length - came.length,
      bins: binsOf(came),
    };
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected readonly outOptions = computed(() => this.outs().map((route) => ({ value: route.id, text: this.text(route) })));
  protected readonly backOptions = computed(() => this.backs().map((route) => ({ value: route.id, text: this.text(route) })));

  protected text(route: Route): string {
    const points = this.project.points();
    const at = (id: string) => {
      const point = points.get(id);
      return `${this.project.devices().get(point?.deviceId ?? '')?.name}, ${point?.name}`;
    };
    return `${route.name}: ${at(route.sourceId)} ⟶ ${at(route.destinationId)}`;
  }

  protected start(): void {
    this.trips.set([]);
    forgetRefusals(this.form);
    const body = { outId: this.outId(), backId: this.backId(), ...this.form.getRawValue() };
    const over = () => this.run.set(null);
    const run = this.proofs.roundTrip(this.project.document()!.project.id, body).subscribe({
      next: (event) => this.take(event),
      error: (error: unknown) => {
        refuseIn(this.form, error instanceof Refused ? error.problem : { message: 'The connection to the server was lost.', path: [] });
        over();
      },
      complete: over,
    });
    if (!run.closed) this.run.set(run);
  }

  protected stop(): void {
    this.run()?.unsubscribe();
    this.run.set(null);
  }

  private take(event: TripEvent): void {
    if (event.kind === 'failed') refuseIn(this.form, { message: event.sentence, path: [] });
    else this.trips.update((trips) => [...trips, event.ms]);
  }

  private routes(): readonly Route[] {
    return this.project.document()!.routes;
  }

  private canGoOut({ sourceId }: Route): boolean {
    const source = this.project.points().get(sourceId);
    return !!source && canBeWritten(source) && ['bit', 'bits', 'int16', 'uint16'].includes(source.type);
  }

  /** Ways back to the device that a route starts from; those that go on from where it ends come first. */
  private backsOf(out: Route): Route[] {
    const deviceOf = (pointId: string) => this.project.points().get(pointId)?.deviceId;
    const isBack = (route: Route) =>
      deviceOf(route.sourceId) === deviceOf(out.destinationId) && deviceOf(route.destinationId) === deviceOf(out.sourceId);
    const isDirect = (route: Route) => Number(route.sourceId === out.destinationId);
    return this.routes()
      .filter((route) => route.id !== out.id && isBack(route))
      .sort((a, b) => isDirect(b) - isDirect(a));
  }
}

/** How many came within each stretch of time, all stretches alike. */
export function binsOf(times: readonly number[]): { fromMs: number; toMs: number; count: number; part: number }[] {
  if (times.length === 0) return [];
  const [low, high] = [Math.floor(Math.min(...times)), Math.ceil(Math.max(...times))];
  const width = Math.max(1, Math.ceil((high - low + 1) / BINS));
  const counts = new Array<number>(Math.max(1, Math.ceil((high - low + 1) / width))).fill(0);
  for (const ms of times) counts[Math.min(counts.length - 1, Math.floor((ms - low) / width))]! += 1;
  const most = Math.max(...counts);
  return counts.map((count, index) => ({ fromMs: low + index * width, toMs: low + (index + 1) * width, count, part: count / most }));
}
