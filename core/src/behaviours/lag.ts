import type { Behaviour } from './definition.js';

export const lag: Behaviour = {
  id: 'lag',
  name: 'Follows a set point with a lag',
  says: 'Like something warm: fast at first, and ever slower the nearer it comes.',
  asks: [
    { key: 'value', label: 'What follows', kind: 'point', wants: 'number' },
    { key: 'goal', label: 'Its set point', kind: 'point', wants: 'number' },
    { key: 'time', label: 'Two thirds of the way in so many s', kind: 'seconds', first: 10 },
  ],
  write: (given) => ({ declare: [], lines: [given.put('value', `LAG(${given.as('goal', 'value')}, ${given.time('time')})`)] }),
};
