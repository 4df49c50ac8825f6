import { defineCheck } from '../../findings/index.js';
import { lineTime } from '../../line/index.js';
import { serialLinesOf } from '../../occupancy/index.js';

/** The shortest answer there is: an acknowledgement or one register. */
const SHORTEST = { functionCode: 3, count: 1 } as const;

/** Who asks gives up before the device can have answered: after its own delay, the silence and the shortest answer on its line. */
export const timeoutBelowDelay = defineCheck({
  id: 'timeout-below-delay',
  severity: 'stop',
  scope: 'plan',
  meaning: 'A device is given up before it can have answered.',
  find: ({ look }) => {
    const lines = serialLinesOf(look.document);
    return look.document.devices.flatMap((device) => {
      const way = look.way(device.id);
      if (!way.ok) return [];
      const waits = way.value.front?.device ?? device;
      const line = lines.get(device.id);
      const times = line && lineTime({ settings: line, framing: line.framing, ...SHORTEST, responseDelayMs: device.delayMs });
      const leastMs = times ? times.totalMs - times.requestMs : device.delayMs;
      if (waits.timeoutMs > leastMs) return [];
      const who = waits === device ? `It is given up after ${waits.timeoutMs} ms` : `${waits.name} gives it up after ${waits.timeoutMs} ms`;
      const onLine = line ? `, with the shortest answer on ${line.name}` : '';
      return {
        message: `${device.name} takes ${device.delayMs} ms before it answers, ${Math.ceil(leastMs)} ms in all${onLine}. ${who}, so no answer of it ever counts.`,
        mend: `Let ${waits === device ? 'the one who asks' : waits.name} wait longer: several times as long as the slowest answer, for a bad day.`,
        at: { entity: 'device' as const, id: waits.id, field: 'timeoutMs' },
      };
    });
  },
});
