import { ChangeDetectionStrategy, Component, inject, Injectable, input } from '@angular/core';
import { MatIcon, MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import {
  Activity,
  ArrowRightLeft,
  ArrowUp,
  Cable,
  Calculator,
  CircleQuestionMark,
  Contrast,
  FileCheck,
  FlaskConical,
  GripVertical,
  Moon,
  Network,
  Play,
  Plus,
  Redo2,
  Search,
  Square,
  Sun,
  TableProperties,
  Timer,
  Undo2,
  X,
} from 'lucide-static';

/** The icons that are used, by what they stand for. A new one is its line here. */
const icons = {
  site: Network,
  lines: Cable,
  registers: TableProperties,
  routes: ArrowRightLeft,
  rounds: Timer,
  bench: FlaskConical,
  trace: Activity,
  handover: FileCheck,
  undo: Undo2,
  redo: Redo2,
  find: Search,
  reckoner: Calculator,
  help: CircleQuestionMark,
  system: Contrast,
  light: Sun,
  dark: Moon,
  run: Play,
  stop: Square,
  add: Plus,
  remove: X,
  up: ArrowUp,
  grip: GripVertical,
} as const;
export type IconName = keyof typeof icons;

@Injectable({ providedIn: 'root' })
class IconSet {
  constructor() {
    const [registry, sanitizer] = [inject(MatIconRegistry), inject(DomSanitizer)];
    for (const [name, svg] of Object.entries(icons)) registry.addSvgIconLiteral(name, sanitizer.bypassSecurityTrustHtml(svg));
  }
}

/** An icon as high as the text beside it; what it stands for is said by the text, or by the label of its button. */
@Component({
  selector: 'pe-icon',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIcon],
  template: `<mat-icon [svgIcon]="name()" aria-hidden="true" />`,
  styles: `
    :host {
      display: inline-flex;
      vertical-align: -0.2em;
    }
    mat-icon {
      width: var(--pe-icon-size, 1.15em);
      height: var(--pe-icon-size, 1.15em);
      font-size: inherit;
    }
  `,
})
export class Icon {
  readonly name = input.required<IconName>();

  constructor() {
    inject(IconSet);
  }
}
