import type { CanFrame } from '@plain-envoy/core/can';
import { type CanErrors, CanExchange, type CanPortState, type CanRules } from '@plain-envoy/core/can-line';
import { inBackground } from '@plain-envoy/engine/background';
import type { CanBus, CanStation } from '@plain-envoy/engine/links';

/** What a port on CAN is for: whose frames it takes apart and makes, and where their values are. */
export type CanSideOf = Omit<CanRules, 'send'>;

/** Between how many ms it looks whether a frame is due: a tenth of the shortest period, within these. */
const [STEP_LEAST_MS, STEP_MOST_MS] = [1, 10];

/** A port on a line of CAN: the far side of a converter, or a device that is played. */
export class CanSide implements CanStation {
  private readonly exchange: CanExchange;
  /** The frames that are on their way, by their identifiers. */
  private readonly waiting = new Set<string>();
  private readonly stepMs: number;
  private timer: NodeJS.Timeout | null = null;

  /** `leaves` gives what goes out for a frame, once its faults have had their say. */
  constructor(
    private readonly bus: CanBus,
    readonly bitrate: number,
    of: CanSideOf,
    private readonly leaves: (frame: CanFrame) => Promise<CanFrame[]> = (frame) => Promise.resolve([frame]),
    private readonly now: () => number = () => performance.now(),
  ) {
    this.exchange = new CanExchange({ ...of, send: (frame) => this.send(frame) });
    const periods = of.frames.flatMap(({ when }) => (when.on === 'period' ? [when.periodMs] : []));
    this.stepMs = Math.max(STEP_LEAST_MS, Math.min(STEP_MOST_MS, ...periods.map((ms) => ms / 10)));
  }

  start(): void {
    this.bus.attach(this);
    this.exchange.begin();
    this.timer = setInterval(() => this.exchange.step(this.now()), this.stepMs);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.bus.detach(this);
  }

  hear(frame: CanFrame): void {
    this.exchange.hear(frame, this.now());
  }

  state(): CanPortState & { errors: CanErrors | null } {
    return { ...this.exchange.state(this.now()), errors: this.bus.errors(this) };
  }

  private send(frame: CanFrame): boolean {
    const key = `${frame.identifierBits} ${frame.identifier}`;
    if (this.waiting.has(key)) return false;
    this.waiting.add(key);
    inBackground(this.transmit(frame).finally(() => this.waiting.delete(key)));
    return true;
  }

  private async transmit(frame: CanFrame): Promise<void> {
    for (const one of await this.leaves(frame)) await this.bus.send(this, one);
  }
}
