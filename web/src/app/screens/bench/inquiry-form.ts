import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { DIAGNOSTICS, diagnosticNames, type Fact, inquiries, InquiryAsk, inquiryOf, inquirySchema } from '@plain-envoy/core/codec';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { groupOf, type JsonSchema, type TypedForm, valueOf } from '../../parts/schema-fields';
import { problemIn, readGroup, refuseIn, schemaValidator } from '../../parts/schema-group';
import { SchemaForm } from '../../parts/schema-form';
import { choiceAmong } from '../../parts/choice';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';

/** A question as it is chosen; each sub-function of diagnostics is one of its own. */
interface Question {
  key: string;
  label: string;
  code: number;
  fixed: { sub?: number };
  fields: readonly string[];
}

/** Sub-functions that take data; all others are sent with 0. */
const WITH_DATA = [0, 1, 3];

const questions: readonly Question[] = inquiries.flatMap(({ code, name }) => {
  if (code !== DIAGNOSTICS) {
    const fields = Object.keys((inquirySchema(code) as JsonSchema).properties ?? {});
    return [{ key: String(code), label: `${code} ${name}`, code, fixed: {}, fields }];
  }
  return diagnosticNames.map(({ sub, name: what }) => ({
    ...{ key: `${code}/${sub}`, label: `${code}/${sub} ${what}`, code, fixed: { sub } },
    fields: WITH_DATA.includes(sub) ? ['data'] : [],
  }));
});

const begin: Readonly<Record<string, TypedForm>> = {
  '20': { file: '1', record: '0', count: '1' },
  '21': { file: '1', record: '0', values: '' },
  '24': { offset: '0' },
  '43': { level: 'basic', object: '0' },
};

/** Asks one device what reaches none of its registers: itself, its counters, files and queues. What changes it is confirmed first. */
@Component({
  selector: 'pe-inquiry-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ReactiveFormsModule, SchemaForm, SearchField],
  template: `<form class="paper-form" [formGroup]="form()" (ngSubmit)="ask(false)">
      <strong>Ask one device</strong>
      <pe-search
        label="Device"
        name="inquiry-device"
        class="wide"
        [options]="deviceOptions()"
        [value]="deviceId()"
        (valueChange)="deviceId.set($event)"
      />
      <pe-search label="What" name="inquiry" class="wide" [options]="questionOptions" [value]="key()" (valueChange)="key.set($event)" />
      @if (question().fields.length) {
        <pe-schema-form [schema]="schema()" [only]="question().fields" [group]="form()" />
      }
      @if (!isKnown()) {
        <p class="quiet">Function {{ question().code }} is none of those that it has, as its map says; it may refuse.</p>
      }
      @if (changes(); as what) {
        <p class="remark" role="alert">
          This {{ what }}{{ live.onRealPlant() ? ', on the real plant' : '' }}.
          <button mat-flat-button type="button" name="confirm-inquiry" (click)="ask(true)">Do it</button>
          <button mat-button type="button" (click)="changes.set(null)">Leave it</button>
        </p>
      } @else {
        <button mat-flat-button type="submit" [disabled]="!live.running() || asking()">{{ asking() ? 'Asking …' : 'Ask' }}</button>
      }
    </form>
    @if (problem(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }
    @if (facts(); as rows) {
      <table class="paper-table" aria-label="What it answers">
        <tbody>
          @for (fact of rows; track $index) {
            <tr>
              <td>{{ fact.name }}</td>
              <td class="mono what">{{ fact.text }}</td>
            </tr>
          } @empty {
            <tr>
              <td class="nothing-yet">It answers nothing to that, as it should.</td>
            </tr>
          }
        </tbody>
      </table>
    }`,
  styles: `
    :host {
      overflow: auto;
      padding-top: 2px;
    }
    .quiet,
    .remark {
      width: 100%;
      margin: 0;
    }
    .what {
      white-space: normal;
    }
  `,
})
export class InquiryForm {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly hands = inject(Hands);
  protected readonly live = atEdge(inject(Live), 'running', 'onRealPlant');

  protected readonly questionOptions = questions.map(({ key, label }) => ({ value: key, text: label }));
  protected readonly deviceOptions = computed(() => named(this.devices()));
  /** Whoever can be asked: it answers on Ethernet, or has a unit ID on a serial line. */
  protected readonly devices = computed(() => {
    const { devices, ports } = this.project.document()!;
    const answering = new Set(
      ports.flatMap((port) =>
        (port.kind === 'ethernet' && port.role !== 'asks') || (port.kind === 'serial' && port.unitId !== null && port.framing !== 'text')
          ? [port.deviceId]
          : [],
      ),
    );
    return devices.filter(({ id }) => answering.has(id));
  });
  protected readonly deviceId = choiceAmong(this.devices);
  protected readonly key = signal('43');
  protected readonly question = computed(() => questions.find(({ key }) => key === this.key())!);
  protected readonly schema = computed(() => inquirySchema(this.question().code) as JsonSchema);
  private readonly check = computed(() => {
    const { code, fixed } = this.question();
    return { schema: InquiryAsk, from: (typed: TypedForm) => ({ functionCode: code, ...fixed, ...valueOf(this.schema(), typed) }) };
  });
  /** Begun anew for each question, and for each device. */
  protected readonly form = computed(() => {
    this.deviceId();
    const form = groupOf(this.schema(), { data: '0', ...begin[this.key()] }, this.question().fields);
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  protected readonly isKnown = computed(
    () =>
      this.devices()
        .find(({ id }) => id === this.deviceId())
        ?.functionCodes.includes(this.question().code) ?? true,
  );
  private readonly what = computed(() => `${this.deviceId()} ${this.key()}`);
  /** What it would change in the device, while that waits for a person to confirm it. */
  protected readonly changes = linkedSignal<string, string | null>({ source: this.what, computation: () => null });
  protected readonly facts = linkedSignal<string, Fact[] | null>({ source: this.what, computation: () => null });
  protected readonly asking = signal(false);

  protected ask(confirmed: boolean): void {
    const ask = readGroup(this.form(), this.check());
    if (!ask) return this.changes.set(null);
    const changes = inquiryOf(this.question().code)!.changes(ask);
    if (changes !== null && !confirmed) return this.changes.set(changes);
    this.changes.set(null);
    this.asking.set(true);
    this.hands.inquire(this.deviceId(), ask, confirmed).subscribe((answer) => {
      this.asking.set(false);
      this.facts.set(answer.ok ? answer.value.facts : null);
      if (!answer.ok) refuseIn(this.form(), answer.problem);
    });
  }
}
