import { asPaperPoint, type Change, type Device, type DeviceTemplate, isSame, type ProjectDocument } from '../model/index.js';
import { type Beside, mapsBeside } from '../papers/index.js';

/** Settings of a device that the library knows: all but its name, its note, and where it is from. */
export const librarySettings = [
  ...['kind', 'notation', 'entry', 'areas', 'forbidden', 'readAcrossHoles', 'functionCodes'],
  ...['maxReadWords', 'maxReadBits', 'maxWriteWords', 'maxWriteBits', 'timeoutMs', 'tries', 'delayMs', 'writeTimeoutMs', 'identification'],
] as readonly (keyof Device)[];

/** A setting that a device and the library have otherwise. */
export interface SettingBeside {
  field: keyof Device;
  here: unknown;
  there: unknown;
}

/** What a device has otherwise than a version of the library: its settings, and its map. */
export function libraryBeside(
  { points }: Pick<ProjectDocument, 'points'>,
  device: Device,
  template: DeviceTemplate,
): { settings: SettingBeside[]; map: Beside[] } {
  const theirs = template.device as Partial<Record<keyof Device, unknown>>;
  const settings = librarySettings
    .filter((field) => !isSame(device[field], theirs[field]))
    .map((field) => ({ field, here: device[field], there: theirs[field] }));
  const own = points.filter(({ deviceId }) => deviceId === device.id);
  return {
    settings,
    map: mapsBeside(
      own,
      template.points.map(({ place: _, ...point }) => asPaperPoint(point)),
    ),
  };
}

/** The change that gives a device what the library has of these settings, and says of which version it is now. */
export function settingFrom(device: Device, settings: readonly SettingBeside[], fromLibrary: Device['fromLibrary']): Change {
  const after = { ...device, ...Object.fromEntries(settings.map(({ field, there }) => [field, there])), fromLibrary };
  return { entity: 'device', id: device.id, before: device, after };
}
