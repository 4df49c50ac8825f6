import { defineCheck, listed } from '../../findings/index.js';
import { addressKey, isEventPoint } from '../../telecontrol-line/index.js';

export const indexTwice = defineCheck({
  id: 'index-twice',
  severity: 'stop',
  scope: 'stations',
  doubts: true,
  meaning: 'Two points of a telecontrol station have the same index or object address.',
  find: ({ station: { line, points } }) => {
    const byKey = new Map<string, string[]>();
    const own = points.filter(isEventPoint).filter(({ place }) => place.part === 'value');
    for (const { name, place } of own) {
      const key = addressKey(line.standard, place);
      byKey.set(key, [...(byKey.get(key) ?? []), name]);
    }
    return [...byKey].flatMap(([key, names]) => {
      const [, second] = names;
      if (!second) return [];
      const point = own.find(({ name, place }) => name === second && addressKey(line.standard, place) === key)!;
      return {
        message: `${listed(names)} have the same ${line.standard === 'ieee1815' ? `index, ${key}` : `object address ${key}`}: the other end takes them for one.`,
        mend: 'Give each an index of its own, as the list of the control station has them.',
        at: { entity: 'point' as const, id: point.id, field: 'place' },
      };
    });
  },
});
