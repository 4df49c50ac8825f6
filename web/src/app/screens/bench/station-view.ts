import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal, type WritableSignal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { type FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { type CarriedStation, stationsOn } from '@plain-envoy/core/stations';
import { type Point, pointLayout, readPoint, readText, valueFromInput } from '@plain-envoy/core/model';
import { commands as isCommand, placeWords } from '@plain-envoy/core/place';
import { lastsMs } from '@plain-envoy/core/telecontrol';
import {
  type ArchivedState,
  type EventPoint,
  groupOf,
  isEventPoint,
  sayable,
  type StationPortState,
  wordsOfSaid,
} from '@plain-envoy/core/telecontrol-line';
import { encode } from '@plain-envoy/core/value';
import { exhaustMap, forkJoin, of, switchMap, timer } from 'rxjs';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { Stations } from '../../data/stations';
import { choiceAmong } from '../../parts/choice';
import { Choose, type Option } from '../../parts/choose';
import { textControl } from '../../parts/controls';
import { ageText, momentText } from '../../parts/format';
import { named } from '../../parts/named';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { EventCurve, type Moment } from './event-curve';

const LOOK_MS = 1000;

/** A link with its place among those of the project. */
interface Pair {
  id: string;
  name: string;
  index: number;
  station: CarriedStation;
}
interface Row {
  point: EventPoint;
  value: string;
  quality: string;
  isGood: boolean;
  /** Why what came as good may be wrong all the same. */
  doubt: string;
  at: string;
}
interface Command {
  point: EventPoint;
  isOutput: boolean;
  codes: Option<string>[];
  form: FormGroup<{ value: FormControl<string> }>;
  problem: WritableSignal<string | null>;
}
interface Happened {
  id: string;
  at: string;
  name: string;
  value: string;
  /** It came and stands. */
  isOn: boolean;
  isNew: boolean;
}

/** A control station: what it has of each point, its alarms and events, its archive as a curve, and its command keys. */
@Component({
  selector: 'pe-station-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, EventCurve, MatButtonModule, MatCheckboxModule, ReactiveFormsModule, Table, TextField],
  templateUrl: './station-view.html',
  styles: `
    :host {
      display: flex;
      flex: 1;
      flex-direction: column;
      gap: 4px;
      min-height: 0;
      padding: 10px 16px 12px;
    }
    .row,
    .command {
      display: flex;
      align-items: center;
      gap: 12px;
    }
    .command {
      flex-wrap: wrap;
      margin-bottom: 8px;
    }
    .command pe-choose,
    .command pe-text {
      width: 150px;
    }
    .what {
      min-width: 130px;
    }
    .spread {
      flex: 1;
    }
    h3 {
      margin: 6px 0 4px;
    }
    .end {
      margin: 0;
    }
    .both {
      display: flex;
      flex: 1;
      gap: 16px;
      min-height: 0;
    }
    .side .row {
      padding-top: 6px;
    }
    .side {
      display: flex;
      flex: 1;
      flex-direction: column;
      min-width: 0;
      overflow: auto;
    }
  `,
})
export class StationView {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly plan = atEdge(inject(PlanStore), 'doubts');
  private readonly service = inject(StandIns);
  private readonly standIns = atEdge(this.service, 'all');
  private readonly stations = inject(Stations);
  protected readonly pairs = computed(() => {
    const document = this.project.document()!;
    return document.lines.flatMap(({ id, name }) =>
      stationsOn(document, id).map((station, index): Pair => ({
        ...{ id: `${id} ${index}`, index, station },
        name: `${name}: ${station.outstation?.name ?? 'no outstation'}`,
      })),
    );
  });
  protected readonly pairOptions = computed(() => named(this.pairs()));
  protected readonly pairId = choiceAmong(this.pairs);
  private readonly pair = computed(() => this.pairs().find(({ id }) => id === this.pairId()) ?? null);
  private readonly station = computed(() => this.pair()?.station ?? null);
  protected readonly controlName = computed(() => this.station()?.control?.name ?? 'a control station');
  private readonly points = computed(
    () =>
      this.station()
        ?.points.filter(isEventPoint)
        .filter(({ place }) => place.part === 'value') ?? [],
  );

  private readonly asks = computed(() => this.stateOf(this.station()?.control?.portId, this.pair()?.index ?? 0));
  private readonly answers = computed(() => this.stateOf(this.station()?.outstation?.portId, 0));
  protected readonly link = computed(() => {
    const [station, asks, answers] = [this.station(), this.asks(), this.answers()];
    if (!station) return '';
    if (!asks && !answers) return 'No stand-ins play this line.';
    const parts = [
      asks?.isHeard ? 'The link is up' : 'The link is down',
      ...(asks ? [`${asks.archived} events in the archive, ${asks.again} came again`] : []),
      ...(answers ? [`${answers.kept} wait to be confirmed`, memoryText(answers)] : []),
    ];
    return parts.join(' · ');
  });
  protected readonly ends = computed(() =>
    [
      { name: this.station()?.control?.name, now: this.asks() },
      { name: this.station()?.outstation?.name, now: this.answers() },
    ].flatMap(({ name, now }) => {
      if (!name || !now) return [];
      const ahead = Math.round(now.clockAheadMs / 1000);
      const parts = [
        now.isHeard ? 'connected' : now.isConnected ? 'connected, and hears nothing' : 'not connected',
        `${now.heard} frames came, ${now.sent} went, cut ${now.cuts} ${now.cuts === 1 ? 'time' : 'times'}`,
        ...(now.as === 'outstation'
          ? [now.clockAgeMs === null ? 'its clock was not set' : `its clock was set ${ageText(0, now.clockAgeMs)} ago`]
          : []),
        ...(Math.abs(ahead) > 1 ? [`its clock is ${Math.abs(ahead)} s ${ahead > 0 ? 'ahead' : 'behind'}`] : []),
        ...(now.listensAt ? [`listens at ${now.listensAt}`] : []),
        ...(now.problem && !now.isHeard ? [now.problem] : []),
      ];
      return [{ name, text: `${name}: ${parts.join(' · ')}`, isTrouble: !now.isHeard || Math.abs(ahead) > 5 }];
    }),
  );

  protected readonly idOf = ({ point }: Row): string => point.id;
  protected readonly columns: readonly Column<Row>[] = [
    { name: 'name', head: 'Point', text: ({ point }) => point.name, more: ({ point }) => placeWords(point.place, '') },
    { name: 'place', head: 'Is', text: ({ point: { place } }) => `${place.sort} ${place.index}` },
    { name: 'value', head: 'Value', text: ({ value }) => value, classOf: ({ isGood }) => (isGood ? '' : 'quiet') },
    {
      ...{ name: 'quality', head: 'Quality', text: ({ quality }) => quality, more: ({ doubt }) => doubt },
      classOf: ({ isGood, doubt }) => (!isGood ? 'trouble' : doubt ? 'stale' : ''),
    },
    { name: 'at', head: 'Since', kind: 'mono', text: ({ at }) => at },
  ];
  protected readonly rows = computed(() => {
    const standard = this.station()?.line.standard;
    const seen = new Map(this.asks()?.points.map((one) => [one.pointId, one]));
    return this.points().flatMap((point): Row[] => {
      const own = seen.get(point.id);
      if (isCommand(point.place.sort) || !standard) return [];
      const value = own && own.said !== null ? textOf(standard, point, own.said) : '';
      const doubt = this.doubtIn(point);
      const quality = own ? own.quality || (doubt ? 'doubtful' : 'good') : 'nobody asks';
      return [{ point, value, quality, isGood: own?.isGood ?? false, doubt, at: own?.atMs ? momentText(own.atMs) : '' }];
    });
  });

  protected readonly commands = computed(() =>
    this.points().flatMap((point): Command[] => {
      if (!isCommand(point.place.sort)) return [];
      const codes = point.codes.map(({ name }): Option<string> => ({ value: name, text: name }));
      const form = new FormGroup({ value: textControl(codes[0]?.value ?? '') });
      return [{ point, isOutput: groupOf(point.place.sort) === 'output', codes, form, problem: signal<string | null>(null) }];
    }),
  );
  /** What became of each command that was given last. */
  protected readonly ended = computed(() => {
    const station = this.station();
    return new Map(
      this.asks()?.commands.map(({ pointId, atMs, said, end }) => {
        const point = this.points().find(({ id }) => id === pointId);
        const value = point && station ? textOf(station.line.standard, point, said) : '';
        return [pointId, `${value}: ${end ?? 'on its way'}, ${momentText(atMs)}`];
      }),
    );
  });

  protected readonly measured = computed(() => named(this.points().filter(({ place }) => !isCommand(place.sort))));
  protected readonly curveId = linkedSignal<string, string>({
    source: () => this.pairId(),
    computation: () => this.measured()[0]?.value ?? '',
  });
  private readonly archived = signal<readonly ArchivedState[]>([]);
  private readonly all = signal<readonly ArchivedState[]>([]);
  protected readonly curve = computed(() => {
    const [station, point] = [this.station(), this.points().find(({ id }) => id === this.curveId())];
    if (!station || !point) return null;
    const moments = this.archived().map(({ atMs, said, isGood }): Moment => [
      atMs,
      isGood ? numberOf(station.line.standard, point, said) : null,
    ]);
    return { name: [point.name, point.unit, this.doubtIn(point) && 'in doubt'].filter(Boolean).join(', '), moments };
  });
  protected readonly alarmsOnly = signal(true);
  private readonly seenUpToMs = signal(0);
  protected readonly eventId = ({ id }: Happened): string => id;
  protected readonly eventColumns: readonly Column<Happened>[] = [
    { name: 'at', head: 'At', kind: 'mono', text: ({ at }) => at },
    { name: 'name', head: 'Point', text: ({ name }) => name },
    { name: 'value', head: 'Value', text: ({ value }) => value, classOf: ({ isOn }) => (isOn ? 'trouble' : '') },
    { name: 'new', head: '', text: ({ isNew }) => (isNew ? 'new' : '') },
  ];
  protected readonly events = computed(() => {
    const station = this.station();
    const points = new Map(this.points().map((point) => [point.id, point]));
    return [...this.all()].reverse().flatMap(({ pointId, atMs, said, isGood }): Happened[] => {
      const point = points.get(pointId);
      const isBit = point?.place.sort === 'single' || point?.place.sort === 'double';
      if (!station || !point || (this.alarmsOnly() && !isBit)) return [];
      const value = `${textOf(station.line.standard, point, said)}${!isGood ? ', not good' : this.doubtIn(point) ? ', in doubt' : ''}`;
      const isOn = isBit && said === (point.place.sort === 'double' ? 2 : 1);
      return [{ id: `${pointId} ${atMs}`, at: momentText(atMs), name: point.name, value, isOn, isNew: atMs > this.seenUpToMs() }];
    });
  });
  protected readonly hasNew = computed(() => this.events().some(({ isNew }) => isNew));

  constructor() {
    const asked = computed(() => ({ deviceId: this.station()?.control?.deviceId ?? null, pointId: this.curveId() }));
    toObservable(asked)
      .pipe(
        switchMap(({ deviceId, pointId }) =>
          deviceId
            ? timer(0, LOOK_MS).pipe(
                exhaustMap(() => {
                  this.service.refresh();
                  return forkJoin({
                    all: this.stations.archive(deviceId),
                    one: pointId ? this.stations.archive(deviceId, pointId) : of([]),
                  });
                }),
              )
            : of({ all: [], one: [] }),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ all, one }) => {
        this.all.set(all);
        this.archived.set(one);
      });
  }

  protected markSeen(): void {
    this.seenUpToMs.set(Math.max(0, ...this.all().map(({ atMs }) => atMs)));
  }

  /** Switches an output on or off; of two bits, off is 1 and on is 2. */
  protected give(command: Command, value: number): void {
    this.order(command, value + (command.point.place.sort === 'double command' ? 1 : 0));
  }

  protected send(command: Command): void {
    const { point, form, problem } = command;
    const station = this.station();
    const layout = pointLayout(point);
    if (!station || !layout) return;
    const value = valueFromInput(form.getRawValue().value, point);
    const words = value.ok ? encode(value.value, layout) : value;
    const said = words.ok ? sayable(station.line.standard, point, words.value.words) : words;
    if (said.ok) this.order(command, said.value);
    else problem.set(said.problem.message);
  }

  private order({ point, problem }: Command, said: number): void {
    const deviceId = this.station()?.control?.deviceId;
    problem.set(null);
    if (!deviceId) return problem.set('Nobody on this link gives commands.');
    this.stations.command(deviceId, point.id, said).subscribe((answer) => {
      if (!answer.ok) problem.set(answer.problem.message);
      this.service.refresh();
    });
  }

  private doubtIn({ id }: Point): string {
    return this.plan.doubts().get(id) ?? '';
  }

  private stateOf(portId: string | undefined, index: number): StationPortState | undefined {
    return this.standIns
      .all()
      .flatMap((row) => row.stations)
      .find((one) => one.portId === portId && one.index === index);
  }
}

/** What was said over the link in the units and names of its point. */
function textOf(standard: StationPortStandard, point: EventPoint, said: number): string {
  const words = wordsOfSaid(standard, point, said);
  return words.ok ? readText(words.value, shown(point)) : String(said);
}

function numberOf(standard: StationPortStandard, point: EventPoint, said: number): number {
  const words = wordsOfSaid(standard, point, said);
  const read = words.ok ? readPoint(words.value, shown(point)) : words;
  return read.ok ? Number(read.value.value) : said;
}
type StationPortStandard = StationPortState['standard'];

/** A single bit came as 0 or 1, wherever it lies in its register. */
function shown(point: Point): Point {
  return point.type === 'bit' ? { ...point, bit: null } : point;
}

function memoryText({ memory, thrownAway, eventsPerHour }: StationPortState): string {
  const lasts = eventsPerHour === null ? null : lastsMs(memory, eventsPerHour);
  const lost = thrownAway > 0 ? `, ${thrownAway} were thrown away` : '';
  return `it keeps ${memory}${lost}${lasts === null ? '' : `, enough for an outage of ${ageText(0, lasts)} at the rate seen`}`;
}
