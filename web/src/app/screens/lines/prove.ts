import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, signal, untracked } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { type Match, matchFound, type Swept } from '@plain-envoy/core/as-found';
import type { LibraryRow, ProveEvent } from '@plain-envoy/core/feed';
import { type FoundThere, likeOf, takeIn } from '@plain-envoy/core/making';
import { hostsOf, ipText, parseNetwork } from '@plain-envoy/core/network';
import type { Target } from '@plain-envoy/core/plan';
import { forkJoin, map, of, type Subscription } from 'rxjs';
import { v7 as newId } from 'uuid';
import { type Answer, Refused } from '../../data/api';
import { Editor } from '../../data/editor';
import { Library } from '../../data/library';
import { ProjectStore } from '../../data/project';
import { type ProofKind, Proofs } from '../../data/proofs';
import { atEdge } from '../../data/state';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { type Line } from '@plain-envoy/core/media';
import { named } from '../../parts/named';
import { forgetRefusals, problemIn, refuseIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TargetPick } from '../../parts/target';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatProgressBarModule } from '@angular/material/progress-bar';

interface Run {
  kind: ProofKind;
  body: Record<string, unknown>;
  events: ProveEvent[];
  running: boolean;
}

const stepNames = {
  network: 'Network',
  connect: 'TCP connect',
  answer: 'Modbus answer',
  identify: 'Identification',
  open: 'At a time',
  register: 'One register',
};
const stateWords = { there: 'there', missing: 'missing', unexpected: 'unexpected', differs: 'answers differently' };

const stateInks = { there: 'good', missing: 'bad', unexpected: 'stale', differs: 'bad' };
/** A device of the library. */
type Kept = Pick<LibraryRow, 'id' | 'name' | 'version'>;
type Setting = Extract<ProveEvent, { kind: 'settings' }>;

/** Goes out on a line and compares what is designed with what is there. */
@Component({
  selector: 'pe-prove',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CellTemplate,
    MatButtonModule,
    MatCheckboxModule,
    MatProgressBarModule,
    ReactiveFormsModule,
    SearchField,
    Table,
    TargetPick,
    TextField,
  ],
  templateUrl: './prove.html',
  styleUrl: './prove.scss',
})
export class Prove {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices');
  private readonly proofs = inject(Proofs);
  private readonly editor = inject(Editor);
  private readonly router = inject(Router);
  private readonly kept = inject(Library);
  private readonly library = atEdge(this.kept, 'all');
  readonly line = input.required<Line>();
  /** The device that is chosen at first. */
  readonly first = input<string>();

  protected readonly stepNames = stepNames;
  protected readonly stateWords = stateWords;
  protected readonly on = signal<Target>('stand-ins');
  protected readonly run = signal<Run | null>(null);
  private subscription: Subscription | null = null;

  protected readonly ports = computed(() => this.project.document()!.ports.filter(({ lineId }) => lineId === this.line().id));
  /** Devices on this line that can be asked. */
  protected readonly askable = computed(() =>
    this.ports()
      .filter((port) => (port.kind === 'serial' ? port.unitId !== null : port.kind === 'ethernet' && port.role !== 'asks'))
      .map((port) => ({ id: port.deviceId, name: this.project.devices().get(port.deviceId)?.name ?? '' })),
  );
  protected readonly askableOptions = computed(() => named(this.askable()));
  /** Who would be asked on the real plant, before a person allows it. */
  protected readonly asksWhom = computed(() => {
    const line = this.line();
    const names = this.askable().map(({ name }) => name);
    const whom = names.length
      ? `${names.slice(0, 4).join(', ')}${names.length > 4 ? ` and ${names.length - 4} more` : ''}`
      : 'whoever is there';
    const through =
      line.kind === 'serial' && line.boundTo ? ` through ${line.boundTo}. What asks on that line now has to be silent meanwhile` : '';
    return `Real devices would be asked on ${line.name}: ${whom}${through}. Nothing is written, and it ends by itself.`;
  });
  private readonly network = computed(() => {
    const line = this.line();
    const network = line.kind === 'ethernet' ? parseNetwork(line.network) : null;
    return network?.ok ? hostsOf(network.value) : null;
  });
  private readonly lineId = computed(() => this.line().id);
  /** What is asked for, by any of the three ways; begun anew for each line, not for each edit. */
  protected readonly form = computed(() => {
    this.lineId();
    const first = this.first();
    return untracked(() => {
      const network = this.network();
      const unitIds = this.ports().flatMap((port) => (port.kind === 'serial' && port.unitId ? [port.unitId] : []));
      return new FormGroup({
        device: controlOf((this.askable().find(({ id }) => id === first) ?? this.askable()[0])?.id ?? ''),
        first: textControl(network ? ipText(network.first) : 1),
        last: textControl(network ? ipText(network.last) : 247),
        ports: textControl(502),
        timeoutMs: textControl(this.line().kind === 'serial' ? 300 : 500),
        registers: new FormControl(true, { nonNullable: true }),
        unitId: textControl(unitIds[0] ?? 1),
      });
    });
  });
  protected readonly problem = problemIn(this.form);

