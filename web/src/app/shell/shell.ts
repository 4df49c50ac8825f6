import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatSidenavModule } from '@angular/material/sidenav';
import { Router, RouterLink, RouterOutlet } from '@angular/router';
import { timer } from 'rxjs';
import { DEMO_ID } from '@plain-envoy/core/model';
import { Editor } from '../data/editor';
import { Live } from '../data/live';
import { Session } from '../data/session';
import { PlanStore } from '../data/plan';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { ReckonerDrawer } from '../reckon/reckoner-drawer';
import type { AboutProjectData } from '../parts/about-project';
import { Actions, keysOf } from '../parts/actions';
import { BenchControl } from '../parts/bench-control';
import { Dialogs } from '../parts/dialogs';
import { Icon } from '../parts/icon';
import { screens } from '../screens/list';
import { everywhere } from './everywhere';
import { FindingsPanel } from './findings-panel';
import { Rail } from './rail';
import { ThemeChoice } from './theme';
import { Tour } from './tour';
import { TourCard } from './tour-card';

const aboutProject = () => import('../parts/about-project').then((file) => file.AboutProject);
const palette = () => import('./palette').then((file) => file.Palette);
const keysSheet = () => import('./keys-sheet').then((file) => file.KeysSheet);
const signIn = () => import('./sign-in').then((file) => file.SignIn);
/** The first screen comes first. */
const AT_HAND_AFTER_MS = 3000;

