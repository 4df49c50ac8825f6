import { defineCheck, onPort } from '../../findings/index.js';

export const bitrateDiffers = defineCheck({
  id: 'bitrate-differs',
  severity: 'stop',
  scope: 'can',
  meaning: 'A device on a CAN bus is set to another bit rate than the bus.',
  find: ({ line, members }) =>
    members
      .filter(({ port }) => port.bitrate !== line.bitrate)
      .map((member) => ({
        message: `${member.name} is set to ${member.port.bitrate} bit/s, ${line.name} runs at ${line.bitrate}: it would disturb everybody’s frames.`,
        mend: `Set ${member.name} to ${line.bitrate} bit/s.`,
        at: onPort(member, 'bitrate'),
      })),
});
