import type { Behaviour } from './definition.js';

export const onOff: Behaviour = {
  id: 'on-off',
  name: 'Ready, on, runs, fault',
  says: 'Is switched on, then started; a fault is left only by a reset that rises while neither is asked.',
  asks: [
    { key: 'on', label: 'Switches it on', kind: 'point', wants: 'bit' },
    { key: 'run', label: 'Starts it', kind: 'point', wants: 'bit' },
    { key: 'reset', label: 'Resets it', kind: 'point', wants: 'bit' },
    { key: 'ready', label: 'Says ready', kind: 'point', wants: 'bit' },
    { key: 'isOn', label: 'Says on', kind: 'point', wants: 'bit' },
    { key: 'running', label: 'Says it runs', kind: 'point', wants: 'bit' },
    { key: 'fault', label: 'Says fault', kind: 'point', wants: 'bit' },
  ],
  write: (given) => {
    const [state, edge] = [given.own('state'), given.own('resets')];
    const text = (key: string) => given.point(key).text;
    return {
      declare: [`${state} : INT; (* 0 ready, 1 on, 2 runs, 3 fault *)`, `${edge} : R_TRIG;`],
      lines: [
        `${edge}(CLK := ${text('reset')});`,
        `CASE ${state} OF`,
        `  0: IF ${text('on')} AND NOT ${text('run')} THEN ${state} := 1; END_IF;`,
        `  1, 2: IF NOT ${text('on')} THEN ${state} := 0; ELSIF ${text('run')} THEN ${state} := 2; ELSE ${state} := 1; END_IF;`,
        `  3: IF ${edge}.Q AND NOT ${text('on')} AND NOT ${text('run')} THEN ${state} := 0; END_IF;`,
        `END_CASE;`,
        `${text('ready')} := ${state} <> 3;`,
        `${text('isOn')} := ${state} = 1 OR ${state} = 2;`,
        `${text('running')} := ${state} = 2;`,
        `${text('fault')} := ${state} = 3;`,
      ],
    };
  },
};
