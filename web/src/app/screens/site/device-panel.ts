import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { Device, type Change, deletion, type Device as DeviceRow, templateOf } from '@plain-envoy/core/model';
import { Editor } from '../../data/editor';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { downloadBlob } from '../../parts/download';
import { CountersView } from '../../parts/counters';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { FieldProblems, foundAt, typedNumber } from '../../parts/form';
import { setText } from '../../parts/format';
import { Port, type Port as PortRow } from '@plain-envoy/core/media';
import { TextField } from '../../parts/text-field';

/** The figures of a device that are shown as they are. */
const numbers = [
  { key: 'timeoutMs', label: 'Timeout, ms' },
  { key: 'tries', label: 'Tries' },
  { key: 'delayMs', label: 'Response delay, ms' },
  { key: 'lossPercent', label: 'Answers lost, %' },
] as const;

/** One device: how it is set, how it answers, and the way to its registers. */
@Component({
  selector: 'pe-device-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountersView, MatButtonModule, RouterLink, TextField],
  templateUrl: './device-panel.html',
  styles: `
    h2 {
      margin: 8px 0;
    }
    h3 {
      font-size: 13px;
      margin: 16px 0 4px;
    }
    .actions {
      margin-top: 12px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class DevicePanel {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'pointsOf');
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  protected readonly live = inject(Live);
  readonly device = input.required<DeviceRow>();
  readonly closed = output();

  protected readonly counters = rowsFor(this.live.devices, () => [this.device().id]);
  protected readonly numbers = numbers;
  protected readonly shown = ['name', 'unitId', ...numbers.map(({ key }) => key)];
  protected readonly problems = new FieldProblems();
  protected readonly setText = setText;
  protected readonly ports = computed(() => this.project.document()!.ports.filter((port) => port.deviceId === this.device().id));
  protected readonly lineName = (port: PortRow) => this.project.document()!.lines.find((line) => line.id === port.lineId)?.name ?? '';
  protected readonly pointCount = computed(() => this.project.pointsOf().get(this.device().id)?.length ?? 0);
  /** What is typed, as text, until it is saved; a newer row takes its place. */
  protected readonly typed = linkedSignal(() => {
    const device = this.device();
    const figures = numbers.map(({ key }) => [key, String(device[key])]);
    return { name: device.name, ...Object.fromEntries(figures) } as Record<string, string>;
  });
  protected readonly typedUnits = linkedSignal(() =>
    Object.fromEntries(this.ports().map((port) => [port.id, String(this.unitOf(port) ?? '')])),
  );

  constructor() {
    effect(() => {
      this.device();
      this.problems.clear();
    });
  }

  protected unitOf(port: PortRow): number | null {
    return 'unitId' in port ? port.unitId : null;
  }

  /** What was found wrong with this setting of a port. */
  protected found(port: PortRow, field: string): string | null {
    return foundAt(this.plan.findings(), port.id).get(field) ?? null;
  }

  protected type(field: string, text: string): void {
    this.typed.update((typed) => ({ ...typed, [field]: text }));
  }

  protected typeUnit(portId: string, text: string): void {
    this.typedUnits.update((typed) => ({ ...typed, [portId]: text }));
  }

  protected save(): void {
    const typed = this.typed();
    const before = this.device();
    const figures = Object.fromEntries(numbers.map(({ key }) => [key, typedNumber(typed[key] ?? '')]));
    const after = this.problems.check(Device, { ...before, ...figures, name: typed['name']?.trim() });
    if (!after) return;
    const changes: Change[] = [];
    const changed = (['name', ...numbers.map(({ key }) => key)] as const).some((field) => after[field] !== before[field]);
    if (changed) changes.push({ entity: 'device', id: before.id, before, after });
    for (const port of this.ports()) {
      if (this.unitOf(port) === null) continue;
      const set = this.problems.check(Port, { ...port, unitId: typedNumber(this.typedUnits()[port.id] ?? '') });
      if (!set) return;
      if (this.unitOf(set) !== this.unitOf(port)) changes.push({ entity: 'port', id: port.id, before: port, after: set });
    }
    if (changes.length === 0) return;
    this.store.commit(`Set ${after.name}`, changes).subscribe((answer) => {
      if (answer.ok) this.editor.say(`Saved: ${after.name}`);
      else this.problems.refused(answer.problem);
    });
  }

  /** The device with its ports and its register map as a file, from which it can be added again, here or in another project. */
  protected saveTemplate(): void {
    const { id, name } = this.device();
    const file = new Blob([JSON.stringify(templateOf(this.project.document()!, id), null, 2)], { type: 'application/json' });
    const fileName = `${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.device.json`;
    downloadBlob(file, fileName);
    this.editor.say(`Saved as ${fileName}`);
  }

  protected remove(): void {
    const { id, name } = this.device();
    const changes = deletion(this.project.document()!, 'device', id);
    this.store.commit(`Delete ${name}`, changes).subscribe((answer) => {
      if (!answer.ok) return this.problems.refused(answer.problem);
      const count = (entity: Change['entity']) => changes.filter((change) => change.entity === entity).length;
      this.editor.say(`Deleted ${name} with ${count('point')} points and ${count('route')} routes. Undo with Ctrl+Z.`);
      this.closed.emit();
    });
  }
}
