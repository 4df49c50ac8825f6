import type { TraceEntry } from '@plain-envoy/core/trace';
import { inBackground } from '@plain-envoy/engine/background';

/** How often it is asked what went over the lines of the stand-ins. */
const EVERY_MS = 250;

/** Where it comes from, and where it goes. */
interface Around {
  traffic(after: number): Promise<{ last: number; entries: TraceEntry[] }>;
  pass(entries: readonly TraceEntry[]): void;
}

/** Fetches what goes over lines of the stand-ins that are not Modbus for as long as it is wanted, each once, from when it begins on. */
export class TrafficFollower {
  private timer: NodeJS.Timeout | null = null;
  private isAsking = false;
  private last: number | null = null;

  constructor(private readonly around: Around) {}

  follow(isWanted: boolean): void {
    if (isWanted === (this.timer !== null)) return;
    if (this.timer) clearInterval(this.timer);
    this.last = null;
    this.timer = isWanted ? setInterval(() => inBackground(this.ask()), EVERY_MS) : null;
  }

  /** Stand-ins that do not answer are told of elsewhere; what they have is fetched when they are back. */
  private async ask(): Promise<void> {
    if (this.isAsking) return;
    this.isAsking = true;
    const answer = await this.around.traffic(this.last ?? 0).catch(() => null);
    this.isAsking = false;
    if (!answer || !this.timer) return;
    // What was before it began is not of this run.
    if (this.last !== null) this.around.pass(answer.entries);
    this.last = answer.last;
  }
}
