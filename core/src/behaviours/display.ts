import { type Behaviour, literal } from './definition.js';

export const display: Behaviour = {
  id: 'display',
  name: 'Shows a text, and says so',
  says: 'Is busy for a while with a text that was written to it; then it is ready again and repeats it.',
  asks: [
    { key: 'text', label: 'The text', kind: 'point', wants: 'text' },
    { key: 'status', label: 'Says busy or ready', kind: 'point', wants: 'number' },
    { key: 'busy', label: 'Busy is', kind: 'value', of: 'status', first: 0 },
    { key: 'ready', label: 'Ready is', kind: 'value', of: 'status', first: 1 },
    { key: 'time', label: 'Busy for so many s', kind: 'seconds', first: 1.5 },
    { key: 'reply', label: 'Repeats the text in', kind: 'point', wants: 'text' },
  ],
  write: (given) => {
    const [shown, taking] = [given.own('shown'), given.own('taking')];
    const text = given.point('text');
    const length = text.type.kind === 'string' ? text.type.length : 80;
    return {
      declare: [`${shown} : STRING[${length}];`, `${taking} : TON;`],
      lines: [
        `${taking}(IN := ${text.text} <> ${shown}, PT := ${given.time('time')});`,
        given.put('status', `SEL(${text.text} = ${shown} OR ${taking}.Q, ${literal(given.raw('busy'))}, ${literal(given.raw('ready'))})`),
        `IF ${taking}.Q THEN`,
        `  ${shown} := ${text.text};`,
        `  ${given.point('reply').text} := ${text.text};`,
        `END_IF;`,
      ],
    };
  },
};
