import { badTexts, type TextCause } from './definition.js';

export const endNeverComes: TextCause = {
  id: 'end-never-comes',
  at: 'telegram',
  find: (of) => {
    const [telegram] = of.telegrams;
    if (!telegram?.telegram.end || of.sound > 0) return null;
    const open = badTexts(of).filter(({ problems }) => problems.some((text) => /did not come to its end/.test(text)));
    if (open.length < 2) return null;
    const ends = new Set(open.map(({ text }) => controlAtEnd(text)));
    const [seen] = ends;
    return {
      message: `${telegram.name} shall end by ${telegram.telegram.end.join(' or ')}, and that never comes${ends.size === 1 && seen ? `; what comes ends in ${seen}` : ''}.`,
      mend:
        ends.size === 1 && seen
          ? `Set its end mark to ${seen}.`
          : 'See in the terminal what stands at the end of each text, or let it end by a silence.',
    };
  },
};

/** The control characters with which a visible text ends: `<CR><LF>`. */
function controlAtEnd(text: string): string {
  const names = [...text.matchAll(/<[A-Z0-9]{2,3}>/g)];
  let from = text.length;
  for (const { 0: name, index } of names.reverse()) if (index + name.length === from) from = index;
  return text.slice(from);
}
