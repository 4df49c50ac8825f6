import * as z from 'zod';
import { buildFrame, CanSignal, Identifier, IdentifierBits, identifierProblem, MOST_BYTES, readFrame } from '../can/index.js';
import { fromHex, toHex } from '../frame/index.js';
import { bad, good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

export const canFrame = reckoner({
  name: 'can-frame',
  sentence: 'What the signals of a CAN frame say; or the frame that says these values.',
  example: {
    identifierBits: 29 as const,
    identifier: '0x18FF1003',
    signals: [
      { name: 'position', firstBit: 0, bits: 16, order: 'little' as const, factor: 0.1 },
      { name: 'running', firstBit: 23, bits: 1, order: 'big' as const },
    ],
    data: '7D 01 80',
  },
  input: z.strictObject({
    identifierBits: IdentifierBits,
    identifier: Identifier,
    signals: z.array(CanSignal).max(64, 'At most 64 signals.').meta({ lines: 4 }),
    data: z.string().max(200).optional().describe('What was received, in hex'),
    values: z.record(z.string(), z.unknown()).optional().describe('What is to be sent, by the names of the signals'),
  }),
  output: z.object({
    values: z.record(z.string(), z.union([z.number(), z.string()]).nullable()),
    data: z.string(),
    problems: z.array(z.string()),
  }),
  reckon({ identifierBits, identifier, signals, data, values }) {
    const wrong = identifierProblem({ identifierBits, identifier });
    if (wrong) return bad(wrong, 'identifier');
    if ((data === undefined) === (values === undefined)) return bad('Give one of data and values.');
    if (values) {
      const built = buildFrame(values, signals);
      // What it says when it is read again: what lay between two steps is told as it goes out.
      return good({ values: readFrame(built.data, signals).values, data: toHex(built.data), problems: built.problems });
    }
    const bytes = data!.trim() === '' ? good(new Uint8Array()) : fromHex(data!);
    if (!bytes.ok) return bad(bytes.problem.message, 'data');
    if (bytes.value.length > MOST_BYTES) return bad(`A frame has ${MOST_BYTES} bytes at most; these are ${bytes.value.length}.`, 'data');
    return good({ ...readFrame(bytes.value, signals), data: toHex(bytes.value) });
  },
});
