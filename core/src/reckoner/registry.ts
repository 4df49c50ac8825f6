import * as z from 'zod';
import { address } from './address.js';
import { bits } from './bits.js';
import { canFrame } from './can-frame.js';
import { canLog } from './can-log.js';
import { canTime } from './can-time.js';
import { checksum } from './checksum.js';
import { decode } from './decode.js';
import { encode } from './encode.js';
import { findOrder } from './find-order.js';
import { findTelegram } from './find-telegram.js';
import { frame } from './frame.js';
import { groundLoop } from './ground-loop.js';
import { iec104Frame } from './iec104-frame.js';
import { ieee1815Frame } from './ieee1815-frame.js';
import { image } from './image.js';
import { lineTime } from './line-time.js';
import { modules } from './modules.js';
import { names } from './names.js';
import { nearest } from './nearest.js';
import { plan } from './plan.js';
import { program } from './program.js';
import { range } from './range.js';
import type { Reckoner } from './reckoner.js';
import { scale } from './scale.js';
import { schedule } from './schedule.js';
import { stream } from './stream.js';
import { subnet } from './subnet.js';
import { telegram } from './telegram.js';
import { textStream } from './text-stream.js';
import { bad, type Outcome, schemaProblem } from '../outcome/index.js';

/** Every calculation, once: the page, the API and the command line all take them from here. */
export const reckoners: readonly Reckoner[] = [
  range,
  bits,
  address,
  decode,
  encode,
  findOrder,
  scale,
  checksum,
  frame,
  stream,
  lineTime,
  plan,
  schedule,
  subnet,
  groundLoop,
  modules,
  program,
  names,
  image,
  telegram,
  textStream,
  findTelegram,
  canFrame,
  canTime,
  canLog,
  iec104Frame,
  ieee1815Frame,
];

/** Runs a reckoner by name. A name that does not exist, or input that does not fit, is a problem in a sentence. */
export function reckon(name: string, input: unknown): Outcome<unknown> {
  const found = reckoners.find((candidate) => candidate.name === name);
  if (!found) {
    const names = reckoners.map((candidate) => candidate.name);
    return bad(`There is no reckoner “${name}”. The nearest is “${nearest(name, names)}”; all: ${names.join(', ')}.`);
  }
  const parsed = found.input.safeParse(input);
  if (!parsed.success) return { ok: false, problem: schemaProblem(parsed.error) };
  return found.reckon(parsed.data);
}

/** Name, sentence, an example, and both schemas as JSON Schema, for people and scripts that ask what there is. */
export function describeReckoners() {
  return reckoners.map(({ name, sentence, example, input, output }) => ({
    name,
    sentence,
    example,
    input: z.toJSONSchema(input, { io: 'input' }),
    output: z.toJSONSchema(output),
  }));
}
