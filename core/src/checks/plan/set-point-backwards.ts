import { defineCheck, fixOf, type Found, onRoute } from '../../findings/index.js';
import type { Lookup, ValidRoute } from '../../plan/index.js';

/** Words by which a value is called that somebody sets and a device obeys. */
const OBEYED = /\b(set[ -]?point|command|wish|demand|release)\b/i;

/** A device is told its set points; what it reports of itself has another name. */
export const setPointBackwards = defineCheck({
  id: 'set-point-backwards',
  severity: 'warning',
  scope: 'plan',
  doubts: true,
  meaning: 'A set point goes from the device that obeys it to the one that sets it.',
  find: ({ routes, look }) => routes.flatMap(({ row }) => backwards(row, look)),
});

function backwards(row: ValidRoute, look: Lookup): Found[] {
  const { source, destination, route } = row;
  const [from, to] = [look.device.get(source.deviceId), look.device.get(destination.deviceId)];
  if (from?.kind !== 'field' || to?.kind !== 'controller' || source.access === 'read') return [];
  if (!OBEYED.test(source.name) || !OBEYED.test(destination.name)) return [];
  const turned = { sourceId: destination.id, destinationId: source.id };
  return [
    {
      message: `${route.name}: ${source.name} of ${from.name} goes to ${destination.name} of ${to.name}. A device is told its ${word(source.name)}; this route would overwrite what ${to.name} wants with what ${from.name} has.`,
      mend: 'Turn the route around, or call what is read back by another name.',
      fix: fixOf('Turn it around', 'route', route, turned),
      at: onRoute(row, 'sourceId'),
    },
  ];
}

function word(name: string): string {
  return OBEYED.exec(name)![1]!.toLowerCase();
}
