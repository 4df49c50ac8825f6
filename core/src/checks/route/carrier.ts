import { defineCheck, onRoute } from '../../findings/index.js';

export const carrier = defineCheck({
  id: 'carrier',
  severity: 'stop',
  scope: 'route',
  meaning: 'The carrier of a route is a field device, which only answers.',
  find: ({ names }) =>
    names.carrier?.kind === 'field'
      ? [
          {
            message: `${names.carrier.name} is a field device, which only answers.`,
            mend: 'Choose a controller, a gateway, a converter, or Plain Envoy.',
            at: onRoute(names, 'carrierId'),
          },
        ]
      : [],
});