/** What surrounds every screen: bar, rail, what is the matter, and the keys that work everywhere. */
@Component({
  selector: 'pe-root',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Icon, MatButtonModule, MatSidenavModule, RouterOutlet, RouterLink, Rail, FindingsPanel, ReckonerDrawer, TourCard],
  templateUrl: './shell.html',
  styleUrls: ['./bar.scss', './shell.scss'],
  host: { '(document:keydown)': 'key($event)' },
})
export class Shell {
  private readonly dialogs = inject(Dialogs);
  private readonly router = inject(Router);
  private readonly actions = inject(Actions);
  private readonly editor = inject(Editor);
  private readonly store = inject(ProjectStore);
  protected readonly project = atEdge(this.store, 'document', 'revision', 'undoLabel', 'redoLabel', 'problem');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'connected', 'bench', 'database', 'standInsProblem', 'running', 'onRealPlant');
  private readonly signing = inject(Session);
  protected readonly session = atEdge(this.signing, 'name', 'asks');
  protected readonly bench = inject(BenchControl);
  protected readonly theme = inject(ThemeChoice);
  protected readonly tour = inject(Tour);
  protected readonly findingsOpen = signal(false);
  protected readonly reckonerOpen = signal(false);
  private back: HTMLElement | null = null;
  private readonly plan = atEdge(inject(PlanStore), 'findings');

  /** The tour is about the demo. */
  protected readonly offersTour = computed(() => this.tour.isOffered() && this.project.document()?.project.id === DEMO_ID);

  protected readonly counts = computed(() => {
    const findings = this.plan.findings();
    const stops = findings.filter((finding) => finding.severity === 'stop').length;
    const parts = [stops && plural(stops, 'stop'), findings.length - stops && plural(findings.length - stops, 'remark')].filter(Boolean);
    return { stops, text: parts.length ? parts.join(' · ') : 'No findings' };
  });
  protected readonly matter = computed(() => {
    if (this.session.asks()) return null;
    if (!this.live.connected()) return 'The server does not answer. What is shown may be old; it is tried again every second.';
    const database = this.live.database();
    if (!database.ok) return database.message;
    const waits = this.live.bench().awaiting;
    if (waits)
      return 'An edit would do something else on the real plant than was confirmed, so it waits: see Bench, and confirm it or take it back.';
    return this.past() ?? this.live.standInsProblem();
  });
  /** What the bench did by itself, until somebody has seen it. */
  protected readonly seen = signal<string | null>(null);
  private readonly past = computed(() => {
    const { byItself } = this.live.bench();
    return byItself === this.seen() ? null : byItself;
  });
  protected readonly isPast = computed(() => this.matter() !== null && this.matter() === this.past());

  protected readonly benchText = computed(() => {
    if (!this.live.running()) return 'Bench is stopped';
    return this.live.onRealPlant() ? 'Bench runs on the real plant' : 'Bench runs on stand-ins';
  });
  protected readonly byHandText = computed(() => {
    const { byHand } = this.live.bench();
    const forced = byHand.filter(({ kind }) => kind === 'forced').length;
    const moving = byHand.length - forced;
    return [forced && `${forced} forced`, moving && `${moving} moving`].filter(Boolean).join(' · ');
  });

  constructor() {
    this.actions.offer({
      find: () => this.find(),
      undo: () => this.step('undo'),
      redo: () => this.step('redo'),
      bench: () => this.bench.toggle(),
      findings: () => this.findingsOpen.update((open) => !open),
      reckoner: () => this.toggleReckoner(),
      keys: () => this.keys(),
      projects: () => location.assign('/'),
      about: () => this.about(),
      tour: () => this.tour.begin(),
      colours: () => this.theme.next(),
    });
    this.feed.told$.pipe(takeUntilDestroyed()).subscribe((text) => this.editor.keep(text));
    this.store.load();
    // Nobody who wants to find something waits for it. What cannot be loaded now is loaded when it is wanted.
    timer(AT_HAND_AFTER_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => void this.dialogs.fetch(palette).catch(() => undefined));
    effect(() => {
      if (this.session.asks()) this.askToSignIn();
    });
    // A feed that breaks off may have ended with the session.
    effect(() => {
      if (!this.live.connected()) this.signing.look().subscribe();
    });
  }

  private askToSignIn(): void {
    if (this.dialogs.isOpen(signIn)) return;
    // What was asked for before was refused; what is open stays as it is.
    this.dialogs.open(signIn, { width: '420px', disableClose: true }).subscribe(() => this.project.document() ?? this.store.load());
  }

  protected load(): void {
    this.store.load();
  }

  protected signOut(): void {
    this.signing.signOut().subscribe();
  }

  protected keys(): void {
    this.dialogs.open(keysSheet, { width: '900px', maxWidth: '94vw', autoFocus: 'button' }).subscribe();
  }

  /** The project as a whole: what it is called, and for whom it is. */
  protected about(): void {
    const project = this.store.current?.project;
    if (!project) return;
    const data: AboutProjectData = {
      about: { name: project.name, client: project.client, note: project.note },
      save: (about) => {
        const before = this.store.current!.project;
        return this.store.commit(`About ${about.name}`, [{ entity: 'project', id: before.id, before, after: { ...before, ...about } }]);
      },
    };
    this.dialogs.open(aboutProject, { data, width: '480px', maxWidth: '94vw', autoFocus: 'input[name=name]' }).subscribe();
  }

  protected find(): void {
    const config = { width: '620px', position: { top: '64px' }, autoFocus: 'input', ariaLabel: 'Find anything' };
    this.dialogs.open(palette, config).subscribe();
  }

  /** Opens or closes the drawer; the keyboard goes back to where it was. */
  protected toggleReckoner(): void {
    const opens = !this.reckonerOpen();
    if (opens) this.back = document.activeElement as HTMLElement | null;
    this.reckonerOpen.set(opens);
    if (!opens) this.back?.focus();
  }

  protected step(kind: 'undo' | 'redo'): void {
    this.editor.step(kind);
  }

  /** Keys of the screen that is open, and those that work everywhere; a letter alone is typed where one can type. */
  protected key(event: KeyboardEvent): void {
    if (event.defaultPrevented || this.dialogs.isOpen()) return;
    const typing = (event.target as HTMLElement).matches?.('input, textarea, select, [contenteditable]');
    const isPlain = !event.altKey && !event.ctrlKey && !event.metaKey;
    const pressed = keysOf(event);
    if (typing && (isPlain || pressed.startsWith('Ctrl+Z') || pressed === 'Ctrl+Y')) return;
    const here = screens.find(({ path }) => this.router.url.split('?')[0] === `/${path}`);
    const action = [...(here?.actions ?? []), ...everywhere].find(({ id, keys }) => keys === pressed && this.actions.canRun(id));
    if (!action) return;
    event.preventDefault();
    this.actions.run(action.id);
  }
}

function plural(count: number, word: string): string {
  return `${count} ${word}${count === 1 ? '' : 's'}`;
}
