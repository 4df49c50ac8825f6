import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { type Behaviour, behaviours } from '@plain-envoy/core/behaviours';
import { BY_ITS_MAP, type Change } from '@plain-envoy/core/model';
import { playedPoints, type PointVariable, variablesOf } from '@plain-envoy/core/playing';
import { compileProgram, type ProgramProblem, typeName } from '@plain-envoy/core/program';
import { debounceTime, startWith, switchMap, timer } from 'rxjs';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { controlOf } from '../../parts/controls';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { Unsaved } from '../../parts/unsaved';
import { text as valueText } from '../../program/beside-lines';
import { ProgramEditor } from '../../program/program-editor';
import { BehaviourForm } from './behaviour-form';
import { LearnForm } from './learn-form';
import { MapState } from './map-state';

/** After so long without a key the text is checked. */
const CHECK_MS = 250;
const NO_BEHAVIOUR = '';
/** How often it is looked whether it still runs. */
const LOOK_MS = 2000;

interface Says {
  text: string;
  ink: string;
  at: Pick<ProgramProblem, 'line' | 'column'> | null;
}

/** What the stand-in of a device does, in Structured Text: written here, checked while it is typed, and applied without a restart of the others. */
@Component({
  selector: 'pe-program-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BehaviourForm, Choose, LearnForm, MatButtonModule, ProgramEditor, ReactiveFormsModule, Table],
  templateUrl: './program-view.html',
  styleUrls: ['./wide-view.scss', './program-view.scss'],
  host: { '(keydown.control.enter)': 'apply(); $event.preventDefault()' },
})
export class ProgramView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly standIns = inject(StandIns);
  private readonly all = atEdge(this.standIns, 'all');
  private readonly editorState = inject(Editor);
  private readonly unsaved = inject(Unsaved);
  protected readonly editor = viewChild(ProgramEditor);
  readonly closed = output();

  protected readonly form = new FormGroup({ program: controlOf('') });
  protected readonly text = toSignal(this.form.controls.program.valueChanges.pipe(startWith('')), { requireSync: true });
  private readonly checked = toSignal(this.form.controls.program.valueChanges.pipe(debounceTime(CHECK_MS)), { initialValue: '' });
  protected readonly problem = signal<string | null>(null);
  protected readonly none: ReadonlySet<string> = new Set();

  protected readonly points = computed(() => playedPoints(this.project.document()!, this.state.deviceId()));
  protected readonly variables = computed(() => variablesOf(this.points()));
  protected readonly known = computed(() => this.variables().map(({ name, type }) => ({ name, what: typeName(type) })));
  protected readonly problems = computed((): readonly ProgramProblem[] =>
    this.checked().trim() === '' ? [] : compileProgram(this.checked(), this.variables()).problems,
  );
  /** How the stand-in runs what was applied. */
  private readonly standIn = computed(() => this.all.all().find(({ deviceId }) => deviceId === this.state.deviceId()) ?? null);
  private readonly runs = computed(() => this.standIn()?.program ?? null);
  private readonly values = toSignal(toObservable(this.state.deviceId).pipe(switchMap((deviceId) => this.standIns.variables(deviceId))), {
    initialValue: null,
  });
  /** What stands beside the lines is of the program that runs, so it is not shown beside other lines. */
  protected readonly shown = computed(() => (this.text() === this.state.device()?.program ? this.values() : null));

  protected readonly why = computed(() => {
    const device = this.state.device();
    if (device?.standIn === BY_ITS_MAP) return null;
    return device?.standIn
      ? 'A gateway passes on what it is asked, so its program is not run.'
      : 'No stand-in plays this device, so its program is not run. Let one play it in the panel “Device”.';
  });
  /** What it plays in the place of a program, and where in it. */
  protected readonly recording = computed((): string | null => {
    const recording = this.state.device()?.recording;
    if (!recording) return null;
    const { file, endpointId, unit } = recording;
    const { at, problem } = this.standIn()?.recording ?? { at: null, problem: null };
    const where = at ? ` ${minutesText(at.atMs)} of ${minutesText(at.lastsMs)}${at.round > 1 ? `, for the ${at.round}. time` : ''}.` : '';
    return problem
      ? `It answers nothing: ${problem}`
      : `It plays ${file}, in which it is ${endpointId}, unit ${unit}; its program is not run.${where}`;
  });
  protected readonly says = computed((): Says => {
    // What was found of another text is not said of this one.
    if (this.text() !== this.checked()) return { text: 'Being checked …', ink: 'quiet', at: null };
    const [first] = this.problems();
    if (first)
      return {
        text: `Line ${first.line}: ${first.message}${this.problems().length > 1 ? ` And ${this.problems().length - 1} more.` : ''}`,
        ink: 'bad',
        at: first,
      };
    if (this.text() !== (this.state.device()?.program ?? '')) return { text: 'Sound, and not applied yet.', ink: 'quiet', at: null };
    if (this.text().trim() === '') return { text: 'No program: its stand-in holds what is written to it.', ink: 'quiet', at: null };
    const stopped = this.runs()?.stopped;
    if (stopped) return { text: `Stopped in line ${stopped.line}, scan ${stopped.scan}: ${stopped.message}`, ink: 'bad', at: stopped };
    if (this.recording()) return { text: 'Not run.', ink: 'quiet', at: null };
    return this.runs() ? { text: 'Runs.', ink: 'good', at: null } : { text: '', ink: 'quiet', at: null };
  });

  protected readonly behaviourOptions: Option<string>[] = [
    { value: NO_BEHAVIOUR, text: 'none' },
    ...behaviours.map(({ id, name, says }) => ({ value: id, text: name, more: says })),
  ];
  protected readonly chosen = linkedSignal<string, string>({ source: () => this.state.deviceId(), computation: () => NO_BEHAVIOUR });
  protected readonly behaviour = computed((): Behaviour | null => behaviours.find(({ id }) => id === this.chosen()) ?? null);

  protected readonly learns = linkedSignal<string, boolean>({ source: () => this.state.deviceId(), computation: () => false });

  protected readonly idOf = ({ name }: PointVariable): string => name;
  protected readonly columns: readonly Column<PointVariable>[] = [
    { name: 'variable', head: 'Variable', text: ({ name }) => name, kind: 'mono', more: ({ point }) => point.name, by: ({ name }) => name },
    { name: 'type', head: 'Type', text: ({ type }) => typeName(type), kind: 'mono' },
    { name: 'now', head: 'Holds', text: ({ name }) => this.held(name), kind: 'mono' },
  ];

  constructor() {
    this.unsaved.watch(
      () => 'the program',
      () => this.form,
    );
    timer(LOOK_MS, LOOK_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.standIns.refresh());
    // Another device, or another program of it, is shown at once; what is typed is not thrown away.
    effect(() => {
      const program = this.state.device()?.program ?? '';
      untracked(() => {
        if (!this.form.dirty) this.form.controls.program.reset(program);
      });
    });
  }

  protected take(text: string): void {
    this.form.controls.program.setValue(text);
    this.form.markAsDirty();
    this.editor()?.focus();
    this.chosen.set(NO_BEHAVIOUR);
    this.learns.set(false);
  }

  protected played(sentence: string): void {
    this.learns.set(false);
    this.editorState.say(sentence);
    this.standIns.refresh();
  }

  /** The recording stays attached to the device. */
  protected playNoLonger(): void {
    const device = this.state.device();
    if (!device) return;
    const change: Change = { entity: 'device', id: device.id, before: device, after: { ...device, recording: null } };
    this.store.commit(`${device.name} runs its program again`, [change]).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.standIns.refresh();
    });
  }

  protected apply(): void {
    const device = this.state.device();
    const program = this.text();
    if (!device || !this.form.dirty) return;
    const change: Change = { entity: 'device', id: device.id, before: device, after: { ...device, program } };
    this.store.commit(`The program of ${device.name}`, [change]).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok) return;
      this.form.markAsPristine();
      const wrong = compileProgram(program, this.variables()).problems.length > 0 && program.trim() !== '';
      this.editorState.say(wrong ? `Kept, but ${device.name} does not run it as it is.` : `${device.name} runs its program from now on.`);
      this.standIns.refresh();
    });
  }

  protected revert(): void {
    this.form.controls.program.reset(this.state.device()?.program ?? '');
    this.problem.set(null);
  }

  protected leave(): void {
    this.unsaved.mayLeave().subscribe((may) => may && this.closed.emit());
  }

  /** Only points that the program names are known. */
  private held(name: string): string {
    const value = this.values()?.[name];
    return value === undefined ? '' : valueText(value);
  }
}

/** `2:05`: minutes and seconds. */
function minutesText(ms: number): string {
  const seconds = Math.floor(ms / 1000);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
