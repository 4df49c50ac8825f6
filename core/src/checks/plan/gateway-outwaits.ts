import { defineCheck } from '../../findings/index.js';
import { silentTimeMs } from '../../line/index.js';
import { serialLinesOf } from '../../occupancy/index.js';

/** Who asks a gateway gives up before the gateway does, and then never hears why, and its next question waits behind the old one. */
export const gatewayOutwaits = defineCheck({
  id: 'gateway-outwaits',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A gateway waits longer for a device than whoever asked it.',
  find: ({ look }) => {
    const lines = serialLinesOf(look.document);
    return look.document.devices.flatMap((device) => {
      const way = look.way(device.id);
      const line = lines.get(device.id);
      const gateway = way.ok ? way.value.front?.device : undefined;
      if (!gateway || !line) return [];
      const heldMs = gateway.delayMs + silentTimeMs(line, line.framing, gateway.timeoutMs);
      if (device.timeoutMs > heldMs) return [];
      return {
        message: `${gateway.name} waits ${gateway.timeoutMs} ms for ${device.name}, ${Math.ceil(heldMs)} ms with the question; whoever asks gives up after ${device.timeoutMs} ms. What the gateway says then comes late, and the next question waits behind it.`,
        mend: `Give ${device.name} a longer timeout than ${Math.ceil(heldMs)} ms, or let ${gateway.name} wait less.`,
        at: { entity: 'device' as const, id: device.id, field: 'timeoutMs' },
      };
    });
  },
});
