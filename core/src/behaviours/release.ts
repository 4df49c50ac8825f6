import { type Behaviour, literal } from './definition.js';

export const release: Behaviour = {
  id: 'release',
  name: 'Obeys only while released',
  says: 'Takes what it is told only while another point holds the value that releases it.',
  asks: [
    { key: 'command', label: 'What it is told', kind: 'point', wants: 'number' },
    { key: 'result', label: 'What obeys', kind: 'point', wants: 'number' },
    { key: 'release', label: 'What releases it', kind: 'point', wants: 'number' },
    { key: 'when', label: 'by holding', kind: 'value', of: 'release', first: 1 },
  ],
  write: (given) => ({
    declare: [],
    lines: [
      `IF ${given.real('release')} = ${literal(given.raw('when'))} THEN`,
      `  ${given.put('result', given.as('command', 'result'))}`,
      `END_IF;`,
    ],
  }),
};
