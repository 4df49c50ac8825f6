import type { Behaviour } from './definition.js';

export const count: Behaviour = {
  id: 'count',
  name: 'Counts',
  says: 'One more after each time, as a heartbeat or a counter of pulses does.',
  asks: [
    { key: 'value', label: 'What counts', kind: 'point', wants: 'whole' },
    { key: 'every', label: 'One more every so many s', kind: 'seconds', first: 1 },
  ],
  write: (given) => {
    const timer = given.own('beat');
    const { text } = given.point('value');
    return {
      declare: [`${timer} : TON;`],
      lines: [
        `${timer}(IN := TRUE, PT := ${given.time('every')});`,
        `IF ${timer}.Q THEN`,
        `  ${text} := ${text} + 1;`,
        `  ${timer}(IN := FALSE);`,
        `  ${timer}(IN := TRUE);`,
        `END_IF;`,
      ],
    };
  },
};
