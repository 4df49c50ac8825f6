import { ActiveDescendantKeyManager, type Highlightable } from '@angular/cdk/a11y';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  Directive,
  inject,
  Injector,
  signal,
  viewChildren,
} from '@angular/core';
import { MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { Live } from '../data/live';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { addressOf } from '../parts/format';
import { Actions } from '../parts/actions';
import { screens } from '../screens/list';
import { everywhere } from './everywhere';
import { ThemeChoice, themes } from './theme';

interface Entry {
  name: string;
  hint: string;
  run(): unknown;
}

const SHOWN = 12;

/** A line of what was found; the keyboard stays in the field above. */
@Directive({ selector: '[peEntry]', host: { role: 'option', '[attr.aria-selected]': 'isActive()' } })
export class EntryOption implements Highlightable {
  protected readonly isActive = signal(false);

  setActiveStyles(): void {
    this.isActive.set(true);
  }

  setInactiveStyles(): void {
    this.isActive.set(false);
  }
}

/** Everything by name: screens, actions, devices, points and routes. */
@Component({
  selector: 'pe-palette',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [EntryOption],
  template: `<input
      #box
      type="text"
      role="combobox"
      aria-label="Find anything"
      aria-expanded="true"
      aria-controls="palette-list"
      [attr.aria-activedescendant]="'palette-' + (keys.activeItemIndex ?? 0)"
      placeholder="A screen, a device, a point, a route, an action"
      autocomplete="off"
      (input)="type(box.value)"
      (keydown)="key($event)"
    />
    <ul id="palette-list" role="listbox" aria-label="What was found">
      @for (entry of found(); track $index) {
        <li
          peEntry
          tabindex="-1"
          [id]="'palette-' + $index"
          (click)="run(entry)"
          (keydown.enter)="run(entry)"
          (mousemove)="keys.setActiveItem($index)"
        >
          <span>{{ entry.name }}</span> <span class="quiet">{{ entry.hint }}</span>
        </li>
      } @empty {
        <li class="quiet">Nothing has that in its name.</li>
      }
    </ul>`,
  styles: `
    :host {
      display: block;
      padding: 10px;
    }
    input {
      width: 100%;
      box-sizing: border-box;
      font: inherit;
      font-size: 16px;
      padding: 8px 10px;
      color: inherit;
      background: var(--mat-sys-surface);
      border: 1px solid var(--mat-sys-outline);
      border-radius: 4px;
    }
    ul {
      list-style: none;
      margin: 8px 0 0;
      padding: 0;
      min-height: 320px;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: 16px;
      padding: 5px 10px;
      cursor: pointer;
    }
    li[aria-selected='true'] {
      background: var(--mat-sys-primary-container);
    }
  `,
})
export class Palette {
  private readonly dialog = inject(MatDialogRef);
  private readonly router = inject(Router);
  private readonly project = atEdge(inject(ProjectStore), 'document', 'undoLabel', 'redoLabel', 'devices');
  private readonly live = atEdge(inject(Live), 'running');
  private readonly actions = inject(Actions);
  private readonly theme = inject(ThemeChoice);
  private readonly text = signal('');

  private readonly options = viewChildren(EntryOption);
  protected readonly keys = new ActiveDescendantKeyManager(this.options, inject(Injector)).withWrap();
  protected readonly found = computed(() => {
    const words = this.text().toLowerCase().split(/\s+/).filter(Boolean);
    return this.entries()
      .filter(({ name, hint }) => words.every((word) => `${name} ${hint}`.toLowerCase().includes(word)))
      .slice(0, SHOWN);
  });

  private readonly entries = computed((): Entry[] => {
    const document = this.project.document();
    const devices = this.project.devices();
    const open =
      (path: string, queryParams: Record<string, string> = {}) =>
      () =>
        this.router.navigate([path], { queryParams });
    const hints: Record<string, string> = {
      undo: this.project.undoLabel() ?? 'nothing to undo',
      redo: this.project.redoLabel() ?? 'nothing to redo',
    };
    const names: Record<string, string> = { bench: this.live.running() ? 'Stop the bench' : 'Run the bench' };
    const own = everywhere.filter(({ id }, index) => id !== 'find' && everywhere.findIndex((other) => other.id === id) === index);
    return [
      ...screens.map(({ path, name }) => ({ name, hint: 'screen', run: open(`/${path}`) })),
      ...own.map(({ id, name, keys }) => ({
        name: names[id] ?? name,
        hint: [hints[id] ?? 'action', keys].filter(Boolean).join(' · '),
        run: () => this.actions.run(id),
      })),
      ...screens.flatMap((screen) =>
        screen.actions.map(({ id, name, keys }) => ({
          name,
          hint: [screen.name, keys].filter(Boolean).join(' · '),
          run: () => this.act(screen.path, id),
        })),
      ),
      ...themes.map((theme) => ({ name: `Colours: ${theme}`, hint: 'action', run: () => this.theme.set(theme) })),
      ...(document?.lines ?? []).map(({ id, name }) => ({ name, hint: 'line', run: open('/lines', { line: id }) })),
      ...(document?.devices ?? []).map(({ id, name, kind }) => ({ name, hint: kind, run: open('/site', { device: id }) })),
      ...(document?.routes ?? []).map(({ id, name }) => ({ name, hint: 'route', run: open('/routes', { route: id }) })),
      ...(document?.points ?? []).map((point) => {
        const device = devices.get(point.deviceId);
        return { name: point.name, hint: `${device?.name} ${addressOf(point, device)}`, run: open('/registers', { point: point.id }) };
      }),
    ];
  });

  constructor() {
    // What fits best is the one that Enter takes.
    afterRenderEffect(() => {
      if (this.options().length) this.keys.setFirstItemActive();
    });
  }

  protected type(text: string): void {
    this.text.set(text);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'Enter') return this.keys.onKeydown(event);
    const entry = this.found()[this.keys.activeItemIndex ?? 0];
    if (entry) this.run(entry);
  }

  /** Where its screen is not open, it is opened first. */
  private act(path: string, id: string): unknown {
    if (this.actions.canRun(id)) return this.actions.run(id);
    this.actions.runLater(id);
    return this.router.navigate([`/${path}`]);
  }

  protected run(entry: Entry): void {
    this.dialog.close();
    entry.run();
  }
}
