import { defineCheck, onLine, onPort } from '../../findings/index.js';

export const linkEnds = defineCheck({
  id: 'link-ends',
  severity: 'stop',
  scope: 'cyclic',
  meaning: 'A cyclic link has no end that opens it, or no station.',
  find: (bus) => {
    const { line, members } = bus;
    if (members.length < 2) return [];
    const opening = members.filter(({ port }) => port.role === 'opens');
    if (opening.length === 1) return [];
    const [first, second] = members as [(typeof members)[0], (typeof members)[0]];
    const both = `${first.name} and ${second.name}`;
    return [
      {
        message:
          opening.length === 0
            ? `${both} are both the station of ${line.name}, so nobody opens the link.`
            : `${both} both open ${line.name}, and nobody is its station.`,
        mend: 'Say which of them opens the link: the controller or converter that the station belongs to.',
        at: opening.length === 0 ? onLine(bus) : onPort(second, 'role'),
      },
    ];
  },
});
