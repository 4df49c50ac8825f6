import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { canBeWritten, pointWidth, wordsFromInput } from '@plain-envoy/core/model';
import { Hands } from '../../data/hands';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import type { StandInState } from '@plain-envoy/core/feed';
import { ProjectStore } from '../../data/project';
import { choiceAmong } from '../../parts/choice';
import { StandIns } from '../../data/stand-ins';
import { atEdge } from '../../data/state';
import { textControl } from '../../parts/controls';
import { addressOf } from '../../parts/format';
import { FaultForm } from './fault-form';
import { settle, problemIn, refuseIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

/** What can be done to one stand-in: a value held in any of its registers or written to it, and faults on purpose. */
@Component({
  selector: 'pe-stand-in-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FaultForm, MatButtonModule, ReactiveFormsModule, SearchField, TextField],
  templateUrl: './stand-in-card.html',
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 6px 28px;
      white-space: normal;
    }
    form {
      display: grid;
      grid-template-columns: 1fr 110px auto;
      gap: 6px;
      align-items: end;
      align-content: start;
    }
    strong,
    .held,
    .field-problem {
      grid-column: 1 / -1;
    }
    .two,
    .held {
      display: flex;
    }
    .held {
      align-items: center;
      justify-content: space-between;
    }
  `,
})
export class StandInCard {
  private readonly project = atEdge(inject(ProjectStore), 'devices', 'pointsOf');
  private readonly standIns = inject(StandIns);
  private readonly hands = inject(Hands);
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  readonly standIn = input.required<StandInState>();

  protected readonly points = computed(() =>
    (this.project.pointsOf().get(this.standIn().deviceId) ?? []).map((point) => ({
      point,
      address: addressOf(point, this.project.devices().get(point.deviceId)),
    })),
  );
  protected readonly pointId = choiceAmong(computed(() => this.points().map(({ point }) => point)));
  protected readonly options = computed(() =>
    this.points().map(({ point, address }) => ({ value: point.id, text: point.name, more: address })),
  );
  protected readonly form = new FormGroup({ value: textControl('') });
  protected readonly problem = problemIn(() => this.form);
  protected readonly chosen = computed(() => this.points().find(({ point }) => point.id === this.pointId())?.point);
  protected readonly canWrite = computed(() => {
    const point = this.chosen();
    return this.live.running() && !!point && canBeWritten(point);
  });
  protected readonly held = computed(() => {
    const places = new Set(this.standIn().held.map(({ table, offset }) => `${table} ${offset}`));
    return this.points().filter(({ point }) => places.has(`${point.table} ${point.offset}`));
  });

  private readonly readings = rowsFor(this.feed.points, () => [this.pointId()].filter(Boolean));

  protected hold(): void {
    const point = this.chosen();
    if (!point) return;
    const words = wordsFromInput(this.form.getRawValue().value, point);
    if (!words.ok) return refuseIn(this.form, { ...words.problem, path: ['value'] });
    const register = this.readings().get(point.id)?.words?.[0];
    if (point.bit !== null && register === undefined)
      return refuseIn(this.form, { message: 'The register has not been read yet, so its other bits are not known.', path: [] });
    const held = point.bit === null ? words.value : [withBit(register!, point.bit, words.value[0]!)];
    this.standIns.hold(point, held).subscribe((answer) => settle(this.form, answer));
  }

  /** Once, as a master writes it: what the device does with it is its own affair. */
  protected write(): void {
    this.hands.write(this.pointId(), this.form.getRawValue().value).subscribe((answer) => settle(this.form, answer));
  }

  protected release(pointId: string): void {
    const point = this.points().find((entry) => entry.point.id === pointId)?.point;
    if (!point) return;
    this.standIns.release(point, pointWidth(point)).subscribe((answer) => settle(this.form, answer));
  }
}

/** A register with one of its bits set or cleared. */
function withBit(register: number, bit: number, value: number): number {
  return (register & ~(1 << bit)) | (value << bit);
}