  protected readonly steps = computed(() => this.events('step'));
  protected readonly forecast = computed(() => this.events('forecast')[0] ?? null);
  protected readonly progress = computed(() => this.events('progress').at(-1) ?? null);
  protected readonly settings = computed(() => this.events('settings'));
  protected readonly settingOf = ({ text }: Setting): string => text;
  protected readonly bestOf = ({ valid }: Setting): string => (valid ? 'best' : '');
  protected readonly settingColumns: readonly Column<Setting>[] = [
    { name: 'settings', head: 'Settings', text: ({ text }) => text, kind: 'mono' },
    { name: 'result', head: 'Result', text: ({ valid }) => (valid ? 'a valid frame' : 'no valid frame') },
    { name: 'says', head: '', text: ({ sentence }) => sentence, kind: 'what' },
  ];
  protected readonly placeOf = ({ place }: Match): string => place;
  protected readonly matchColumns: readonly Column<Match>[] = [
    { name: 'place', head: 'Where', text: ({ place }) => place, kind: 'mono', by: ({ place }) => place },
    {
      ...{ name: 'state', head: 'Compared with the design', classOf: ({ state }: Match) => stateInks[state] },
      text: ({ state }) => stateWords[state],
      by: ({ state }) => state,
    },
    { name: 'device', head: 'Device', text: ({ device }) => device, by: ({ device }) => device },
    { name: 'says', head: 'What it does', kind: 'what' },
    { name: 'does', head: '' },
  ];
  protected readonly failure = computed(() => this.events('failed')[0]?.sentence ?? null);
  protected readonly done = computed(() => this.events('done')[0] ?? null);
  protected readonly matches = computed(() => {
    const run = this.run();
    if (!run || (run.kind !== 'units' && run.kind !== 'hosts')) return [];
    const found = [...this.events('unit'), ...this.events('host')];
    const nameOf = ({ deviceId }: { deviceId: string }) => this.project.devices().get(deviceId)?.name ?? '';
    return matchFound(this.line(), this.ports(), nameOf, found, this.done() ? this.sweptBy(run) : null);
  });
  /** What answered where nothing is designed. */
  protected readonly unexpected = computed(() => this.matches().filter(({ found }) => found !== null));
  protected readonly summary = computed(() => {
    const count = (state: Match['state']) => this.matches().filter((match) => match.state === state).length;
    return (['there', 'differs', 'unexpected', 'missing'] as const)
      .map((state) => [count(state), stateWords[state]] as const)
      .filter(([number]) => number > 0)
      .map(([number, word]) => `${number} ${word}`)
      .join(', ');
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.subscription?.unsubscribe());
    effect(() => {
      this.line();
      this.subscription?.unsubscribe();
      this.run.set(null);
    });
  }

  protected reach(): void {
    this.start('reach', { deviceId: this.form().getRawValue().device });
  }

  protected sweep(): void {
    const { first, last, ports, timeoutMs, registers } = this.form().getRawValue();
    const asked = { lineId: this.lineId(), timeoutMs: typedNumber(timeoutMs), registers };
    if (this.line().kind === 'serial') return this.start('units', { ...asked, first: typedNumber(first), last: typedNumber(last) });
    const numbers = ports.split(/[\s,;]+/).filter(Boolean);
    this.start('hosts', { ...asked, first, last, ports: numbers.map(typedNumber) });
  }

