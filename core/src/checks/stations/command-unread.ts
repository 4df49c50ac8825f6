import { defineCheck } from '../../findings/index.js';
import { commands } from '../../place/index.js';
import { isEventPoint } from '../../telecontrol-line/index.js';

export const commandUnread = defineCheck({
  id: 'command-unread',
  severity: 'warning',
  scope: 'stations',
  meaning: 'A command arrives, is confirmed, and nothing takes it on.',
  find: ({ station: { control, points }, document }) => {
    const taken = new Set([
      ...document.routes.map(({ sourceId }) => sourceId),
      ...document.errands.flatMap(({ steps }) => steps.flatMap((step) => ('pointId' in step ? [step.pointId] : []))),
    ]);
    return points.filter(isEventPoint).flatMap(({ id, name, place, deviceId }) => {
      if (!commands(place.sort) || place.part !== 'value' || deviceId !== control?.deviceId || taken.has(id)) return [];
      return {
        message: `${control.name} gives ${name}, it is confirmed as done, and no route reads it: nothing happens.`,
        mend: 'Carry it to whom it is for, or take it out so that the command is refused.',
        at: { entity: 'point' as const, id },
      };
    });
  },
});
