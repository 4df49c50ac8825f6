import { forecast, isLate, isSlow, type RequestForecast } from '../../forecast/index.js';
import type { Round } from '../../model/index.js';
import { describeRequest } from '../../plan/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

/** So long is looked ahead. */
const HORIZON_MS = 60_000;

const ms = (value: number | null | undefined): number | null =>
  value === null || value === undefined ? null : Math.round(value * 10) / 10;
const percent = (part: number): string => `${Math.round(part * 1000) / 10}\u00a0%`;

/** The rounds, and what a minute of them will really do: load, periods reached, ages. */
export const rounds = defineChapter({
  chapter: 'rounds',
  make: ({ file: { document }, plan, isIn }) => {
    const ahead = forecast(document, plan, { horizonMs: HORIZON_MS, dead: [], backsOff: true });
    const devices = new Map(document.devices.map(({ id, name }) => [id, name]));
    const requests = new Map(plan.requests.map((request) => [request.id, request]));
    const routes = new Map(plan.routes.map((route) => [route.id, route]));
    const found = {
      lanes: ahead.lanes.filter(({ id }) => isIn(id)),
      requests: ahead.requests.filter(({ id }) => isIn(requests.get(id)?.deviceId ?? '')),
      routes: ahead.routes.filter(({ id }) => isIn(id)),
    };
    const counts = new Map<string, number>();
    for (const { roundId } of document.routes) counts.set(roundId, (counts.get(roundId) ?? 0) + 1);
    const late = found.routes.filter(isLate).length;
    const slow = found.requests.filter(isSlow).length;
    return {
      blocks: [
        words('Forecast for a minute in which everything answers, with the times that lines and devices state.'),
        slow + late
          ? words(`${slow} requests do not keep their period, ${late} values are older than they may be.`, 'problem')
          : words('Every request keeps its period, and no value is older than it may be.'),
        table<Round>(
          'Rounds',
          [
            { head: 'Round', of: ({ name }) => name, weight: 2 },
            { head: 'Period, ms', of: ({ periodMs }) => periodMs, isNumber: true },
            { head: 'First after, ms', of: ({ phaseMs }) => phaseMs || null, isNumber: true },
            { head: 'Chain, pause ms', of: ({ pauseMs }) => pauseMs, isNumber: true },
            { head: 'Priority', of: ({ priority }) => priority, isNumber: true },
            { head: 'Routes', of: ({ id }) => counts.get(id) ?? 0, isNumber: true },
          ],
          document.rounds.filter(({ id }) => isIn(id)),
        ),
      ],
      sections: [
        section('Load', [
          table(
            '',
            [
              { head: 'Where requests queue', of: ({ name }) => name, weight: 3 },
              { head: 'At a time', of: ({ concurrent }) => concurrent, isNumber: true },
              { head: 'Asked for', of: ({ load }) => percent(load), isNumber: true },
              { head: 'Taken', of: ({ utilisation }) => percent(utilisation), isNumber: true },
              {
                head: 'By',
                of: ({ carriers }) =>
                  carriers
                    .map(({ carrierId, load }) => `${carrierId ? (devices.get(carrierId) ?? '') : 'Plain Envoy'} ${percent(load)}`)
                    .join(', '),
                weight: 3,
              },
            ],
            found.lanes,
          ),
        ]),
        section('Periods', [
          table<RequestForecast>(
            '',
            [
              { head: 'Request', of: ({ id }) => (requests.has(id) ? describeRequest(requests.get(id)!, plan.endpoints) : ''), weight: 5 },
              { head: 'Wished, ms', of: ({ wishedMs }) => ms(wishedMs), isNumber: true },
              { head: 'Mean, ms', of: ({ meanPeriodMs }) => ms(meanPeriodMs), isNumber: true },
              { head: 'Longest, ms', of: ({ worstPeriodMs }) => ms(worstPeriodMs), isNumber: true },
              { head: 'Takes, ms', of: ({ answeredMs }) => ms(answeredMs), isNumber: true },
            ],
            found.requests,
          ),
        ]),
        section('Ages', [
          table(
            '',
            [
              { head: 'Value', of: ({ id }) => routes.get(id)?.name ?? '', weight: 3 },
              { head: 'Mean, ms', of: ({ age }) => ms(age?.meanMs), isNumber: true },
              { head: 'Oldest, ms', of: ({ age }) => ms(age?.worstMs), isNumber: true },
              { head: 'May be, ms', of: ({ limitMs }) => limitMs, isNumber: true },
              { head: '', of: (route) => (route.age === null ? 'nothing arrives' : isLate(route) ? 'too old' : ''), weight: 1.2 },
            ],
            found.routes,
          ),
        ]),
      ],
    };
  },
});
