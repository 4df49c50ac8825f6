import { partsOfRecords } from '../can-line/index.js';
import { blankPoint, type DeviceFrame, type Point, type ProjectDocument } from '../model/index.js';
import { placeFar } from '../placing/index.js';

/**
 * A project with one line of CAN, whose converter has room for more and passes frames of a device whole too: all that it sends through two
 * records, and what the controller makes out of one.
 */
export function withWholeFrames(document: ProjectDocument): ProjectDocument {
  const { deviceId, projectId } = document.frames[0]!;
  const line = document.ports.find((port) => port.deviceId === deviceId)!.lineId;
  const here = new Set(document.ports.filter((port) => port.lineId === line).map((port) => port.deviceId));
  const [sent, taken] = (['sent', 'taken'] as const).map((direction, index): DeviceFrame => ({
    ...{ id: `019aa000-0000-7000-8000-00000000ff0${index}`, projectId, deviceId, note: '', direction, identifierBits: 29, bytes: 8 },
    ...{ name: direction === 'sent' ? 'All of it' : 'Made', identifier: 0x18a0_0000, fill: '', when: { on: 'change', atLeastMs: null } },
    ...{ lostAfterMs: 500, whole: { mask: 0x1fff_0000, records: direction === 'sent' ? 2 : 1 } },
  })) as [DeviceFrame, DeviceFrame];
  let count = 0;
  const point = (fields: Pick<Point, 'name' | 'type' | 'place'>): Point => ({
    ...blankPoint({ id: `019aa000-0000-7000-8000-0000000ff${String(++count).padStart(3, '0')}`, projectId, deviceId }),
    ...fields,
  });
  const points = [...partsOfRecords(sent), ...partsOfRecords(taken)].map(point);
  points.push(
    point({ name: 'Made count sent', type: 'uint16', place: { kind: 'frameState', frameId: taken.id, state: 'done', pinned: false } }),
  );
  const wide = {
    ...document,
    frames: [...document.frames, sent, taken],
    devices: document.devices.map((device) =>
      device.image && here.has(device.id)
        ? {
            ...device,
            image: {
              ...device.image,
              bytes: 128,
              windows: device.image.windows.map((window) => ({ ...window, byte: 4 * window.byte, bytes: 4 * window.bytes })),
            },
          }
        : device,
    ),
  };
  const placed = placeFar({ ...wide, points: [...wide.points, ...points] }, deviceId, points);
  if (!placed.ok) throw new Error(placed.problem.message);
  return { ...wide, points: [...wide.points, ...placed.value] };
}
