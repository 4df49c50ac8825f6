import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { movePort } from '@plain-envoy/core/making';
import type { Port } from '@plain-envoy/core/media';
import type { Device } from '@plain-envoy/core/model';
import { Editor } from '../data/editor';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { controlOf } from '../parts/controls';
import { portText, setText } from '../parts/format';
import { named } from '../parts/named';
import { problemIn, refuseIn, settle } from '../parts/schema-group';
import { SearchField } from '../parts/search-field';
import { HangOnForm } from './hang-on';
import { PortForm } from './port-form';

/** The ports of a device: how each is set, set here, moved to another line, taken off, and one more hung on. */
@Component({
  selector: 'pe-device-ports',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [HangOnForm, MatButtonModule, PortForm, ReactiveFormsModule, RouterLink, SearchField],
  template: `<h3>Ports, as set on the device</h3>
    @for (port of ports(); track port.id) {
      <div class="port">
        <a routerLink="/lines" [queryParams]="{ line: port.lineId, port: port.id }">{{ lineOf(port)?.name }}</a>
        <span class="mono">{{ portText(port) }} · {{ setText(port) }}</span>
        <button mat-button type="button" name="set-port" [attr.aria-expanded]="openId() === port.id" (click)="turn(port)">
          {{ openId() === port.id ? 'Close' : 'Set it' }}
        </button>
      </div>
      @if (openId() === port.id && lineOf(port); as line) {
        <pe-port-form [port]="port" [line]="line" (closed)="openId.set(null)" />
        <form class="move" [formGroup]="form" (ngSubmit)="move(port)">
          <pe-search label="Move it to the line" name="move-to" none="none" formControlName="lineId" [options]="othersOf(port)" />
          <button mat-stroked-button type="submit" name="move">Move it</button>
          @if (problem(); as text) {
            <p class="problem" role="alert">{{ text }}</p>
          }
        </form>
      }
    }
    <pe-hang-on [device]="device()" />`,
  styles: `
    h3 {
      font-size: 13px;
      margin: 16px 0 4px;
    }
    .port {
      display: flex;
      align-items: center;
      gap: 8px;
      flex-wrap: wrap;
    }
    pe-port-form {
      display: block;
      width: auto;
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 4px;
    }
    .move {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 4px 8px;
      align-items: center;
      margin: 8px 0;
    }
    p {
      grid-column: 1 / -1;
    }
  `,
})
export class DevicePorts {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  readonly device = input.required<Device>();

  protected readonly portText = portText;
  protected readonly setText = setText;
  protected readonly ports = computed(() => this.project.document()!.ports.filter(({ deviceId }) => deviceId === this.device().id));
  protected readonly openId = linkedSignal<string, string | null>({ source: () => this.device().id, computation: () => null });
  protected readonly form = new FormGroup({ lineId: controlOf('') });
  protected readonly problem = problemIn(() => this.form);

  protected lineOf({ lineId }: Port) {
    return this.project.document()!.lines.find(({ id }) => id === lineId);
  }

  protected othersOf(port: Port) {
    return named(this.project.document()!.lines.filter(({ id, kind }) => id !== port.lineId && kind === port.kind));
  }

  protected turn(port: Port): void {
    this.form.reset();
    this.openId.update((id) => (id === port.id ? null : port.id));
  }

  protected move(port: Port): void {
    const document = this.project.document()!;
    const { lineId } = this.form.getRawValue();
    const moved = movePort(document, port, lineId);
    if (!moved.ok) return refuseIn(this.form, moved.problem);
    const label = `Move ${this.device().name} to ${document.lines.find(({ id }) => id === lineId)!.name}`;
    this.store.commit(label, [moved.value]).subscribe((answer) => {
      if (settle(this.form, answer)) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }
}
