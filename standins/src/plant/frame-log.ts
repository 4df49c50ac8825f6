import { hexIdentifier, type LoggedFrame, sniff } from '@plain-envoy/core/can';
import type { CanLineState } from '@plain-envoy/core/feed';
import { toHex } from '@plain-envoy/core/frame';
import type { PassedFrame } from '@plain-envoy/engine/links';

/** So many of the last frames are kept. */
const KEPT = 4000;
/** What the interface is called in logs. */
const INTERFACE = 'can0';

/** What went over a bus of CAN: the last frames, and how many of each there were. */
export class FrameLog {
  private last: LoggedFrame[] = [];
  private readonly counts = new Map<string, number>();
  private damaged = 0;
  private silent = 0;

  add({ frame, atMs, end }: PassedFrame): void {
    if (end === 'damaged') this.damaged += 1;
    if (end === 'silent') this.silent += 1;
    if (end !== 'arrived') return;
    const key = hexIdentifier(frame);
    this.counts.set(key, (this.counts.get(key) ?? 0) + 1);
    this.last.push({ ...frame, atS: atMs / 1000, on: INTERFACE });
    if (this.last.length > KEPT * 1.1) this.last = this.last.slice(-KEPT);
  }

  get frames(): readonly LoggedFrame[] {
    return this.last;
  }

  seen(): Omit<CanLineState, 'load'> {
    const frames = sniff(this.last).map(
      ({ identifierBits, identifier, periodMs, jitterMs, bytes, movedBits, data, frames: own, remote }) => ({
        ...{ identifierBits, identifier, periodMs, jitterMs, bytes, movedBits, remote },
        count: this.counts.get(hexIdentifier({ identifierBits, identifier })) ?? own.length,
        data: toHex(data),
        lastAtMs: Math.round(own.at(-1)!.atS * 1000),
      }),
    );
    return { damaged: this.damaged, silent: this.silent, frames };
  }
}
