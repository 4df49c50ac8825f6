/** An event with the number under which it is kept. */
export interface KeptEvent<Event> {
  number: number;
  event: Event;
}

/**
 * The events of a telecontrol station until the other side has confirmed them, in the order in which they happened. Where there is no more
 * room the oldest goes first, and it is counted.
 */
export class EventMemory<Event> {
  private readonly kept = new Map<number, Event>();
  /** Those that were sent and are not confirmed. */
  private readonly onTheWay = new Set<number>();
  private last = 0;
  private thrownAway = 0;

  constructor(private readonly capacity: number) {}

  add(event: Event): void {
    if (this.kept.size >= this.capacity) {
      const [oldest] = this.kept.keys();
      this.kept.delete(oldest!);
      this.onTheWay.delete(oldest!);
      this.thrownAway += 1;
    }
    this.last += 1;
    this.kept.set(this.last, event);
  }

  /**
   * The oldest that are not on their way, as many as `mostOf` says of the first and as long as `goesWith` says that one goes with it; they are
   * then. Those that are not wanted are passed over.
   */
  take(
    mostOf: (first: Event) => number,
    goesWith: (first: Event, next: Event) => boolean,
    isWanted: (event: Event) => boolean = () => true,
  ): KeptEvent<Event>[] {
    const taken: KeptEvent<Event>[] = [];
    for (const [number, event] of this.kept) {
      if (this.onTheWay.has(number) || !isWanted(event)) continue;
      const first = taken[0]?.event;
      if (first !== undefined && (taken.length >= mostOf(first) || !goesWith(first, event))) break;
      taken.push({ number, event });
    }
    for (const { number } of taken) this.onTheWay.add(number);
    return taken;
  }

  /** They have arrived, and need not be kept. */
  confirm(numbers: readonly number[]): void {
    for (const number of numbers) {
      this.kept.delete(number);
      this.onTheWay.delete(number);
    }
  }

  /** Whether these arrived is not known, so they go out again; all that are on their way, where the link is gone. */
  release(numbers?: readonly number[]): void {
    if (!numbers) this.onTheWay.clear();
    for (const number of numbers ?? []) this.onTheWay.delete(number);
  }

  /** Whether one of this sort is kept and not on its way. */
  waits(isWanted: (event: Event) => boolean): boolean {
    for (const [number, event] of this.kept) if (!this.onTheWay.has(number) && isWanted(event)) return true;
    return false;
  }

  /** How many are kept, and how many were thrown away unsent because there was no room. */
  get state(): { kept: number; thrownAway: number; isFull: boolean } {
    return { kept: this.kept.size, thrownAway: this.thrownAway, isFull: this.kept.size >= this.capacity };
  }
}

/** How long an outage may last until the first event is thrown away, ms; null where none happens. */
export function lastsMs(capacity: number, eventsPerHour: number): number | null {
  return eventsPerHour > 0 ? (capacity / eventsPerHour) * 3_600_000 : null;
}

/** How an outstation is. */
export interface OutstationState {
  kept: number;
  thrownAway: number;
  isFull: boolean;
  /** Events since it began, whatever became of them. */
  happened: number;
  isConnected: boolean;
  /** How long ago its clock was set; null where it was not. */
  clockAgeMs: number | null;
}
