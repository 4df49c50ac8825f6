import * as z from 'zod';
import type { StandardName } from '../line/index.js';
import { Metres } from './fields.js';

const OhmPerKm = z.number('A resistance in Ω per km.').min(0, 'A resistance is not negative.').max(10_000, 'At most 10 000 Ω per km.');

/** What was laid: its conductors, by the names of `standards[…].signals`, and what is between its ends. */
export const Cable = z.strictObject({
  conductorOhmPerKm: OhmPerKm,
  shieldOhmPerKm: OhmPerKm.nullable().describe('null where it has no shield'),
  reference: z.boolean().describe('A conductor joins the references of all devices'),
  crossing: z.enum(['straight', 'crossed']).describe('Point to point: whether transmit and receive are exchanged on the way'),
  colours: z.record(z.string().max(8), z.string().max(40)).describe('The colour of each wire, by signal'),
  repeatersAtM: z.array(Metres).max(20),
});
export type Cable = z.infer<typeof Cable>;

/** A cable as it is usually laid for this standard, before anybody has looked. */
export function blankCable(standard: StandardName): Cable {
  return {
    conductorOhmPerKm: 90,
    shieldOhmPerKm: 12,
    reference: true,
    crossing: standard === 'rs232' ? 'crossed' : 'straight',
    colours: {},
    repeatersAtM: [],
  };
}
