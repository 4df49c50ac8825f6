import * as z from 'zod';
import { bad } from '../outcome/index.js';
import { defineStep } from './definition.js';
import { pass } from './values.js';

const fillers = { none: '', blank: ' ', zero: '0' } as const;

export const text = defineStep({
  schema: z.strictObject({
    kind: z.literal('text'),
    length: z.int('A whole number.').min(1, 'At least one character.').max(250, 'At most 250 characters.'),
    pad: z.enum(['none', 'blank', 'zero']).describe('What fills it up to the length'),
    side: z.enum(['left', 'right']).describe('Where it is filled and cut'),
    cut: z.boolean().describe('Text that is too long is cut; else it is not carried'),
  }),
  blank: { kind: 'text', length: 16, pad: 'blank', side: 'right', cut: true },
  label: 'cut and pad text',
  describe: ({ length }) => `${length} characters`,
  run: ({ length, pad, side, cut }, value) => {
    if (typeof value !== 'string') return bad('Text was expected.');
    const characters = [...value];
    if (characters.length > length && !cut) return bad(`“${value}” has ${characters.length} characters; ${length} fit.`);
    const kept = side === 'right' ? characters.slice(0, length) : characters.slice(-length);
    const filler = fillers[pad].repeat(Math.max(0, length - kept.length));
    return pass(side === 'right' ? kept.join('') + filler : filler + kept.join(''));
  },
});
