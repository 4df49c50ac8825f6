import { LiveAnnouncer } from '@angular/cdk/a11y';
import { Overlay, type OverlayRef } from '@angular/cdk/overlay';
import { ComponentPortal } from '@angular/cdk/portal';
import { NgComponentOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, ElementRef, inject, Injectable, input } from '@angular/core';
import { filter, fromEvent, map, merge, takeUntil } from 'rxjs';
import { Icon } from '../icon';
import type { HelpTopic } from './topic';
import { type HelpName, topics } from './topics';

@Component({
  selector: 'pe-help-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgComponentOutlet],
  template: `@if (topic().drawing; as drawing) {
      <ng-container [ngComponentOutlet]="drawing" />
    }
    <p>{{ topic().sentence }}</p>`,
  styles: `
    :host {
      display: block;
      width: 320px;
      padding: 10px 14px;
      box-sizing: border-box;
      background: var(--mat-sys-surface-container-high);
      border: 1px solid var(--mat-sys-outline);
      border-radius: 6px;
      box-shadow: 0 4px 16px rgb(0 0 0 / 18%);
    }
    p {
      margin: 4px 0 0;
      font-size: 13px;
      line-height: 18px;
    }
  `,
})
class HelpCard {
  readonly topic = input.required<HelpTopic>();
}

/** Says what is meant by a field, beside it, until the keyboard or the pointer goes elsewhere. One is open at a time. */
@Injectable({ providedIn: 'root' })
export class Help {
  private readonly overlay = inject(Overlay);
  private readonly announcer = inject(LiveAnnouncer);
  private opened: { ref: OverlayRef; origin: HTMLElement } | null = null;

  /** Opens it at a field; where it is open there already, closes it. */
  turn(origin: HTMLElement, topic: HelpTopic): void {
    const wasHere = this.opened?.origin === origin;
    this.close();
    if (wasHere) return;
    const positions = [
      { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top', offsetY: 6 },
      { originX: 'start', originY: 'top', overlayX: 'start', overlayY: 'bottom', offsetY: -6 },
      { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top', offsetY: 6 },
    ] as const;
    const ref = this.overlay.create({
      positionStrategy: this.overlay
        .position()
        .flexibleConnectedTo(origin)
        .withPositions([...positions])
        .withViewportMargin(8),
      scrollStrategy: this.overlay.scrollStrategies.close(),
    });
    this.opened = { ref, origin };
    ref.attach(new ComponentPortal(HelpCard)).setInput('topic', topic);
    void this.announcer.announce(topic.sentence);
    const escape = fromEvent<KeyboardEvent>(document, 'keydown', { capture: true }).pipe(filter(({ key }) => key === 'Escape'));
    merge(
      // Escape closes this alone, and not the panel that the field is in.
      escape.pipe(map((event) => event.stopPropagation())),
      ref.outsidePointerEvents().pipe(filter(({ target }) => !origin.contains(target as Node))),
      fromEvent<FocusEvent>(origin, 'focusout').pipe(filter(({ relatedTarget }) => !origin.contains(relatedTarget as Node | null))),
    )
      .pipe(takeUntil(ref.detachments()))
      .subscribe(() => this.close());
    ref.detachments().subscribe(() => {
      if (this.opened?.ref === ref) this.opened = null;
    });
  }

  private close(): void {
    this.opened?.ref.dispose();
    this.opened = null;
  }
}

/** A question mark in or beside a field that a drawing explains. F1 in the field does the same. */
@Component({
  selector: 'pe-help',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Icon],
  template: `<button type="button" aria-label="What is meant" (click)="open($event)"><pe-icon name="help" /></button>`,
  styles: `
    button {
      display: flex;
      padding: 4px;
      border: 0;
      background: none;
      color: var(--mat-sys-on-surface-variant);
      cursor: pointer;
    }
    button:hover {
      color: var(--mat-sys-primary);
    }
    pe-icon {
      --pe-icon-size: 16px;
    }
  `,
})
export class HelpButton {
  private readonly help = inject(Help);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly topic = input.required<HelpName>();

  protected open(event: Event): void {
    event.stopPropagation();
    this.help.turn(this.element.closest<HTMLElement>('[data-name]') ?? this.element, topics[this.topic()]);
  }
}
