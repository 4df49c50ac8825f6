import type { Behaviour } from './definition.js';

export const trip: Behaviour = {
  id: 'trip',
  name: 'Trips without communication',
  says: 'Says fault when no master has spoken for a while, until it is reset.',
  asks: [
    { key: 'fault', label: 'Says fault', kind: 'point', wants: 'bit' },
    { key: 'after', label: 'After so many s of silence', kind: 'seconds', first: 3 },
    { key: 'reset', label: 'Resets it', kind: 'point', wants: 'bit' },
  ],
  write: (given) => {
    const edge = given.own('clears');
    const [fault, reset] = [given.point('fault').text, given.point('reset').text];
    return {
      declare: [`${edge} : R_TRIG;`],
      lines: [
        `${edge}(CLK := ${reset});`,
        `IF SILENT_FOR() > ${given.time('after')} THEN ${fault} := TRUE;`,
        `ELSIF ${edge}.Q THEN ${fault} := FALSE;`,
        `END_IF;`,
      ],
    };
  },
};
