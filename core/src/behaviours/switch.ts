import type { Behaviour } from './definition.js';

export const goesOnAndOff: Behaviour = {
  id: 'switch',
  name: 'Goes on and off',
  says: 'As a contact does: on for a while, off for a while.',
  asks: [
    { key: 'value', label: 'What goes on and off', kind: 'point', wants: 'bit' },
    { key: 'on', label: 'On for so many s', kind: 'seconds', first: 10 },
    { key: 'off', label: 'Off for so many s', kind: 'seconds', first: 10 },
  ],
  write: (given) => {
    const timer = given.own('turn');
    const { text } = given.point('value');
    return {
      declare: [`${timer} : TON;`],
      lines: [
        `${timer}(IN := TRUE, PT := SEL(${text}, ${given.time('off')}, ${given.time('on')}));`,
        `IF ${timer}.Q THEN`,
        `  ${text} := NOT ${text};`,
        `  ${timer}(IN := FALSE);`,
        `  ${timer}(IN := TRUE);`,
        `END_IF;`,
      ],
    };
  },
};
