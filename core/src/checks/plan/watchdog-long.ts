import { defineCheck, listed } from '../../findings/index.js';
import { deviceName } from '../../plan/index.js';
import { watchdogOf, watchedOf } from './watchdogs.js';

export const watchdogLong = defineCheck({
  id: 'watchdog-long',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A watchdog waits longer than what its device commands waits itself.',
  find: ({ routes, look }) =>
    watchedOf(routes, look).flatMap((watched) => {
      const { row, watchdogMs, shortestMs, name, at } = watched;
      if (watchdogMs < shortestMs) return [];
      const commanded = new Map<string, number>();
      for (const { row: other } of routes) {
        const waitsMs = look.device.get(other.destination.deviceId)?.writeTimeoutMs;
        if (other.source.deviceId === row.destination.deviceId && waitsMs && waitsMs < watchdogMs)
          commanded.set(deviceName(other.destination, look), waitsMs);
      }
      if (commanded.size === 0) return [];
      const leastMs = Math.min(...commanded.values());
      const trips = commanded.size === 1 ? 'it trips' : 'they trip';
      return {
        message: `${name}: its watchdog waits ${watchdogMs} ms, longer than ${listed([...commanded.keys()])}, which it commands: ${trips} after ${leastMs} ms without a write.`,
        mend: 'Let the watchdog be shorter, so that what is commanded is stopped in order before it trips.',
        fix: shortestMs < leastMs ? watchdogOf(watched, Math.max(shortestMs, Math.floor((leastMs * 0.8) / 100) * 100)) : undefined,
        at,
      };
    }),
});
