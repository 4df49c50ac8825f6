import { type SerialSettings, settingsOf } from '../line/index.js';
import type { SerialLine } from '../media/index.js';
import type { ProjectDocument } from '../model/index.js';
import { converterOf, farLineOf } from './converter-of.js';

/** Who hears the texts of a device: a port of the converter before it, or Plain Envoy itself where there is none. */
export interface Listener {
  /** By which what it has heard is found: of the port, or of the device that Plain Envoy listens to. */
  id: string;
  line: SerialLine;
  settings: SerialSettings;
}

/** Null for a device that is on no text line, or whose converter has no serial port there. */
export function listenerOf(document: Pick<ProjectDocument, 'lines' | 'devices' | 'ports'>, deviceId: string): Listener | null {
  const line = farLineOf(document, deviceId);
  if (line?.kind !== 'serial') return null;
  const before = converterOf(document, deviceId);
  if (!before) return { id: deviceId, line, settings: settingsOf(line) };
  const port = document.ports.find((row) => row.deviceId === before.converter.id && row.lineId === line.id);
  return port?.kind === 'serial' ? { id: port.id, line, settings: settingsOf(port) } : null;
}
