import { LinkExchange, type LinkPortState, type LinkRules } from '@plain-envoy/core/cyclic-line';
import { inBackground } from '@plain-envoy/engine/background';
import type { LinkEnd, UdpLink } from '@plain-envoy/engine/links';

/** What an end of a cyclic link is for: whose blocks it takes apart and makes, and where their values are. */
export type LinkSideOf = Omit<LinkRules, 'send'>;

/** Between how many ms it looks whether a block is due: a tenth of the interval, within these. */
const [STEP_LEAST_MS, STEP_MOST_MS] = [1, 10];

/** An end of a cyclic link: a controller or converter that opens it, or a station that is played. */
export class LinkSide implements LinkEnd {
  private exchange: LinkExchange;
  private timer: NodeJS.Timeout | null = null;

  /** `goesOut` says how many times a datagram leaves, once its faults have had their say. */
  constructor(
    private readonly wire: UdpLink,
    private readonly of: LinkSideOf,
    private readonly goesOut: () => Promise<number> = () => Promise.resolve(1),
    private readonly now: () => number = () => performance.now(),
  ) {
    this.exchange = this.fresh();
  }

  async start(): Promise<void> {
    this.exchange = this.fresh();
    await this.wire.attach(this);
    const stepMs = Math.max(STEP_LEAST_MS, Math.min(STEP_MOST_MS, this.of.link.line.intervalMs / 10));
    this.timer = setInterval(() => this.exchange.step(this.now()), stepMs);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.wire.detach(this);
  }

  hear(datagram: Uint8Array): void {
    this.exchange.hear(datagram, this.now());
  }

  state(): LinkPortState {
    return this.exchange.portState(this.now());
  }

  private fresh(): LinkExchange {
    return new LinkExchange({ ...this.of, send: (datagram) => inBackground(this.transmit(datagram)) });
  }

  private async transmit(datagram: Uint8Array): Promise<void> {
    const times = await this.goesOut();
    for (let sent = 0; sent < times; sent++) this.wire.send(this, datagram);
  }
}
