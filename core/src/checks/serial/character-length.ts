import { defineCheck, onLine } from '../../findings/index.js';
import { characterBits } from '../../line/index.js';

export const characterLength = defineCheck({
  id: 'character-length',
  severity: 'advice',
  scope: 'serial',
  meaning: 'A character has another number of bits than the standard has for this framing (Modbus over serial line V1.02, 2.5).',
  find: (bus) => {
    const { name, framing, dataBits } = bus.line;
    const standard = framing === 'rtu' && dataBits !== 7 ? 11 : framing === 'ascii' ? 10 : null;
    const bits = characterBits(bus.line);
    if (standard === null || bits === standard) return [];
    return [
      {
        message: `A character on ${name} has ${bits} bits; the standard has ${standard} for ${framing.toUpperCase()}. Many devices take it all the same.`,
        mend: 'Without parity the standard asks for two stop bits.',
        at: onLine(bus, 'stopBits'),
      },
    ];
  },
});
