import { defineCheck, onRoute } from '../../findings/index.js';
import { wordsFor } from '../../route/index.js';

export const release = defineCheck({
  id: 'release',
  severity: 'stop',
  scope: 'route',
  meaning: 'The register that releases what a route writes does not fit it.',
  find: ({ names }) => {
    const { route, releasing, destination } = names;
    if (!route.release || !releasing) return [];
    const at = onRoute(names, 'release');
    const words = wordsFor(route.release.value, { destination: releasing, transforms: [] });
    return [
      ...(words.ok ? [] : [{ message: words.problem.message, mend: 'Choose a value that fits.', at }]),
      ...(releasing.deviceId === destination.deviceId
        ? []
        : [
            {
              message: `${releasing.name} is not in the device that is written.`,
              mend: 'Choose a register of the destination’s device.',
              at,
            },
          ]),
      ...(releasing.bit === null
        ? []
        : [{ message: `${releasing.name} is one bit of a register.`, mend: 'Choose the whole register, or a coil.', at }]),
    ];
  },
});
