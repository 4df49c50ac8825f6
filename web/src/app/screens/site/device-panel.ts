import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { controlOf, textControl } from '../../parts/controls';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import {
  BY_ITS_MAP,
  Device,
  type Change,
  deletion,
  freeStandInAddress,
  type Device as DeviceRow,
  templateOf,
} from '@plain-envoy/core/model';
import { Editor } from '../../data/editor';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { downloadBlob } from '../../parts/download';
import { templateFileName } from '../../parts/template-file';
import { CountersView } from '../../parts/counters';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { foundAt, typedNumber } from '../../parts/form';
import { problemIn, readGroup, refuseIn, schemaValidator, textValidator } from '../../parts/schema-group';
import { Unsaved } from '../../parts/unsaved';
import { setText } from '../../parts/format';
import { Port, type Port as PortRow } from '@plain-envoy/core/media';
import { FromLibrary } from './from-library';
import { HangOnForm } from './hang-on';
import type { Ribbon } from './ribbons';
import { TextField } from '../../parts/text-field';

/** The figures of a device that are shown as they are. */
const numbers = [
  { key: 'timeoutMs', label: 'Timeout, ms' },
  { key: 'tries', label: 'Tries' },
  { key: 'delayMs', label: 'Response delay, ms' },
  { key: 'lossPercent', label: 'Answers lost, %' },
] as const;

