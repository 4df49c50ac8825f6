import { defineCheck, onRoute } from '../../findings/index.js';
import { converterOf } from '../../converter/index.js';
import { deviceName } from '../../plan/index.js';
import type { ProjectDocument } from '../../model/index.js';

/** Words by which a value that sets something going is called. */
const COMMANDS = /\b(command|release|run|start|burn|open|enable)\b/i;

export const holdsOnLoss = defineCheck({
  id: 'holds-on-loss',
  severity: 'warning',
  scope: 'plan',
  meaning: 'What sets a field device going keeps its last value when who commands it is lost.',
  find: ({ routes, look }) => {
    const watching = new Set(look.document.points.filter(({ watchdogMs }) => watchdogMs !== null).map(({ deviceId }) => deviceId));
    return routes.flatMap(({ row }) => {
      const { route, source, destination } = row;
      const [from, to] = [look.device.get(source.deviceId), look.device.get(destination.deviceId)];
      if (to?.kind !== 'field' || from?.kind !== 'controller' || route.loss.rule !== 'hold') return [];
      // A device that trips when nothing is written to it comes to rest by itself, and so does one that watches a heartbeat.
      if (to.writeTimeoutMs !== null || watching.has(to.id)) return [];
      if (!COMMANDS.test(destination.name) || isZeroedWithout(look.document, to.id, from.id)) return [];
      return {
        message: `${route.name}: when ${deviceName(source, look)} is lost, nothing more is written to ${destination.name}, and nothing known of ${to.name} lets it stop by itself: it goes on as it was told last.`,
        mend: 'Give the route a value for its loss that lets the device come to rest, or say after how long the device trips when nothing is written to it.',
        at: onRoute(row, 'loss'),
      };
    });
  },
});

/** Whether the outputs of a station go to zero by themselves when who opens its cyclic link is lost. */
function isZeroedWithout(document: ProjectDocument, stationId: string, openerId: string): boolean {
  const before = converterOf(document, stationId);
  return before?.converter.id === openerId && before.line.kind === 'cyclic' && before.line.whenLost === 'zero';
}
