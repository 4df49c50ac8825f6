import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { type Route } from '@plain-envoy/core/model';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusViewOnOpen } from '../../parts/focus';
import { RouteTable } from '../../parts/route-table';

/** What a ribbon carries: the routes from one device to another, with what each delivers now. */
@Component({
  selector: 'pe-ribbon-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouteTable],
  template: `<h2>{{ nameOf(fromId()) }} <span class="carried">⟶</span> {{ nameOf(toId()) }}</h2>
    <pe-route-table
      [routes]="routes()"
      [only]="['route', 'destination-value', 'quality']"
      nothing="Nothing is carried this way any more."
      (choose)="open($event)"
    />
    <div class="actions">
      @if (routes()[0]; as first) {
        <button mat-button type="button" (click)="open(first)">Open in Routes</button>
      }
      @if (back().length) {
        <button mat-button type="button" name="turn-ribbon" (click)="turned.emit()">The other way ({{ back().length }})</button>
      }
      <button mat-button type="button" (click)="closed.emit()">Close</button>
    </div>`,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
    }
    h2 {
      margin: 8px 0;
    }
    pe-route-table {
      flex: 0 1 auto;
    }
    .carried {
      color: var(--pe-carried);
    }
    .actions {
      margin-top: 10px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class RibbonPanel {
  private readonly project = atEdge(inject(ProjectStore), 'document', 'devices', 'points');
  private readonly router = inject(Router);
  readonly fromId = input.required<string>();
  readonly toId = input.required<string>();
  readonly turned = output();
  readonly closed = output();

  protected readonly routes = computed(() => this.between(this.fromId(), this.toId()));
  protected readonly back = computed(() => this.between(this.toId(), this.fromId()));

  constructor() {
    focusViewOnOpen();
  }

  protected nameOf(deviceId: string): string {
    return this.project.devices().get(deviceId)?.name ?? 'a device that is gone';
  }

  protected open({ id }: Route): void {
    void this.router.navigate(['/routes'], { queryParams: { route: id } });
  }

  private between(fromId: string, toId: string): Route[] {
    const deviceOf = (pointId: string) => this.project.points().get(pointId)?.deviceId;
    return this.project
      .document()!
      .routes.filter(({ sourceId, destinationId }) => deviceOf(sourceId) === fromId && deviceOf(destinationId) === toId);
  }
}
