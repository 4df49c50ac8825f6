import { defineCheck, fixOf, onRoute } from '../../findings/index.js';
import type { NamedBit } from '../../model/index.js';

const SHORTEST_STEM = 3;

/** A bit that is taken out of a word is called something else than where it goes, and another bit of the word is called like that. */
export const bitNamedOtherwise = defineCheck({
  id: 'bit-named-otherwise',
  severity: 'warning',
  scope: 'value',
  doubts: true,
  meaning: 'A route takes one bit of a word to a point that is called like another bit of that word.',
  find: (row) => {
    const { route, source, destination } = row;
    const index = route.transforms.findIndex(({ kind }) => kind === 'extract');
    const step = route.transforms[index];
    if (step?.kind !== 'extract' || step.count !== 1) return [];
    const taken = source.bits.find(({ bit }) => bit === step.at);
    const others = source.bits.filter((bit) => bit !== taken && isCalledLike(destination.name, bit));
    if (others.length !== 1 || (taken && isCalledLike(destination.name, taken))) return [];
    const [meant] = others as [NamedBit];
    const transforms = route.transforms.map((row, at) => (at === index ? { ...step, at: meant.bit } : row));
    return [
      {
        message: `bit ${step.at}${taken ? `, “${taken.name}”,` : ''} of ${source.name} goes to ${destination.name}, which is called like bit ${meant.bit}, “${meant.name}”.`,
        mend: `Take bit ${meant.bit}, or correct the names.`,
        fix: fixOf(`Take bit ${meant.bit}`, 'route', route, { transforms }),
        at: onRoute(row, 'transforms'),
      },
    ];
  },
});

/** `Fan north runs` is called like `running`: some word of both begins alike. */
function isCalledLike(name: string, { name: bitName }: NamedBit): boolean {
  const [words, bits] = [name, bitName].map((text) => text.toLowerCase().match(/\p{L}+/gu) ?? []);
  return words!.some((word) => bits!.some((bit) => stemOf(word) === stemOf(bit)));
}

/** What is left without the usual endings; double letters before them count once. */
function stemOf(word: string): string {
  const stem = word.replace(/(ing|ed|s)$/, '').replace(/([a-z])\1$/, '$1');
  return stem.length >= SHORTEST_STEM ? stem : word;
}
