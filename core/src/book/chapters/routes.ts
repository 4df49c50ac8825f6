import { placeText } from '../../mapping/index.js';
import type { Point, ProjectDocument, Route } from '../../model/index.js';
import { describeChain } from '../../steps/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

/** Every route with both ends, what is done on the way, and what its destination gets when the source is lost; by who carries them. */
export const routes = defineChapter({
  chapter: 'routes',
  make: ({ file: { document }, isIn }) => {
    const own = document.routes.filter(({ id }) => isIn(id));
    const carriers = [...new Set(own.map(({ carrierId }) => carrierId))];
    const names = new Map(document.devices.map(({ id, name }) => [id, name]));
    return {
      blocks: carriers.length ? [] : [words('Nothing is carried yet.')],
      sections: carriers.map((carrier) =>
        section(`Carried by ${carrier === null ? 'Plain Envoy' : (names.get(carrier) ?? 'a device that is gone')}`, [
          tableOf(
            document,
            own.filter(({ carrierId }) => carrierId === carrier),
          ),
        ]),
      ),
    };
  },
});

function tableOf(document: ProjectDocument, rows: readonly Route[]) {
  const points = new Map(document.points.map((point) => [point.id, point]));
  const devices = new Map(document.devices.map((device) => [device.id, device]));
  const rounds = new Map(document.rounds.map(({ id, name }) => [id, name]));
  const end = (id: string): string => {
    const point = points.get(id);
    const device = devices.get(point?.deviceId ?? '');
    return point && device ? `${device.name} ${point.name} (${placeText(document, point, device)})` : 'gone';
  };
  return table<Route>(
    '',
    [
      { head: 'Route', of: ({ name }) => name, weight: 1.4 },
      { head: 'From', of: ({ sourceId }) => end(sourceId), weight: 2 },
      {
        head: 'On the way',
        of: ({ carry, transforms }) => describeChain(transforms) || (carry === 'value' ? 'as a value' : ''),
        weight: 1.2,
      },
      { head: 'To', of: ({ destinationId }) => end(destinationId), weight: 2 },
      { head: 'When', of: (route) => whenOf(route, rounds.get(route.roundId) ?? '', points), weight: 1.2 },
      { head: 'When the source is lost', of: (route) => lossOf(route, points), weight: 1.5 },
    ],
    rows,
  );
}

function whenOf({ trigger, whileId, onlyDifferent }: Route, round: string, points: ReadonlyMap<string, Point>): string {
  const name = (id: string) => points.get(id)?.name ?? 'a point that is gone';
  const on = { round: '', change: ', on a change', start: ', once at the start', edge: '' }[trigger.on];
  return [
    `${round}${on}${trigger.on === 'edge' ? `, when ${name(trigger.pointId)} goes on` : ''}`,
    whileId ? `while ${name(whileId)} is on` : '',
    onlyDifferent ? 'only when it differs' : '',
  ]
    .filter(Boolean)
    .join('; ');
}

function lossOf({ loss: { rule, value, validId, afterMs, stillMs } }: Route, points: ReadonlyMap<string, Point>): string {
  const after = `after ${afterMs / 1000} s${stillMs === null ? '' : `, or still for ${stillMs / 1000} s`}`;
  const marked = validId ? `${points.get(validId)?.name ?? 'a point that is gone'} goes off` : '';
  if (rule === 'value') return `becomes ${value} ${after}${marked ? `; ${marked}` : ''}`;
  return marked ? `stands still; ${marked} ${after}` : 'stands still, unmarked';
}
