import * as z from 'zod';
import { Offset } from '../address/index.js';
import { Name } from '../common/index.js';
import { type ChannelRangeId, channelRanges } from './ranges.js';

const Count = z.int('A whole number.').min(0, 'Not less than none.').max(256, 'At most 256.').default(0);
const Figure = z.number('A number.').nullable().default(null);
const RawFigure = z.int('A whole number.').min(-0x8000, 'Not below −32768.').max(0xffff, 'At most 65535.').nullable().default(null);

/** A module of a coupler as it is chosen: what channels it has, and what they measure. */
export const CouplerModule = z
  .strictObject({
    name: Name,
    inWords: Count.describe('Analog inputs, or words from the module'),
    inBits: Count.describe('Digital inputs'),
    outWords: Count.describe('Analog outputs, or words to the module'),
    outBits: Count.describe('Digital outputs'),
    range: z
      .enum(Object.keys(channelRanges) as [ChannelRangeId, ...ChannelRangeId[]])
      .default('counts')
      .describe('What its words are'),
    rawLow: RawFigure.describe('The raw value at the low end of the range; none: 0, or −32768 where it goes below 0'),
    rawHigh: RawFigure.describe('The raw value at the high end; none: 32767'),
    unitsLow: Figure.describe('What the low end is in the plant, such as 0 bar; none: as the range says'),
    unitsHigh: Figure.describe('What the high end is in the plant, such as 6 bar'),
    unit: z.string().max(20, 'A unit has at most 20 characters.').default('').describe('Of the plant; none: as the range says'),
    wireBreak: RawFigure.describe('The raw value by which it tells of a broken wire; none: it does not'),
    channels: z.string().max(4000).default('').describe('Names of its channels in order, separated by commas'),
  })
  .superRefine(({ rawLow, rawHigh, unitsLow, unitsHigh }, context) => {
    const problem = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    if (rawLow !== null && rawHigh !== null && rawLow >= rawHigh) problem('rawHigh', 'The high end is above the low end.');
    if ((unitsLow === null) !== (unitsHigh === null)) problem(unitsLow === null ? 'unitsLow' : 'unitsHigh', 'Say both ends, or none.');
    if (unitsLow !== null && unitsLow === unitsHigh) problem('unitsHigh', 'The range has no width.');
  });
export type CouplerModule = z.infer<typeof CouplerModule>;

/** A coupler made of modules: how it lays them into its process image, and where in its registers that is. */
export const Coupler = z.strictObject({
  rule: z.enum(['words-first', 'in-order']).default('words-first').describe('All words and then all bits, packed; or slot by slot'),
  align: z.enum(['bit', 'byte', 'word']).default('word').describe('Slot by slot: where each module begins'),
  lowByteFirst: z.boolean().default(true).describe('The first byte of the image is the low byte of its register'),
  inTable: z.enum(['input', 'holding']).default('input').describe('Where inputs are read'),
  inAt: Offset.default(0).describe('Offset of the first register of the inputs'),
  outAt: Offset.default(0).describe('Offset of the first holding register of the outputs'),
  bitsApart: z.boolean().default(false).describe('Bits are discrete inputs and coils, in slot order, not bits of registers'),
  bitsInAt: Offset.default(0).describe('Offset of the first discrete input'),
  bitsOutAt: Offset.default(0).describe('Offset of the first coil'),
  modules: z.array(CouplerModule).max(256, 'At most 256 modules.').default([]).describe('In slot order'),
});
export type Coupler = z.infer<typeof Coupler>;
