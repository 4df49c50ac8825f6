import { badTexts, type TextCause } from './definition.js';

export const neverMatches: TextCause = {
  id: 'never-matches',
  at: 'telegram',
  find: (of) => {
    const bad = badTexts(of).filter(({ telegramId }) => telegramId !== null);
    const [last] = bad;
    if (!last || of.sound > 0 || of.damaged < 2) return null;
    const isSum = /checksum|sum|check/i.test(last.problems[0]!);
    return {
      message: `Texts of ${of.device} come whole, and none matches. The last, “${last.text}”: ${last.problems[0]!}`,
      mend: isSum
        ? 'Its fields are found, but the checksum is another: try its kind and which characters it covers, beside the samples.'
        : 'Take what came as samples, and move the fields to where they are.',
    };
  },
};
