import { defineCheck, onLine } from '../../findings/index.js';
import { framingOf } from '../../frame/index.js';
import { isModbusLine } from '../../media/index.js';

export const rtuSevenBits = defineCheck({
  id: 'rtu-seven-bits',
  severity: 'stop',
  scope: 'serial',
  meaning: 'RTU needs eight data bits; with seven, half of every byte’s values are lost.',
  find: (bus) =>
    isModbusLine(bus.line) && bus.line.dataBits < framingOf(bus.line.framing).minDataBits
      ? [
          {
            message: `${bus.line.name} carries RTU with 7 data bits: half of every byte’s values would be lost.`,
            mend: 'Set 8 data bits.',
            at: onLine(bus, 'dataBits'),
          },
        ]
      : [],
});
