import * as z from 'zod';
import type { SerialSettings } from './character.js';

/** How one end of a serial line tells the other to wait: by a wire of its own, by characters among the others, or not at all. */
export const Handshake = z.enum(['none', 'rts-cts', 'xon-xoff']);
export type Handshake = z.infer<typeof Handshake>;

/** The characters of the handshake XON/XOFF (ISO 646, DC1 and DC3): go on, and wait. */
export const [XON, XOFF] = [0x11, 0x13] as const;

/** How a serial port is opened. */
export interface PortSettings extends SerialSettings {
  handshake?: Handshake;
}
