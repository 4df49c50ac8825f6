import { defineCheck, fixOf } from '../../findings/index.js';

/** A setting is set once and stays; a route writes again and again. */
export const settingCarried = defineCheck({
  id: 'setting-carried',
  severity: 'warning',
  scope: 'plan',
  meaning: 'A route writes to a point that is a setting of its device, so the setting does not stay.',
  find: ({ routes, look }) =>
    routes.flatMap(({ row: { route, destination } }) => {
      if (destination.setting === null) return [];
      const { name } = look.device.get(destination.deviceId)!;
      return {
        message: `${name}: ${destination.name} is a setting, and ${route.name} writes it. What is set by hand is written over.`,
        mend: 'Let it be no setting, or take the route away.',
        fix: fixOf(`${destination.name} is no setting`, 'point', destination, { setting: null }),
        at: { entity: 'point' as const, id: destination.id, field: 'setting' },
        about: [route.id],
      };
    }),
});
