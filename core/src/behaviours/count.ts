import { type Behaviour, literal, typeWord } from './definition.js';

export const count: Behaviour = {
  id: 'count',
  name: 'Counts',
  says: 'More after each time, as a heartbeat or a counter of pulses does.',
  asks: [
    { key: 'value', label: 'What counts', kind: 'point', wants: 'number' },
    { key: 'by', label: 'By', kind: 'value', of: 'value', first: 1 },
    { key: 'every', label: 'Every so many s', kind: 'seconds', first: 1 },
    { key: 'top', label: 'Begins again at 0 after (0: never)', kind: 'value', of: 'value', first: 0 },
  ],
  write: (given) => {
    const timer = given.own('beat');
    const value = given.point('value');
    const { text } = value;
    const [by, top] = [given.span('by'), given.span('top')];
    const isWhole = /INT$/.test(typeWord(value.type));
    const more = isWhole
      ? `${text} := ${text} + ${Math.max(1, Math.round(by))};`
      : given.put('value', `${given.real('value')} + ${literal(by)}`);
    const again = `IF ${given.real('value')} > ${literal(given.raw('top'))} THEN ${given.put('value', '0.0')} END_IF;`;
    return {
      declare: [`${timer} : TON;`],
      lines: [
        `${timer}(IN := TRUE, PT := ${given.time('every')});`,
        `IF ${timer}.Q THEN`,
        `  ${more}`,
        ...(top > 0 ? [`  ${again}`] : []),
        `  ${timer}(IN := FALSE);`,
        `  ${timer}(IN := TRUE);`,
        `END_IF;`,
      ],
    };
  },
};