  protected search(): void {
    const { unitId, timeoutMs } = this.form().getRawValue();
    this.start('settings', { lineId: this.lineId(), unitId: typedNumber(unitId), timeoutMs: typedNumber(timeoutMs) });
  }

  protected stop(): void {
    this.subscription?.unsubscribe();
    this.run.update((run) => run && { ...run, running: false });
  }

  /** The devices of the library that something found may be: the one that it calls itself, or else those whose registers it has. */
  protected likesOf({ identity, identification, registers }: Match): Kept[] {
    const named = likeOf(this.library.all() ?? [], identity ?? '', identification);
    return named ? [named] : (registers?.like ?? []);
  }

  /** Unexpected ones become devices of the project, with ports as they were found: like the one of the library that each is told to be. */
  protected adopt(matches: readonly Match[], as?: Kept): void {
    const wanted = matches.map((match) => {
      const likes = as ? [as] : this.likesOf(match);
      const like = likes.length === 1 ? likes[0]! : null;
      const name = like ? `${like.name} ${match.place}` : `Found at ${match.place}`;
      const there = {
        place: match.found!,
        name: name.slice(0, 74),
        identity: match.identity ?? '',
        identification: match.identification,
        like: null,
      };
      if (!like) return of<Answer<FoundThere>>({ ok: true, value: there });
      const known = { id: like.id, version: like.version };
      return this.kept
        .get(known)
        .pipe(
          map((answer): Answer<FoundThere> =>
            answer.ok ? { ok: true, value: { ...there, like: { template: answer.value, of: known } } } : answer,
          ),
        );
    });
    forkJoin(wanted).subscribe((answers) => {
      const refused = answers.find((answer) => !answer.ok);
      if (refused && !refused.ok) return this.editor.say(refused.problem.message);
      this.takeIn(answers.flatMap((answer) => (answer.ok ? answer.value : [])));
    });
  }

  private takeIn(found: readonly FoundThere[]): void {
    const changes = takeIn(this.project.document()!, this.line(), found, newId);
    if (!changes.ok) return this.editor.say(changes.problem.message);
    const device = changes.value.find(({ entity }) => entity === 'device')!;
    const label = found.length === 1 ? `Add ${String(device.after!['name'])}` : `Add ${found.length} devices that were found`;
    this.store.commit(label, changes.value).subscribe((answer) => {
      if (!answer.ok) return this.editor.say(answer.problem.message);
      this.editor.say(
        found.length === 1 ? `Added: ${String(device.after!['name'])}. Give it a name of its own.` : `Added: ${found.length} devices.`,
      );
      void this.router.navigate(['/site'], { queryParams: { device: device.id } });
    });
  }

  protected seconds(ms: number): string {
    return ms < 10_000 ? `${(ms / 1000).toFixed(1)} s` : ms < 120_000 ? `${Math.round(ms / 1000)} s` : `${(ms / 60_000).toFixed(1)} min`;
  }

  private start(kind: ProofKind, asked: Record<string, unknown>): void {
    this.subscription?.unsubscribe();
    forgetRefusals(this.form());
    const body = { ...asked, on: this.on() };
    this.run.set({ kind, body, events: [], running: true });
    const ended = () => this.run.update((run) => run && { ...run, running: false });
    this.subscription = this.proofs.run(this.project.document()!.project.id, kind, body).subscribe({
      next: (event) => this.run.update((run) => run && { ...run, events: [...run.events, event] }),
      complete: ended,
      error: (error: unknown) => {
        this.run.set(null);
        const problem = error instanceof Refused ? error.problem : { message: 'The connection broke in the middle of it.', path: [] };
        refuseIn(this.form(), problem);
      },
    });
  }

  private events<K extends ProveEvent['kind']>(kind: K): Extract<ProveEvent, { kind: K }>[] {
    return (this.run()?.events ?? []).filter((event): event is Extract<ProveEvent, { kind: K }> => event.kind === kind);
  }

  private sweptBy({ kind, body }: Run): Swept {
    if (kind === 'units') return { kind, first: Number(body['first']), last: Number(body['last']) };
    return { kind: 'hosts', first: String(body['first']), last: String(body['last']), ports: body['ports'] as number[] };
  }
}
