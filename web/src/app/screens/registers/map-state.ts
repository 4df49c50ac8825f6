import { computed, inject, Injectable, signal } from '@angular/core';
import { LAST_OFFSET, type Notation, type Table } from '@plain-envoy/core/address';
import { type Change, type Point, pointWidth } from '@plain-envoy/core/model';
import { catchError, concatMap, from, map, type Observable, of, reduce, toArray } from 'rxjs';
import type { ReadEvent } from '@plain-envoy/core/feed';
import { Refused } from '../../data/api';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { Proofs } from '../../data/proofs';
import { atEdge } from '../../data/state';
import { type FieldContext } from '@plain-envoy/core/fields';

/** What was read from a table of a device: words (or bits) by offset, and what it refused. */
export interface TableRead {
  words: ReadonlyMap<number, number>;
  refused: ReadonlyMap<number, string>;
}

/** What the parts of the Registers screen share: the device, how addresses are written, what is chosen and what was read. */
@Injectable()
export class MapState {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices', 'points', 'pointsOf');
  private readonly live = inject(Live);
  private readonly proofs = inject(Proofs);

  readonly deviceId = signal('');
  readonly device = computed(() => this.project.devices().get(this.deviceId()));
  readonly points = computed(() => this.project.pointsOf().get(this.deviceId()) ?? none);
  /** The notation that a person switched to; null for the one of the device's papers. */
  readonly chosenNotation = signal<Notation | null>(null);
  readonly notation = computed<Notation>(() => this.chosenNotation() ?? this.device()?.notation ?? 'pdu');
  readonly context = computed<FieldContext>(() => ({ notation: this.notation(), areas: this.device()?.areas ?? [] }));
  /** The point on which the cursor stands. */
  readonly focused = signal<string | null>(null);
  readonly focusedPoint = computed(() => this.project.points().get(this.focused() ?? ''));
  /** The points of which values are seen. */
  readonly inView = signal<readonly string[]>([]);
  readonly readings = rowsFor(this.live.points, () => [...new Set([...this.inView(), ...(this.focused() ? [this.focused()!] : [])])]);

  private readonly reads = signal<ReadonlyMap<string, TableRead>>(new Map());

  read(table: Table): TableRead | undefined {
    return this.reads().get(`${this.deviceId()} ${table}`);
  }

  /** Takes over what was just read; what was read before elsewhere in the table stays. */
  take(table: Table, words: ReadonlyMap<number, number>, refused: ReadonlyMap<number, string>): void {
    const before = this.read(table);
    const merged = {
      words: new Map([...(before?.words ?? []), ...words]),
      refused: new Map([...(before?.refused ?? []), ...refused]),
    };
    for (const offset of words.keys()) merged.refused.delete(offset);
    for (const offset of refused.keys()) merged.words.delete(offset);
    this.reads.update((reads) => new Map(reads).set(`${this.deviceId()} ${table}`, merged));
  }

  /** What a point holds: as the bench last saw it, else as it was read here. */
  wordsOf(point: Point): readonly number[] | null {
    return this.readings().get(point.id)?.words ?? this.readWords(point);
  }

  readWords(point: Point): number[] | null {
    const read = this.read(point.table);
    const words = Array.from({ length: pointWidth(point) }, (_, index) => read?.words.get(point.offset + index));
    return words.every((word) => word !== undefined) ? words : null;
  }

  /** Reads the registers of some points, and `margin` more around them, once; null where all is well, else why not. */
  readAround(table: Table, points: readonly Point[], margin: number): Observable<string | null> {
    const parts = spansAround(points, margin).flatMap(([first, last]) =>
      Array.from({ length: Math.ceil((last - first + 1) / MAX_READ) }, (_, index) => {
        const offset = first + index * MAX_READ;
        return { offset, count: Math.min(MAX_READ, last - offset + 1) };
      }),
    );
    return from(parts).pipe(
      concatMap(({ offset, count }) => this.readOnce(table, offset, count)),
      reduce((problem: string | null, next) => (problem === null ? null : next)),
    );
  }

  /** Reads a span of the device's stand-in once; null where all is well, else why not. */
  readOnce(table: Table, first: number, count: number): Observable<string | null> {
    const body = { on: 'stand-ins', deviceId: this.deviceId(), table, first, count };
    return this.proofs.read(this.project.document()!.project.id, body).pipe(
      toArray(),
      map((events) => this.takeRead(table, events)),
      catchError((error: unknown) => {
        if (!(error instanceof Refused)) throw error;
        return of(error.problem.message);
      }),
    );
  }

  private takeRead(table: Table, events: readonly ReadEvent[]): string | null {
    const words = new Map<number, number>();
    const refused = new Map<number, string>();
    for (const event of events) {
      if (event.kind === 'words') event.words.forEach((word, index) => words.set(event.first + index, word));
      else if (event.kind === 'refused') refused.set(event.offset, event.why);
      else if (event.kind === 'failed') return event.sentence;
    }
    this.take(table, words, refused);
    return words.size ? null : 'The device refuses these registers.';
  }

  /** Saves points as they are after an edit; null where all is well, else why not. */
  save(label: string, after: readonly Point[]): Observable<string | null> {
    const changes = after.map((point): Change => ({
      entity: 'point',
      id: point.id,
      before: this.project.points().get(point.id) ?? null,
      after: point,
    }));
    if (changes.length === 0) return of(null);
    return this.store.commit(label, changes).pipe(map((answer) => (answer.ok ? null : answer.problem.message)));
  }
}

const none: Point[] = [];
/** As many as the server reads at a time. */
const MAX_READ = 4000;

/** Where points lie, as few spans as possible; what is far from any of them is not asked for. */
function spansAround(points: readonly Point[], margin: number): [first: number, last: number][] {
  const spans: [number, number][] = [];
  for (const point of [...points].sort((a, b) => a.offset - b.offset)) {
    const [first, last] = [Math.max(0, point.offset - margin), Math.min(LAST_OFFSET, point.offset + pointWidth(point) - 1 + margin)];
    const before = spans.at(-1);
    if (before && first <= before[1] + 1) before[1] = Math.max(before[1], last);
    else spans.push([first, last]);
  }
  return spans;
}
