import { type Behaviour, literal } from './definition.js';

export const ramp: Behaviour = {
  id: 'ramp',
  name: 'Ramps to a set point',
  says: 'Goes there at one speed, as a drive or a damper does.',
  asks: [
    { key: 'value', label: 'What moves', kind: 'point', wants: 'number' },
    { key: 'goal', label: 'Its set point', kind: 'point', wants: 'number' },
    { key: 'rate', label: 'By so much in a second', kind: 'value', of: 'value', first: 5 },
  ],
  write: (given) => ({ declare: [], lines: [given.put('value', `RAMP(${given.as('goal', 'value')}, ${literal(given.span('rate'))})`)] }),
};
