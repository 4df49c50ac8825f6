import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { PlantDifference } from '@plain-envoy/core/plant';
import { Editor } from '../../data/editor';
import { Hands } from '../../data/hands';
import { Live } from '../../data/live';
import { atEdge } from '../../data/state';

const changes: Readonly<Record<PlantDifference['change'], string>> = { added: 'new', removed: 'no more', changed: 'other' };

/** What edits would do otherwise on the armed plant, seen before a person confirms it or takes the edit back. */
@Component({
  selector: 'pe-awaiting-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `@if (awaiting(); as waits) {
    <p>
      <strong>An edit waits.</strong> It would do {{ waits.count === 1 ? 'this' : 'these ' + waits.count + ' things' }} otherwise on the
      real plant than was confirmed. {{ goesOn() ? 'Until then the plan goes on as it was confirmed.' : 'The bench stands still.' }}
    </p>
    <div class="list" tabindex="0" role="region" aria-label="What would be done otherwise">
      <table class="paper-table" aria-label="What would be done otherwise">
        <thead>
          <tr>
            <th></th>
            <th>Device</th>
            <th>Way</th>
            <th>What</th>
            <th>By</th>
          </tr>
        </thead>
        <tbody>
          @for (row of waits.differences; track row.act.id) {
            <tr>
              <td>
                <strong>{{ changes[row.change] }}</strong>
              </td>
              <td>{{ row.act.device }}</td>
              <td class="mono">
                @if (row.was && row.was.way !== row.act.way) {
                  <del>{{ row.was.way }}</del> <br />
                }
                {{ row.act.way }}
              </td>
              <td>
                @if (row.was && row.was.what !== row.act.what) {
                  <del>{{ row.was.what }}</del> <br />
                }
                {{ row.act.does }} {{ row.act.what }}
                @if (row.was && row.was.what === row.act.what && row.was.way === row.act.way) {
                  <em>{{ sameWords(row) }}</em>
                }
              </td>
              <td>{{ row.act.by ?? '' }}</td>
            </tr>
          }
        </tbody>
      </table>
    </div>
    @if (waits.count > waits.differences.length) {
      <p class="quiet">The first {{ waits.differences.length }} of {{ waits.count }}.</p>
    }
    <div class="actions">
      <button mat-flat-button type="button" name="confirm" (click)="confirm(waits.mark)">Confirm</button>
      <button mat-stroked-button type="button" name="take-back" (click)="takeBack()">Take the last edit back</button>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
    </div>
  }`,
  styleUrl: './plant-panel.scss',
})
export class AwaitingPanel {
  private readonly hands = inject(Hands);
  private readonly live = atEdge(inject(Live), 'bench', 'onRealPlant');
  private readonly editor = inject(Editor);
  protected readonly changes = changes;
  protected readonly problem = signal<string | null>(null);
  protected readonly awaiting = computed(() => this.live.bench().awaiting);
  protected readonly goesOn = computed(() => this.live.onRealPlant());

  protected sameWords({ act, was }: PlantDifference): string {
    return act.periodMs === was?.periodMs
      ? '; what is done with the value on the way, or when it fails, is another'
      : `; every ${act.periodMs} ms in place of ${was?.periodMs} ms`;
  }

  protected confirm(mark: string): void {
    this.hands.confirm(mark).subscribe((answer) => this.problem.set(answer.ok ? null : answer.problem.message));
  }

  protected takeBack(): void {
    void this.editor.step('undo');
  }
}
