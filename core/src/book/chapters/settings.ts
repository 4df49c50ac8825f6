import { formatAddress, notationNames } from '../../address/index.js';
import { mediumOf } from '../../media/index.js';
import type { Device, Point, ProjectDocument } from '../../model/index.js';
import { section, facts, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

const kinds: Readonly<Record<Device['kind'], string>> = {
  controller: 'Controller',
  field: 'Field device',
  gateway: 'Gateway',
  converter: 'Converter',
};

/** Each device as it is to be set: its ports, how it is asked, and the settings that it holds itself. */
export const settings = defineChapter({
  chapter: 'settings',
  make: ({ file: { document }, isIn }) => ({
    blocks: document.devices.length ? [] : [words('There is no device yet.')],
    sections: document.devices.filter(({ id }) => isIn(id)).map((device) => section(device.name, blocksOf(document, device))),
  }),
});

function blocksOf({ ports, lines, points }: ProjectDocument, device: Device) {
  const { vendorName, productCode, revision } = device.identification;
  const lineName = new Map(lines.map(({ id, name }) => [id, name]));
  return [
    facts([
      ['Kind', kinds[device.kind]],
      ['Addresses', notationNames[device.notation]],
      ['Functions', device.functionCodes.join(', ')],
      ['Reads at most', `${device.maxReadWords} registers, ${device.maxReadBits} bits`],
      ['Writes at most', `${device.maxWriteWords} registers, ${device.maxWriteBits} bits`],
      ['Timeout', `${device.timeoutMs} ms, ${device.tries} ${device.tries === 1 ? 'try' : 'tries'}`],
      ['Response delay', `${device.delayMs} ms`],
      ['Trips', device.writeTimeoutMs === null ? '' : `when nothing is written to it for ${device.writeTimeoutMs / 1000} s`],
      ['Says of itself', [vendorName, productCode, revision].filter(Boolean).join(', ')],
      ['Note', device.note],
    ]),
    table(
      'Ports',
      [
        { head: 'Line', of: ({ lineId }) => lineName.get(lineId) ?? '', weight: 1.5 },
        { head: 'Found at', of: (port) => mediumOf(port.kind).describePort(port), weight: 1.5 },
        { head: 'Set to', of: (port) => mediumOf(port.kind).describeSettings(port), weight: 2 },
        { head: 'How it is set', of: ({ setHow }) => setHow, weight: 3 },
      ],
      ports.filter(({ deviceId }) => deviceId === device.id),
    ),
    table<Point>(
      'Settings that it holds',
      [
        { head: 'Setting', of: ({ name }) => name, weight: 2 },
        { head: 'Address', of: (point) => formatAddress(point, device.notation, device.areas) },
        { head: 'Shall be', of: ({ setting, unit }) => `${setting!.wanted ?? 'not decided'} ${setting!.wanted ? unit : ''}`.trim() },
        { head: 'Note', of: ({ note }) => note, weight: 3 },
      ],
      points.filter(({ deviceId, setting }) => deviceId === device.id && setting !== null),
    ),
  ];
}
