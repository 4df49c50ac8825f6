import { type Behaviour, literal } from './definition.js';

export const sine: Behaviour = {
  id: 'sine',
  name: 'Moves like a sine',
  says: 'Up and down between two values, over and over.',
  asks: [
    { key: 'value', label: 'What moves', kind: 'point', wants: 'number' },
    { key: 'low', label: 'Lowest', kind: 'value', of: 'value', first: 0 },
    { key: 'high', label: 'Highest', kind: 'value', of: 'value', first: 100 },
    { key: 'period', label: 'Once up and down in so many s', kind: 'seconds', first: 60 },
  ],
  write: (given) => {
    const [low, high] = [given.raw('low'), given.raw('high')];
    const middle = literal((low + high) / 2);
    return { declare: [], lines: [given.put('value', `${middle} + SINE(${given.time('period')}, ${literal(Math.abs(high - low) / 2)})`)] };
  },
};
