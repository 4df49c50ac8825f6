import { defineCheck, listed, onLine, onPort } from '../../findings/index.js';

export const stationEnds = defineCheck({
  id: 'station-ends',
  severity: 'stop',
  scope: 'telecontrol',
  meaning: 'A telecontrol line has no control station, or more than one, or no outstation.',
  find: (bus) => {
    const { line, members } = bus;
    if (members.length < 2) return [];
    const asking = members.filter(({ port }) => port.role === 'asks');
    const [, second] = asking;
    if (second && asking.length > 1)
      return [
        {
          message: `${listed(asking.map(({ name }) => name))} are all control stations of ${line.name}: each outstation answers one.`,
          mend: 'Say which of them asks; the others are its outstations, or on a line of their own.',
          at: onPort(second, 'role'),
        },
      ];
    if (asking.length === 1) return [];
    return [
      {
        message: `Nobody on ${line.name} asks: ${listed(members.map(({ name }) => name))} are all outstations.`,
        mend: 'Say which of them is the control station.',
        at: onLine(bus),
      },
    ];
  },
});
