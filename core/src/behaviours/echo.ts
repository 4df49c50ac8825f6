import { type Behaviour, typeWord } from './definition.js';

export const echo: Behaviour = {
  id: 'echo',
  name: 'Echoes what it gets, plus one',
  says: 'Gives back what was written, with one added: it shows that a value really went there and back.',
  asks: [
    { key: 'in', label: 'What it gets', kind: 'point', wants: 'whole' },
    { key: 'out', label: 'What it gives', kind: 'point', wants: 'whole' },
  ],
  write: (given) => {
    const [from, to] = [given.point('in'), given.point('out')];
    const value = typeWord(from.type) === typeWord(to.type) ? from.text : `${typeWord(from.type)}_TO_${typeWord(to.type)}(${from.text})`;
    return { declare: [], lines: [`${to.text} := ${value} + 1;`] };
  },
};
