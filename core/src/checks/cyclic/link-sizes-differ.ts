import { defineCheck, fixOf, onPort } from '../../findings/index.js';

export const linkSizesDiffer = defineCheck({
  id: 'link-sizes-differ',
  severity: 'stop',
  scope: 'cyclic',
  meaning: 'An end of a cyclic link is set to other sizes than the link, so that the station refuses it.',
  find: ({ line, members }) =>
    (['inputBytes', 'outputBytes'] as const).flatMap((field) =>
      members
        .filter(({ port }) => port[field] !== line[field])
        .map((member) => {
          const name = field === 'inputBytes' ? 'input' : 'output';
          return {
            message: `${member.name} is set to ${member.port[field]} bytes of ${name}, and ${line.name} has ${line[field]}: the link is refused.`,
            mend: `Set its ${name} to ${line[field]} bytes, or the link to what the papers of its station say.`,
            fix: fixOf(`Set ${member.name} to ${line[field]} bytes of ${name}`, 'port', member.port, { [field]: line[field] }),
            at: onPort(member, field),
          };
        }),
    ),
});
