import * as z from 'zod';

/** The settings that both ends of a serial line must share. */
export const SerialSettings = z.strictObject({
  baud: z
    .int('A whole number.')
    .min(50, 'The slowest rate known here is 50 baud.')
    .max(1_000_000, 'The fastest rate known here is 1 000 000 baud.')
    .describe('Bits a second'),
  dataBits: z.union([z.literal(7), z.literal(8)]),
  parity: z.enum(['none', 'even', 'odd']),
  stopBits: z.union([z.literal(1), z.literal(2)]),
});
export type SerialSettings = z.infer<typeof SerialSettings>;

/** The settings alone of whatever has them among other things, as a line or a port. */
export function settingsOf({ baud, dataBits, parity, stopBits }: SerialSettings): SerialSettings {
  return { baud, dataBits, parity, stopBits };
}

/** Bits that one character takes: start, data, parity, stop. 8E1, 8O1 and 8N2 have 11; 8N1 has 10 (V1.02, 2.5.1). */
export function characterBits({ dataBits, parity, stopBits }: SerialSettings): number {
  return 1 + dataBits + (parity === 'none' ? 0 : 1) + stopBits;
}

export function characterMs(settings: SerialSettings): number {
  return (characterBits(settings) * 1000) / settings.baud;
}

/** The longest pause between two characters of a frame: 1.5 characters, fixed at 0.750 ms above 19200 baud (V1.02, 2.5.1.1). */
export function pauseMs(settings: SerialSettings): number {
  return settings.baud > 19_200 ? 0.75 : 1.5 * characterMs(settings);
}

/** Silence that ends a frame: 3.5 characters, fixed at 1.750 ms above 19200 baud (V1.02, 2.5.1.1). */
export function silenceMs(settings: SerialSettings): number {
  return settings.baud > 19_200 ? 1.75 : 3.5 * characterMs(settings);
}

/** `8E1`, as the trade writes it. */
export function formatCharacter({ dataBits, parity, stopBits }: Omit<SerialSettings, 'baud'>): string {
  return `${dataBits}${parity.charAt(0).toUpperCase()}${stopBits}`;
}

/** `19200 8E1`, as the trade writes it. */
export function formatSettings(settings: SerialSettings): string {
  return `${settings.baud} ${formatCharacter(settings)}`;
}
