import { badTexts, type TextCause } from './definition.js';

export const eighthBit: TextCause = {
  id: 'eighth-bit',
  at: 'port',
  find: (of) => {
    const high = badTexts(of).filter(({ text }) => /[\x80-\xff]/.test(text));
    if (high.length === 0 || of.sound > high.length) return null;
    return {
      message: `Characters of ${of.device} come with their eighth bit set, as a parity bit looks to a port that is set to eight bits without parity.`,
      mend: 'Set the port to seven bits and the parity of the device, or the device to eight without.',
    };
  },
};
