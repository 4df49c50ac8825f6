import * as z from 'zod';
import { FILE_VERSION, FileVersion } from '../common/index.js';
import { bodyOf, type Point, PointBody } from '../model/index.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';

/** A register map free of any project: our own file for one device's points. */
export const RegisterMap = z.strictObject({
  format: z.literal('plain-envoy map'),
  version: FileVersion,
  device: z.string().max(80).optional().describe('The name of the device from which it was saved'),
  points: z.array(PointBody).max(65_536 * 2),
});

export function mapJson(device: string, points: readonly Point[]): unknown {
  return { format: 'plain-envoy map', version: FILE_VERSION, device, points: points.map(bodyOf) };
}

/** Reads such a file; what is wrong with it is a sentence with its path. */
export function readMapJson(json: unknown): Outcome<PointBody[]> {
  const parsed = RegisterMap.safeParse(json);
  if (parsed.success) return good(parsed.data.points);
  const { message, path } = schemaProblem(parsed.error);
  return bad(`${path.join(', ')}: ${message}`, ...path);
}
