import { defineCheck, onLine } from '../../findings/index.js';

export const validityPastBlock = defineCheck({
  id: 'validity-past-block',
  severity: 'stop',
  scope: 'cyclic',
  meaning: 'The byte that says that a block is valid lies past its end.',
  find: (bus) => {
    const { line } = bus;
    return (
      [
        ['inputValidByte', 'input', line.inputBytes],
        ['outputValidByte', 'output', line.outputBytes],
      ] as const
    ).flatMap(([field, name, bytes]) => {
      const byte = line[field];
      if (byte === null || byte < bytes) return [];
      return {
        message: `Byte ${byte} shall say that the ${name} of ${line.name} is valid, and that has ${bytes} ${bytes === 1 ? 'byte' : 'bytes'}: it never is.`,
        mend: 'Say which byte it is in the papers of the station, or how many the block has.',
        at: onLine(bus, field),
      };
    });
  },
});
