import { type Behaviour, literal } from './definition.js';

export const drift: Behaviour = {
  id: 'drift',
  name: 'Drifts',
  says: 'Stays near a value and never stands quite still, as something measured does.',
  asks: [
    { key: 'value', label: 'What drifts', kind: 'point', wants: 'number' },
    { key: 'around', label: 'Around', kind: 'value', of: 'value', first: 50 },
    { key: 'by', label: 'By at most', kind: 'value', of: 'value', first: 2 },
  ],
  write: (given) => {
    const by = given.span('by');
    const slow = `SINE(T#97s, ${literal(0.5 * by)}) + SINE(T#41s, ${literal(0.3 * by)})`;
    return { declare: [], lines: [given.put('value', `${literal(given.raw('around'))} + ${slow} + NOISE(${literal(0.2 * by)})`)] };
  },
};
