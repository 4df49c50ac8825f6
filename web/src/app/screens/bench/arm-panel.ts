import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { isBitTable } from '@plain-envoy/core/address';
import { boundLines } from '@plain-envoy/core/plan';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { addressOf } from '../../parts/format';

/** What would be written to the real plant, seen before a person arms it for a while by typing the name of the project. */
@Component({
  selector: 'pe-arm-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `<form (submit)="$event.preventDefault(); run(word.value, minutes.value)">
    <p>
      <strong>The real plant.</strong> The bench would then write to the addresses and serial ports of the plant itself, to these
      {{ written().length }} places, at the periods of their rounds. After the time it stops by itself.
    </p>
    @for (line of asked(); track line.id) {
      <p>
        On <strong>{{ line.name }}</strong> it asks through {{ line.boundTo }}. Two that ask on one line damage each other’s frames: what
        asks there now has to be silent or unplugged meanwhile.
      </p>
    }
    <div class="list">
      <table class="paper-table" aria-label="What would be written">
        <thead>
          <tr>
            <th>Device</th>
            <th>Where</th>
            <th>Function</th>
            <th class="number">Registers or bits</th>
            <th class="number">every ms</th>
            <th>What</th>
          </tr>
        </thead>
        <tbody>
          @for (row of written(); track row.id) {
            <tr>
              <td>{{ row.device }}</td>
              <td class="mono">{{ row.where }}</td>
              <td class="mono">{{ row.functionCode }}</td>
              <td class="mono number">{{ row.span }}</td>
              <td class="mono number">{{ row.periodMs }}</td>
              <td class="what">{{ row.names }}</td>
            </tr>
          } @empty {
            <tr>
              <td colspan="6" class="nothing-yet">Nothing: the plan only reads.</td>
            </tr>
          }
        </tbody>
      </table>
    </div>
    <div class="actions">
      <label class="field"
        >Type “{{ name() }}” to arm it
        <input #word name="arm-word" autocomplete="off" [attr.aria-invalid]="!!problem()" />
      </label>
      <label class="field"
        >For so many minutes
        <input #minutes name="arm-minutes" inputmode="numeric" value="15" />
      </label>
      <button mat-flat-button type="submit">Arm and run</button>
      <button mat-button type="button" (click)="closed.emit()">Close</button>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
    </div>
  </form>`,
  styles: `
    :host {
      display: block;
      margin: 0 16px 8px;
      padding: 8px 12px;
      background: var(--mat-sys-surface-container-lowest);
      border: 2px solid var(--pe-bad);
      border-radius: 4px;
    }
    p {
      margin: 0 0 6px;
    }
    .list {
      max-height: 260px;
      overflow: auto;
      margin-bottom: 8px;
    }
    .what {
      max-width: 380px;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .actions {
      align-items: end;
    }
  `,
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class ArmPanel {
  private readonly hands = inject(Hands);
  private readonly live = inject(Live);
  private readonly plan = inject(PlanStore);
  private readonly project = inject(ProjectStore);
  readonly closed = output();

  protected readonly problem = signal<string | null>(null);
  protected readonly name = computed(() => this.project.document()!.project.name);
  /** Serial lines on which this machine would ask itself. */
  protected readonly asked = computed(() => boundLines(this.project.document()!));
  protected readonly written = computed(() => {
    const points = this.project.points();
    return this.plan
      .plan()
      .requests.filter(({ kind }) => kind === 'write')
      .map(({ id, deviceId, deviceName, broadcast, functionCode, table, offset, count, periodMs, points: own }) => {
        const device = this.project.devices().get(deviceId);
        const [first, last] = [offset, offset + count - 1].map((at) => addressOf({ table, offset: at }, device));
        return {
          ...{
            id,
            functionCode,
            periodMs,
            device: broadcast ? `every unit on the line of ${deviceName}` : deviceName,
            where: count === 1 ? first : `${first} to ${last}`,
          },
          span: `${count} ${isBitTable(table) ? 'bit' : 'register'}${count === 1 ? '' : 's'}`,
          names: own.map(({ pointId }) => points.get(pointId)?.name ?? '').join(', '),
        };
      })
      .sort((a, b) => a.device.localeCompare(b.device));
  });

  protected async run(word: string, minutes: string): Promise<void> {
    const armed = await this.hands.arm(word, Number(minutes));
    if (!armed.ok) return this.problem.set(armed.problem.message);
    this.live.bench.set(armed.value);
    const answer = await this.hands.runReal();
    this.problem.set(answer.ok ? null : answer.problem.message);
    if (answer.ok) this.closed.emit();
  }
}
