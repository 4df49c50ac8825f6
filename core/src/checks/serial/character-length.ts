import { defineCheck, onLine } from '../../findings/index.js';
import { framingOf } from '../../frame/index.js';
import { characterBits } from '../../line/index.js';
import { isModbusLine } from '../../media/index.js';

export const characterLength = defineCheck({
  id: 'character-length',
  severity: 'advice',
  scope: 'serial',
  meaning: 'A character has another number of bits than the standard has for this framing (Modbus over serial line V1.02, 2.5).',
  find: (bus) => {
    if (!isModbusLine(bus.line)) return [];
    const { name, framing, dataBits } = bus.line;
    const { characterBits: standard, minDataBits, label } = framingOf(framing);
    const bits = characterBits(bus.line);
    if (bits === standard || dataBits < minDataBits) return [];
    return [
      {
        message: `A character on ${name} has ${bits} bits; the standard has ${standard} for ${label}. Many devices take it all the same.`,
        mend: 'Without parity the standard asks for two stop bits.',
        at: onLine(bus, 'stopBits'),
      },
    ];
  },
});
