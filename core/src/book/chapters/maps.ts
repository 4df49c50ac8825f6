import { tableNames } from '../../address/index.js';
import { type Device, type Point, pointWidth } from '../../model/index.js';
import { placeText } from '../../mapping/index.js';
import { formulaOf, shortOrder } from '../../value/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

const access: Readonly<Record<Point['access'], string>> = { read: 'read', write: 'write', readWrite: 'read, write' };

/** Every point of every device, in register order. */
export const maps = defineChapter({
  chapter: 'maps',
  make: ({ file: { document }, isIn }) => {
    const byDevice = new Map<string, Point[]>();
    for (const point of document.points) byDevice.set(point.deviceId, [...(byDevice.get(point.deviceId) ?? []), point]);
    const mapped = document.devices.filter(({ id }) => byDevice.has(id) && isIn(id));
    return {
      blocks: mapped.length ? [] : [words('No device has points yet.')],
      sections: mapped.map((device) => section(device.name, [mapOf(device, byDevice.get(device.id)!, document)])),
    };
  },
});

function mapOf(device: Device, points: readonly Point[], document: Parameters<typeof placeText>[0]) {
  const isOwn = ({ place }: Point) => place.kind === 'register';
  return table<Point>(
    '',
    [
      {
        head: 'Address',
        of: (point) => placeText(document, point, device),
        weight: 1.2,
      },
      { head: 'Point', of: ({ name }) => name, weight: 2.2 },
      { head: 'In', of: (point) => (isOwn(point) ? tableNames[point.table].one : ''), weight: 1.3 },
      {
        head: 'Type',
        of: (point) => (pointWidth(point) > 1 && isOwn(point) ? `${point.type} ${shortOrder(point.order)}` : point.type),
        weight: 1.2,
      },
      { head: 'Value', of: ({ scale, unit }) => [scale ? formulaOf(scale) : '', unit].filter(Boolean).join(' '), weight: 1.4 },
      { head: 'Access', of: (point) => access[point.access] },
      { head: 'Bits, codes and notes', of: namedOf, weight: 3 },
    ],
    [...points].sort((a, b) => a.table.localeCompare(b.table) || a.offset - b.offset || (a.bit ?? 0) - (b.bit ?? 0)),
  );
}

function namedOf({ bits, codes, note }: Point): string {
  const named = [...bits.map(({ bit, name }) => `bit ${bit} ${name}`), ...codes.map(({ value, name }) => `${value} ${name}`)].join(', ');
  return [named, note].filter(Boolean).join('. ');
}
