import { type CountersSeen, ourCounters } from '@plain-envoy/core/diagnose';
import { type Counters, type DeviceCounter, type DeviceCounters, deviceCounters } from '@plain-envoy/core/feed';
import type { Fact, InquiryAsk } from '@plain-envoy/core/codec';
import { ProblemError } from '../problem/index.js';

/** Asks one thing of a device; rejects with a `ProblemError` where nothing comes of it. */
type Asking = (ask: InquiryAsk) => Promise<Fact[]>;

/** What was read; null where nothing was, and then why. */
export type CountersRead = { seen: CountersSeen; why: null } | { seen: null; why: string };

/**
 * Reads all that a device counts, one after the other, and `ours` just when it says how many messages to it there were. A counter
 * that it does not have is null; where it has none of them, or does not answer, `why` says so.
 */
export async function readCounters(asking: Asking, ours: () => Counters): Promise<CountersRead> {
  let seen = ourCounters(ours());
  const counters: DeviceCounters = {
    atMs: Date.now(),
    ...{ messages: null, damaged: null, exceptions: null, toIt: null, unanswered: null, notTaken: null, busy: null, overruns: null },
    commands: null,
  };
  let refused: ProblemError | null = null;
  for (const [key, { sub }] of Object.entries(deviceCounters) as [DeviceCounter, { sub: number | null }][]) {
    try {
      const facts = await asking(sub === null ? { functionCode: 11 } : { functionCode: 8, sub, data: 0 });
      counters[key] = facts.at(-1)?.value ?? null;
      if (key === 'toIt') seen = ourCounters(ours());
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      // That the bench does not run, or that the device is gone, is no answer of the device.
      if (error.code !== 'device-failed' && error.code !== 'does-not-fit') throw error;
      refused ??= error;
      // Whoever does not answer one counter at all would make each of the others wait for its timeout.
      if (error.details['isRefusal'] !== true) break;
    }
  }
  const hasAny = Object.keys(deviceCounters).some((key) => counters[key as DeviceCounter] !== null);
  if (refused && !hasAny) return { seen: null, why: refused.message };
  return { seen: { its: counters, ours: seen }, why: null };
}
