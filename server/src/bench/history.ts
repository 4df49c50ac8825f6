import type { Reading, Series } from '@plain-envoy/core/feed';
import { type Point, type ProjectDocument, readPoint } from '@plain-envoy/core/model';

const KEPT_MS = 3_600_000;
/** Closer together than this no two samples are kept. */
const APART_MS = 200;
const MAX_POINTS = 500;

interface Track {
  at: number[];
  values: number[];
  /** Where the kept samples begin; what is before is cut off now and then. */
  from: number;
}

/** The last hour of the points that somebody has chosen to see over time, in units; a bit is 0 or 1. */
export class History {
  private readonly tracks = new Map<string, Track>();
  private points = new Map<string, Point>();

  /** Points that are followed from now on; those that were stay. */
  follow(document: ProjectDocument, pointIds: Iterable<string>): void {
    this.points = new Map(document.points.map((point) => [point.id, point]));
    for (const id of pointIds)
      if (this.tracks.size < MAX_POINTS && !this.tracks.has(id)) this.tracks.set(id, { at: [], values: [], from: 0 });
  }

  followed(): string[] {
    return [...this.tracks.keys()];
  }

  take(readings: readonly Reading[]): void {
    for (const { pointId, words, atMs, quality } of readings) {
      const track = this.tracks.get(pointId);
      const point = this.points.get(pointId);
      if (!track || !point || !words || atMs === null || quality === 'bad') continue;
      if (atMs - (track.at.at(-1) ?? 0) < APART_MS) continue;
      const read = readPoint(words, point);
      const value = read.ok && !Array.isArray(read.value.value) ? Number(read.value.value) : words[0]!;
      if (!Number.isFinite(value)) continue;
      track.at.push(atMs);
      track.values.push(value);
      while (track.at[track.from]! < atMs - KEPT_MS) track.from += 1;
      if (track.from > 5000) {
        track.at.splice(0, track.from);
        track.values.splice(0, track.from);
        track.from = 0;
      }
    }
  }

  /** What came since then. */
  since(pointIds: readonly string[], sinceMs: number): Series[] {
    return pointIds.flatMap((pointId): Series[] => {
      const track = this.tracks.get(pointId);
      if (!track) return [];
      let first = track.at.length;
      while (first > track.from && track.at[first - 1]! > sinceMs) first -= 1;
      return [{ pointId, at: track.at.slice(first), values: track.values.slice(first) }];
    });
  }

  clear(): void {
    this.tracks.clear();
  }
}
