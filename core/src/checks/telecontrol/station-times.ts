import { defineCheck, onLine } from '../../findings/index.js';
import { timesProblems } from '../../telecontrol/index.js';

export const stationTimes = defineCheck({
  id: 'station-times',
  severity: 'warning',
  scope: 'telecontrol',
  meaning: 'Times of a telecontrol line contradict each other, so that it is cut, or stands still, although nothing is wrong.',
  find: (bus) => {
    const { line } = bus;
    const wrong =
      line.standard === 'ieee1815'
        ? [
            ...(line.selectedMs <= line.answersMs
              ? [
                  `A selection holds for ${line.selectedMs} ms, and an answer may take ${line.answersMs} ms: it can be over when the command comes.`,
                ]
              : []),
            ...(line.eventsEveryMs !== null && line.eventsEveryMs < line.confirmMs / 10
              ? [`Events are asked for every ${line.eventsEveryMs} ms, and a confirmation may take ${line.confirmMs} ms: answers pile up.`]
              : []),
          ]
        : timesProblems(line);
    return wrong.map((message) => ({
      message: `${line.name}: ${message}`,
      mend: 'Set the times as both papers have them; what the standard proposes fits together.',
      at: onLine(bus, line.standard === 'ieee1815' ? 'answersMs' : 't1Ms'),
    }));
  },
});
