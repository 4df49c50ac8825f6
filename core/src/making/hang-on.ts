import { type Change, joiningPort, type ProjectDocument } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';

export interface HangOn {
  deviceId: string;
  lineId: string;
  /** As the one that asks there; on a serial line only. */
  asks: boolean;
  newId(): string;
}

/** The change that hangs a device on a line: with a port at its end that is set as the line is, and has the next free place on it. */
export function hangOn(document: ProjectDocument, { deviceId, lineId, asks, newId }: HangOn): Outcome<Change> {
  const line = document.lines.find(({ id }) => id === lineId);
  if (!line) return bad('Choose the line on which it hangs.', 'lineId');
  const port = joiningPort(document, line, { id: newId(), deviceId }, asks && line.kind === 'serial');
  return port.ok ? good({ entity: 'port', id: port.value.id, before: null, after: port.value }) : port;
}
