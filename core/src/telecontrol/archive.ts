/** What an archive keeps of an event. */
export interface Archived<Value> {
  point: string;
  /** As its station had it, ms since 1970. */
  atMs: number;
  value: Value;
}

/**
 * What happened at the points of a telecontrol station, each event once: both protocols may send one again that was not confirmed, and it is
 * known by its point and time. In order of time, whenever it came.
 */
export class Archive<Value> {
  /** How many it keeps of one point; then the oldest goes. */
  constructor(private readonly most = 100_000) {}

  private readonly byPoint = new Map<string, Archived<Value>[]>();
  private repeated = 0;

  /** False for one that is there already. */
  add(event: Archived<Value>): boolean {
    const own = this.byPoint.get(event.point) ?? [];
    this.byPoint.set(event.point, own);
    let at = own.length;
    while (at > 0 && own[at - 1]!.atMs > event.atMs) at -= 1;
    if (own[at - 1]?.atMs === event.atMs) {
      this.repeated += 1;
      return false;
    }
    own.splice(at, 0, event);
    if (own.length > this.most) own.shift();
    return true;
  }

  of(point: string): readonly Archived<Value>[] {
    return this.byPoint.get(point) ?? [];
  }

  /** All of them, in order of time; those of the same time in order of their points. */
  all(): Archived<Value>[] {
    return [...this.byPoint.values()].flat().sort((a, b) => a.atMs - b.atMs || (a.point < b.point ? -1 : 1));
  }

  /** How many came again. */
  get again(): number {
    return this.repeated;
  }
}
