import { NgComponentOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatTabsModule } from '@angular/material/tabs';
import { Router } from '@angular/router';
import { Documents } from '../../data/documents';
import { Editor } from '../../data/editor';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Actions } from '../../parts/actions';
import { Choose } from '../../parts/choose';
import { named } from '../../parts/named';
import type { WithText } from './kind';
import { kinds } from './list';
import { ParcelButton } from './parcel-button';

/** What is left behind when the work is done: sheets and lists, each of a kind and of a device, on the screen, as files and on paper. */
@Component({
  selector: 'pe-handover',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatTabsModule, NgComponentOutlet, ParcelButton],
  templateUrl: './handover.html',
  styleUrl: './handover.scss',
})
export class HandoverScreen {
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly formats = atEdge(inject(Documents), 'menus').menus;
  private readonly outlet = viewChild(NgComponentOutlet);
  /** The kind of document and what it is of, from the address. */
  readonly view = input<string>();
  readonly of = input<string>();

  protected readonly kinds = kinds;
  protected readonly kind = computed(() => kinds.find(({ key }) => key === this.view()) ?? kinds[0]);
  private readonly subjects = computed(() => this.kind().subjects(this.project.document()!, this.plan.plan()));
  protected readonly options = computed(() => named(this.subjects()));
  protected readonly subject = computed(() => this.subjects().find(({ id }) => id === this.of()) ?? this.subjects()[0] ?? null);
  protected readonly about = computed(() => {
    const subject = this.subject();
    return subject ? this.kind().about(this.project.document()!, this.plan.plan(), subject.id) : '';
  });
  protected readonly menu = computed(() => {
    const { menu } = this.kind();
    return menu ? this.formats()[menu] : [];
  });
  protected readonly inputs = computed(() => ({ of: this.subject()?.id ?? '' }));

  constructor() {
    inject(Actions).offer({ 'handover.copy': () => this.copy(), 'handover.print': () => this.print() });
  }

  protected path(format: string): string {
    return `/api/projects/${this.project.document()!.project.id}/${this.kind().path(this.subject()!.id)}?format=${format}`;
  }

  protected show(view: string, of?: string): void {
    void this.router.navigate([], { queryParams: { view, of: of ?? null }, replaceUrl: true });
  }

  /** The table for the clipboard, cells apart by tabs, as spreadsheets take it; or the text that its view has. */
  protected async copy(): Promise<void> {
    if (this.kind().copies === 'text') {
      await navigator.clipboard.writeText((this.outlet()!.componentInstance as WithText).copied());
      return this.editor.say('Copied');
    }
    const table = this.element.nativeElement.querySelector('table');
    const rows = [...(table?.rows ?? [])].map((row) => [...row.cells].map((cell) => cell.innerText.replace(/\s+/g, ' ').trim()).join('\t'));
    await navigator.clipboard.writeText(rows.join('\n'));
    this.editor.say(`Copied: ${rows.length - 1} rows`);
  }

  protected print(): void {
    window.print();
  }
}
