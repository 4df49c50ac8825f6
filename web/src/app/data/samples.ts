import type { Reading } from '@plain-envoy/core/feed';
import { type Point, readPoint } from '@plain-envoy/core/model';

const KEPT = 60;

interface Track {
  at: number[];
  values: number[];
}

/** The last values of what is looked at, for the small lines in a table and for how often each comes. */
export class Samples {
  private readonly tracks = new Map<string, Track>();

  take(point: Point, reading: Reading | undefined): void {
    if (!reading?.words || reading.atMs === null) return;
    const track = this.tracks.get(point.id) ?? { at: [], values: [] };
    this.tracks.set(point.id, track);
    if (reading.atMs === track.at.at(-1)) return;
    const read = readPoint(reading.words, point);
    const value = read.ok ? read.value.value : NaN;
    track.at.push(reading.atMs);
    track.values.push(Array.isArray(value) ? reading.words[0]! : Number(value));
    if (track.at.length > KEPT) {
      track.at.shift();
      track.values.shift();
    }
  }

  /** How often a new value has come of late, a second; null before two have. */
  rate(pointId: string): number | null {
    const at = this.tracks.get(pointId)?.at ?? [];
    return at.length < 2 ? null : ((at.length - 1) * 1000) / (at.at(-1)! - at[0]!);
  }

  /** The path of a line, `width` by `height`; empty before two values. */
  line(pointId: string, width: number, height: number): string {
    const { at = [], values = [] } = this.tracks.get(pointId) ?? {};
    const known = values.filter(Number.isFinite);
    if (known.length < 2) return '';
    const [low, high] = [Math.min(...known), Math.max(...known)];
    const [from, span] = [at[0]!, at.at(-1)! - at[0]! || 1];
    const x = (index: number) => (((at[index]! - from) / span) * width).toFixed(1);
    const y = (value: number) => (high === low ? height / 2 : height - ((value - low) / (high - low)) * height).toFixed(1);
    return values.flatMap((value, index) => (Number.isFinite(value) ? `${index ? 'L' : 'M'}${x(index)} ${y(value)}` : [])).join('');
  }
}