/** What a device is for the plan. */
const kindNames: Readonly<Record<DeviceRow['kind'], string>> = {
  controller: 'a controller: it can carry, and be asked',
  field: 'a field device: it is asked',
  gateway: 'a gateway: it passes questions on to a serial line',
  converter: 'a converter: it speaks another way on its other side',
};
const kinds = asOptions(Device.shape.kind.options, (kind) => kindNames[kind]);
/** One device: how it is set, how it answers, and the way to its registers. */
@Component({
  selector: 'pe-device-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, CountersView, FromLibrary, HangOnForm, MatButtonModule, ReactiveFormsModule, RouterLink, TextField],
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
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    .carried {
      color: var(--pe-carried);
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
  /** The ribbons that begin or end at it. */
  readonly ribbons = input<readonly Ribbon[]>([]);
  readonly opened = output<Ribbon>();
  readonly closed = output();

  protected readonly counters = rowsFor(this.live.devices, () => [this.device().id]);
  protected readonly numbers = numbers;
  protected readonly kinds = kinds;
  protected readonly setText = setText;
  protected readonly ports = computed(() => this.project.document()!.ports.filter((port) => port.deviceId === this.device().id));
  protected readonly lineName = (port: PortRow) => this.project.document()!.lines.find((line) => line.id === port.lineId)?.name ?? '';
  protected readonly nameOf = (deviceId: string) => this.project.document()!.devices.find(({ id }) => id === deviceId)?.name ?? '';
  protected readonly pointCount = computed(() => this.project.pointsOf().get(this.device().id)?.length ?? 0);
  private readonly check = computed(() => {
    const before = this.device();
    return {
      schema: Device,
      from: ({ name, kind, note, standIn, units: _units, ...figures }: Typed) => ({
        ...{ ...before, name: name.trim(), kind, note, standIn: standIn || null },
        ...Object.fromEntries(Object.entries(figures).map(([key, text]) => [key, typedNumber(text)])),
      }),
    };
  });
  protected readonly form = computed(() => {
    const form = deviceGroup(this.device(), this.ports());
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  /** By whom it may be played; one that it has already stays among them. */
  protected readonly players = computed((): Option<string>[] => {
    const own = this.device().standIn;
    return [
      { value: '', text: 'nobody' },
      { value: BY_ITS_MAP, text: 'a stand-in with the registers of its map' },
      ...(own && own !== BY_ITS_MAP ? [{ value: own, text: 'a stand-in of its own', more: own }] : []),
    ];
  });

  constructor() {
    inject(Unsaved).watch(() => `the device ${this.device().name}`, this.form);
  }

  protected unitOf(port: PortRow): number | null {
    return 'unitId' in port ? port.unitId : null;
  }

  /** What was found wrong with this setting of a port. */
  protected found(port: PortRow, field: string): string | null {
    return foundAt(this.plan.findings(), port.id).get(field) ?? null;
  }

  protected save(): void {
    const before = this.device();
    const after = readGroup(this.form(), this.check());
    if (!after) return;
    const changes: Change[] = [];
    const changed = (['name', 'kind', 'note', 'standIn', ...numbers.map(({ key }) => key)] as const).some(
      (field) => after[field] !== before[field],
    );
    if (changed) changes.push({ entity: 'device', id: before.id, before, after });
    for (const port of this.ports()) {
      const set = this.portAfter(port, before.standIn === null && after.standIn !== null);
      if (set !== port) changes.push({ entity: 'port', id: port.id, before: port, after: set });
    }
    if (changes.length === 0) return;
    this.store.commit(`Set ${after.name}`, changes).subscribe((answer) => {
      if (answer.ok) this.form().markAsPristine();
      if (answer.ok) this.editor.say(`Saved: ${after.name}`);
      else refuseIn(this.form(), answer.problem);
    });
  }

  /** A port as it is set here: with another unit ID, and where a stand-in begins to play the device with an address for it. */
  private portAfter(port: PortRow, beginsToBePlayed: boolean): PortRow {
    const typed = this.unitOf(port) === null ? null : withUnit(port, this.form().controls.units.controls[port.id]!.value);
    const set = typed?.success && this.unitOf(typed.data) !== this.unitOf(port) ? typed.data : port;
    return beginsToBePlayed && set.kind === 'ethernet' && set.standInAddress === null
      ? { ...set, standInAddress: freeStandInAddress(this.project.document()!, set.ip) }
      : set;
  }

  /** The device with its ports and its register map as a file, from which it can be added again, here or in another project. */
  protected saveTemplate(): void {
    const { id, name } = this.device();
    const file = new Blob([JSON.stringify(templateOf(this.project.document()!, id), null, 2)], { type: 'application/json' });
    const fileName = templateFileName(name);
    downloadBlob(file, fileName);
    this.editor.say(`Saved as ${fileName}`);
  }

  protected remove(): void {
    const { id, name } = this.device();
    const changes = deletion(this.project.document()!, 'device', id);
    this.store.commit(`Delete ${name}`, changes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      const count = (entity: Change['entity']) => changes.filter((change) => change.entity === entity).length;
      this.editor.say(`Deleted ${name} with ${count('point')} points and ${count('route')} routes. Undo with Ctrl+Z.`);
      this.form().markAsPristine();
      this.closed.emit();
    });
  }
}

/** What can be set of a device and of its ports here; numbers stand as they are typed. */
function deviceGroup(device: DeviceRow, ports: readonly PortRow[]) {
  const units = ports.map((port) => {
    const fits = textValidator((typed) => withUnit(port, typed).error?.issues[0]!.message ?? null);
    return [port.id, 'unitId' in port && port.unitId !== null ? textControl(port.unitId, fits) : textControl('')] as const;
  });
  return new FormGroup({
    name: textControl(device.name),
    kind: controlOf(device.kind),
    note: textControl(device.note),
    timeoutMs: textControl(device.timeoutMs),
    tries: textControl(device.tries),
    delayMs: textControl(device.delayMs),
    lossPercent: textControl(device.lossPercent),
    standIn: controlOf(device.standIn ?? ''),
    units: new FormGroup(Object.fromEntries(units)),
  });
}

type Typed = ReturnType<ReturnType<typeof deviceGroup>['getRawValue']>;

function withUnit(port: PortRow, typed: string) {
  return Port.safeParse({ ...port, unitId: typedNumber(typed) });
}
