import { DeviceTemplate } from '../model/index.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';
import { fromOlder } from './older.js';

/** Reads a library file; what is wrong with it is a sentence. A byte-order mark is skipped. */
export function readTemplate(text: string): Outcome<DeviceTemplate> {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return bad('This file is not JSON, so it is no device that was saved here.');
  }
  if ((json as { format?: unknown } | null)?.format !== 'plain-envoy device') {
    return bad('This file is no saved device: its format is not “plain-envoy device”.');
  }
  const parsed = DeviceTemplate.safeParse(fromOlder(json));
  if (parsed.success) return good(parsed.data);
  const { message, path } = schemaProblem(parsed.error);
  return bad(`${message} (at ${path.join(', ')})`, ...path);
}
