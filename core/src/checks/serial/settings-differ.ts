import { defineCheck, fixOf, onPort } from '../../findings/index.js';
import { formatSettings } from '../../line/index.js';
import { expectedOf } from '../../media/index.js';

const words = {
  baud: 'baud',
  dataBits: 'data bits',
  parity: 'parity',
  stopBits: 'stop bits',
  framing: 'framing',
  levels: 'levels',
  duplex: 'duplex',
} as const;

export const settingsDiffer = defineCheck({
  id: 'settings-differ',
  severity: 'stop',
  scope: 'serial',
  meaning: 'A device on a serial line is set otherwise than the line, so that the two do not understand each other.',
  find: ({ line, members }) => {
    const expected = expectedOf(line);
    return members.flatMap((member) => {
      const { name, port } = member;
      const wrong = (Object.keys(expected) as (keyof typeof words)[]).filter((field) => port[field] !== expected[field]);
      if (wrong.length === 0) return [];
      const differs = wrong.map((field) => `${words[field]} ${String(port[field])} instead of ${String(expected[field])}`).join(', ');
      return {
        // Receivers look at one stop bit only, so most take a difference there.
        severity: wrong.length === 1 && wrong[0] === 'stopBits' ? ('warning' as const) : ('stop' as const),
        message: `${name} is set to ${formatSettings(port)}, ${line.name} runs at ${formatSettings(line)}: ${differs}.`,
        mend: `Set ${name} as the line is, or the line and all others as it is.`,
        fix: fixOf(`Set ${name} as the line is`, 'port', port, expected),
        at: onPort(member, wrong[0]!),
      };
    });
  },
});
