import { defineCheck } from '../../findings/index.js';
import { watchdogOf, watchedOf } from './watchdogs.js';

export const watchdogShort = defineCheck({
  id: 'watchdog-short',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A watchdog waits for less than two heartbeats, so that one that is late trips it.',
  find: ({ routes, look }) =>
    watchedOf(routes, look)
      .filter(({ watchdogMs, shortestMs }) => watchdogMs < shortestMs)
      .map((watched) => {
        const { periodMs } = watched.row.round;
        return {
          message: `${watched.name}: its watchdog waits ${watched.watchdogMs} ms, and the heartbeat comes every ${periodMs} ms, so one that is late trips it.`,
          mend: 'Let the watchdog wait for two or three heartbeats.',
          fix: watchdogOf(watched, 3 * periodMs),
          at: watched.at,
        };
      }),
});
