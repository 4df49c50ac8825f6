import { badTexts, type TextCause } from './definition.js';

export const someDamaged: TextCause = {
  id: 'some-damaged',
  at: 'port',
  find: (of) => {
    const [last] = badTexts(of);
    if (!last || of.sound === 0 || of.damaged * 50 < of.sound) return null;
    return {
      message: `${of.damaged} of ${of.damaged + of.sound} texts of ${of.device} were damaged; the last: ${last.problems[0]!}`,
      mend: 'Look at the cable and its shield, and for a second sender; what comes between two wires at once damages both.',
    };
  },
};
