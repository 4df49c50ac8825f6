import { ChangeDetectionStrategy, Component, DestroyRef, effect, ElementRef, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { Tour } from './tour';

const LOOK_EACH_MS = 100;
const LOOK_TIMES = 50;

interface Step {
  path: string;
  query?: Record<string, string>;
  /** What it is about, marked on the page. */
  at: string;
  title: string;
  text: string;
}

/** One step is one line of the story: what the plant is, what is wrong with it, what its registers mean, what is carried, and whether it works. */
const steps: readonly Step[] = [
  {
    path: '/site',
    at: 'pe-site .plant',
    title: 'The plant',
    text: 'Lines are staves, and what hangs on them are devices. A click on one shows how it is set; ribbons are what is carried between two.',
  },
  {
    path: '/lines',
    query: { line: '019aa000-0000-7000-8000-000000000003' },
    at: '[data-port="Fan drive south"]',
    title: 'A line and a fault',
    text: 'Fan drive south is set otherwise than its line. “Set as the line” mends it; Ctrl+Z takes that back.',
  },
  {
    path: '/registers',
    at: 'pe-address-strip',
    title: 'What its registers mean',
    text: 'The strip is the device’s memory: points, holes, and brackets for what one request fetches. The grid below is typed in like a spreadsheet, and takes a whole table from a manual.',
  },
  {
    path: '/routes',
    at: 'pe-banks',
    title: 'What is carried',
    text: 'Source left, destination right. Drag a point across, or choose several with Shift and carry them in order; requests and periods are worked out for you.',
  },
  {
    path: '/bench',
    at: 'pe-bench .screen-head button',
    title: 'Whether it works',
    text: 'Run starts a stand-in for each device behind real sockets and asks them as the controllers would. What is wrong is said below, with its cause and where to mend it.',
  },
];

/** A step of the tour: a card beside the page, which can be worked with meanwhile. */
@Component({
  selector: 'pe-tour-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `@if (step(); as shown) {
    <section role="dialog" [attr.aria-label]="'Tour: ' + shown.title" (keydown.escape)="tour.end()">
      <h2>{{ (tour.at() ?? 0) + 1 }} of {{ count }}: {{ shown.title }}</h2>
      <p>{{ shown.text }}</p>
      <div class="actions">
        <button mat-button type="button" name="tour-end" (click)="tour.end()">Leave</button>
        <span class="spread"></span>
        @if (tour.at()) {
          <button mat-button type="button" name="tour-back" (click)="go(-1)">Back</button>
        }
        <button #next mat-flat-button type="button" name="tour-next" (click)="go(1)">
          {{ tour.at() === count - 1 ? 'Done' : 'Next' }}
        </button>
      </div>
    </section>
  }`,
  styles: `
    section {
      position: fixed;
      right: 24px;
      bottom: 24px;
      z-index: 20;
      width: 340px;
      padding: 12px 16px 8px;
      background: var(--mat-sys-surface-container-high);
      border: 2px solid var(--pe-carried);
      border-radius: 6px;
      box-shadow: 0 6px 24px rgb(0 0 0 / 0.2);
    }
    p {
      margin: 6px 0;
    }
    .actions {
      display: flex;
      align-items: center;
    }
    .spread {
      flex: 1;
    }
  `,
})
export class TourCard {
  protected readonly tour = inject(Tour);
  private readonly router = inject(Router);
  private readonly next = viewChild<string, ElementRef<HTMLElement>>('next', { read: ElementRef });
  protected readonly count = steps.length;
  protected readonly step = signal<Step | null>(null);
  private marked: Element | null = null;
  private looking: ReturnType<typeof setInterval> | undefined;

  constructor() {
    effect(() => void this.show(this.tour.at()));
    effect(() => this.next()?.nativeElement.focus());
    inject(DestroyRef).onDestroy(() => this.unmark());
  }

  protected go(by: 1 | -1): void {
    const to = (this.tour.at() ?? 0) + by;
    this.tour.at.set(to < steps.length ? to : null);
  }

  private async show(at: number | null): Promise<void> {
    this.unmark();
    const step = at === null ? null : steps[at]!;
    // Somebody who stays on his screen has something to finish there; the tour waits where it is.
    if (step && !(await this.router.navigate([step.path], { queryParams: step.query ?? {} })) && !this.router.url.startsWith(step.path)) {
      return;
    }
    this.step.set(step);
    if (step) this.mark(step.at);
  }

  /** Marks a part of the screen as soon as it is there. */
  private mark(at: string): void {
    let left = LOOK_TIMES;
    this.looking = setInterval(() => {
      const found = document.querySelector(at);
      if (found) {
        this.marked = found;
        found.classList.add('tour-here');
        found.scrollIntoView({ block: 'nearest' });
      }
      if (found || --left === 0) clearInterval(this.looking);
    }, LOOK_EACH_MS);
  }

  private unmark(): void {
    clearInterval(this.looking);
    this.marked?.classList.remove('tour-here');
    this.marked = null;
  }
}
