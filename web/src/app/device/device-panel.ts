import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { textControl } from '../parts/controls';
import { asOptions, Choose, type Option } from '../parts/choose';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { entryNumber, formatAddress } from '@plain-envoy/core/address';
import { sameForOthers } from '@plain-envoy/core/making';
import {
  BY_ITS_MAP,
  Device,
  type Change,
  deletion,
  fieldSchema,
  freeStandInAddress,
  type Device as DeviceRow,
  isSame,
  templateOf,
} from '@plain-envoy/core/model';
import { Editor } from '../data/editor';
import { rowsFor } from '../data/feed-topic';
import { Live } from '../data/live';
import { ProjectStore } from '../data/project';
import { downloadBlob } from '../parts/download';
import { templateFileName } from '../parts/template-file';
import { CountersView } from '../parts/counters';
import { PlanStore } from '../data/plan';
import { atEdge } from '../data/state';
import { foundAt, typedNumber } from '../parts/form';
import { problemIn, readGroup, refuseIn, schemaValidator, textValidator } from '../parts/schema-group';
import { Unsaved } from '../parts/unsaved';
import { groupOf, type JsonSchema, type TypedForm, typedOf, valueOf } from '../parts/schema-fields';
import { SchemaForm } from '../parts/schema-form';
import { Port, type Port as PortRow } from '@plain-envoy/core/media';
import { FromLibrary } from './from-library';
import { Attachments } from './attachments';
import { DevicePorts } from './device-ports';
import { Others } from './others';
import { TextField } from '../parts/text-field';

/** The settings of a device by what they are about. */
const sections = [
  { title: 'How it answers', fields: ['timeoutMs', 'tries', 'delayMs', 'lossPercent', 'writeTimeoutMs'] },
  { title: 'How its papers and its package count', fields: ['notation', 'entry', 'areas'] },
  {
    title: 'What it takes',
    fields: ['functionCodes', 'maxReadWords', 'maxReadBits', 'maxWriteWords', 'maxWriteBits', 'readAcrossHoles', 'forbidden'],
  },
];
const labels = {
  timeoutMs: 'Timeout, ms',
  delayMs: 'Response delay, ms',
  lossPercent: 'Answers lost, %',
  writeTimeoutMs: 'Trips when not written for, ms',
  notation: 'Its papers write addresses as',
  entry: 'Its programming package takes them',
  areas: 'Areas of its own, such as W for words',
  forbidden: 'Stretches that it refuses to be read across',
  readAcrossHoles: 'Reads may cross registers that no point names',
  functionCodes: 'Function codes that it has (22 writes single bits)',
  maxReadWords: 'Most registers in a read',
  maxReadBits: 'Most bits in a read',
  maxWriteWords: 'Most registers in a write',
  maxWriteBits: 'Most bits in a write',
};
const identityLabels = { vendorName: 'Vendor', vendorUrl: 'Vendor URL', userApplicationName: 'Application name' };
const schema = fieldSchema('device') as JsonSchema;
const identitySchema = schema.properties!['identification']!;

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
  imports: [
    Attachments,
    Choose,
    CountersView,
    DevicePorts,
    FromLibrary,
    MatButtonModule,
    Others,
    ReactiveFormsModule,
    RouterLink,
    SchemaForm,
    TextField,
  ],
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
    .sticky {
      position: sticky;
      bottom: -16px;
      padding: 6px 0 10px;
      background: var(--mat-sys-surface-container-lowest);
      z-index: 1;
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
  protected readonly sections = sections;
  protected readonly labels = labels;
  protected readonly help = { notation: 'offset', entry: 'offset' } as const;
  protected readonly schema = schema;
  protected readonly identitySchema = identitySchema;
  protected readonly identityLabels = identityLabels;
  protected readonly kinds = kinds;
  protected readonly ports = computed(() => this.project.document()!.ports.filter((port) => port.deviceId === this.device().id));
  protected readonly lineName = (port: PortRow) => this.project.document()!.lines.find((line) => line.id === port.lineId)?.name ?? '';
  protected readonly pointCount = computed(() => this.project.pointsOf().get(this.device().id)?.length ?? 0);
  /** Other devices that are set the same, by id; and whether in all that can be. */
  protected readonly others = linkedSignal<unknown, ReadonlySet<string>>({ source: () => this.device().id, computation: () => new Set() });
  protected readonly allToOthers = signal(false);
  /** Its first register in its papers, and what is typed into its package for it. */
  protected readonly example = computed(() => {
    const { id, notation, areas, entry } = this.device();
    const point = this.project.pointsOf().get(id)?.[0];
    if (!point) return '';
    const { name, table, offset } = point;
    return `${name} is ${formatAddress({ table, offset }, notation, areas)} in its papers, offset ${offset} on the wire, and ${entryNumber(offset, entry)} is typed into its package.`;
  });
  private readonly check = computed(() => {
    const before = this.device();
    return {
      schema: Device,
      from: ({ units: _units, identification, ...typed }: TypedDevice) => ({
        ...{ ...before, ...valueOf(schema, typed) },
        identification: valueOf(identitySchema, identification),
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
    const changes: Change[] = isSame(before, after) ? [] : [{ entity: 'device', id: before.id, before, after }];
    const others = this.project.document()!.devices.filter(({ id }) => this.others().has(id));
    changes.push(...sameForOthers(before, after, others, this.allToOthers()));
    for (const port of this.ports()) {
      const set = this.portAfter(port, before.standIn === null && after.standIn !== null);
      if (set !== port) changes.push({ entity: 'port', id: port.id, before: port, after: set });
    }
    if (changes.length === 0) return;
    const more = changes.filter(({ entity, id }) => entity === 'device' && id !== before.id).length;
    const what = more ? `${after.name} and ${more} more` : after.name;
    this.store.commit(`Set ${what}`, changes).subscribe((answer) => {
      if (answer.ok) this.form().markAsPristine();
      if (answer.ok) this.editor.say(`Saved: ${what}`);
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
  const fields = ['name', 'kind', 'note', 'standIn', ...sections.flatMap((section) => section.fields)];
  return new FormGroup({
    ...groupOf(schema, typedOf(schema, device), fields).controls,
    identification: groupOf(identitySchema, typedOf(identitySchema, device.identification)),
    units: new FormGroup(Object.fromEntries(units)),
  });
}

/** As it stands in the form. */
interface TypedDevice extends TypedForm {
  units: never;
  identification: never;
}

function withUnit(port: PortRow, typed: string) {
  return Port.safeParse({ ...port, unitId: typedNumber(typed) });
}
