import { bad, good, type Outcome } from '../outcome/index.js';
import { readSerial } from './pair.js';
import { readPackets } from './read-packets.js';
import type { TraceRecord } from './record.js';
import { readSerialText } from './serial-text.js';

/**
 * A recording in one of the forms that there are: that of a packet analyser, the bytes of a serial line, or the same as text with or
 * without times. A problem says what was looked for in vain.
 */
export function readRecording(bytes: Uint8Array): Outcome<TraceRecord[]> {
  const capture = readPackets(bytes);
  if (capture.ok) return capture;
  const isText = bytes.every((byte) => byte === 9 || byte === 10 || byte === 13 || (byte >= 32 && byte < 127));
  const text = isText ? readSerialText(new TextDecoder().decode(bytes)) : null;
  const records = text ? readSerial(text.bytes, text.timeAt) : readSerial(bytes);
  return records.length ? good(records) : bad(`${capture.problem.message} No frame of a serial line is in it either.`);
}
